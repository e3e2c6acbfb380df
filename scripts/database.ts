import { clusterFolder } from '../workbench/places.js'
import { startCluster } from '../workbench/cluster.js'
import { ensurePackages, postgresql } from './packages.js'

/** The database to use, and how to let go of it. */
export interface Database {
  readonly url: string
  /** As somebody who may make and rename databases: of a given PostgreSQL, the role that was given. */
  readonly adminUrl: string
  /** Resolves when a PostgreSQL of Insel's own is gone; a given one is looked after by others. */
  readonly gone: Promise<void>
  /** Starts a PostgreSQL of Insel's own again at the same address. */
  restart(): Promise<Database>
  stop(): Promise<void>
}

/** The user's own PostgreSQL when DATABASE_URL is set; otherwise the private one of this checkout, started here. */
export async function openDatabase(): Promise<Database> {
  const given = process.env['DATABASE_URL']
  if (given) {
    const database: Database = {
      url: given,
      adminUrl: given,
      gone: new Promise(() => undefined),
      restart: () => Promise.resolve(database),
      stop: () => Promise.resolve(),
    }
    return database
  }
  ensurePackages([postgresql])
  return privateDatabase(undefined)
}

async function privateDatabase(port: number | undefined): Promise<Database> {
  const cluster = await startCluster(clusterFolder('cluster'), { isForTests: false, ...(port === undefined ? {} : { port }) })
  return { ...cluster, restart: () => privateDatabase(cluster.port) }
}
