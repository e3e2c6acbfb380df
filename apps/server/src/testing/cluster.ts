import { chmodSync, mkdtempSync } from 'node:fs'
import { join } from 'node:path'
import { tmpdir } from 'node:os'
import type { TestProject } from 'vitest/node'
import { removeCluster, startCluster } from '../../../../scripts/cluster.js'

declare module 'vitest' {
  interface ProvidedContext {
    /** The tests’ PostgreSQL as its superuser, to make databases. */
    adminUrl: string
    /** The same as the role that servers use. */
    clusterUrl: string
  }
}

/** One PostgreSQL for all server tests, removed at the end also when a test failed. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = join(mkdtempSync(join(tmpdir(), 'insel-test-')), 'cluster')
  chmodSync(join(folder, '..'), 0o755)
  const cluster = await startCluster(folder, { isForTests: true })
  project.provide('adminUrl', cluster.adminUrl)
  project.provide('clusterUrl', cluster.url)
  return async () => {
    await cluster.stop()
    removeCluster(folder)
  }
}
