import { clusterFolder } from './places.js'
import { startCluster } from './cluster.js'
import { ensurePackages, postgresql } from './packages.js'

/** The database to use, and how to let go of it. */
export interface Database {
  readonly url: string
  stop(): Promise<void>
}

/** The user's own PostgreSQL when DATABASE_URL is set; otherwise the private one of this checkout, started here. */
export async function openDatabase(): Promise<Database> {
  const given = process.env['DATABASE_URL']
  if (given) return { url: given, stop: () => Promise.resolve() }
  ensurePackages([postgresql])
  return startCluster(clusterFolder('cluster'), { isForTests: false })
}
