import { loadDemo } from '../workbench/demo/load.js'
import { openTemplateCluster, type TestCluster } from '../workbench/workbench.js'

/** The database that every worker's begins as: the schema, and the demo with its history. */
export const TEMPLATE = 'journeys'

/** What the workers know of the cluster, from the environment. */
export const clusterOfRun = (): Pick<TestCluster, 'url' | 'adminUrl'> => ({
  url: process.env['INSEL_E2E_CLUSTER'] ?? '',
  adminUrl: process.env['INSEL_E2E_ADMIN'] ?? '',
})

/** One PostgreSQL for all journeys, with the demo loaded once. */
export default async function setup(): Promise<() => Promise<void>> {
  const cluster = await openTemplateCluster('e2e', TEMPLATE, loadDemo)
  process.env['INSEL_E2E_CLUSTER'] = cluster.url
  process.env['INSEL_E2E_ADMIN'] = cluster.adminUrl
  return () => cluster.stop()
}
