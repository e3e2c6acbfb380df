import { chmodSync, mkdtempSync } from 'node:fs'
import { join } from 'node:path'
import { tmpdir } from 'node:os'
import type { TestProject } from 'vitest/node'
import { removeCluster, startCluster } from '../../../../scripts/cluster.js'
import { startServer } from '../../../../scripts/server.js'
import { catalogueOf, newDatabaseOn } from '../../../../scripts/workbench.js'

declare module 'vitest' {
  interface ProvidedContext {
    /** The tests’ PostgreSQL as its superuser, to make databases. */
    adminUrl: string
    /** The same as the role that servers use. */
    clusterUrl: string
  }
}

/** The database that those of the tests begin as: the schema and the dataset of systems. */
export const TEMPLATE = 'fresh'

/** One PostgreSQL for all server tests, removed at the end also when a test failed. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = join(mkdtempSync(join(tmpdir(), 'insel-test-')), 'cluster')
  chmodSync(join(folder, '..'), 0o755)
  const cluster = await startCluster(folder, { isForTests: true })
  const clear = async () => {
    await cluster.stop()
    removeCluster(folder)
  }
  try {
    const template = await newDatabaseOn(cluster, TEMPLATE)
    const server = await startServer({ databaseUrl: template, port: 0, host: '127.0.0.1', logName: 'tests' })
    await catalogueOf(server.url)
    await server.stop()
  } catch (error) {
    // A server that does not start leaves no PostgreSQL behind.
    await clear()
    throw error
  }
  project.provide('adminUrl', cluster.adminUrl)
  project.provide('clusterUrl', cluster.url)
  return clear
}
