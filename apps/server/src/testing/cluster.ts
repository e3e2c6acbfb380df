import type { TestProject } from 'vitest/node'
import { openTemplateCluster } from '../../../../workbench/workbench.js'

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
  const cluster = await openTemplateCluster('test', TEMPLATE)
  project.provide('adminUrl', cluster.adminUrl)
  project.provide('clusterUrl', cluster.url)
  return () => cluster.stop()
}
