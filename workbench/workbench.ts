import { chmodSync, mkdirSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { removeCluster, SERVER_ROLE, startCluster } from './cluster.js'
import { startServer } from './server.js'
import { startRedfishStandIn } from './stand-ins/redfish.js'
import { startTransferStandIn } from './stand-ins/transfer.js'

/** A server on its own database, for tests, pictures and measurements. */
export interface Workbench {
  readonly url: string
  readonly databaseUrl: string
  /** Where a stand-in for a management controller answers. */
  readonly controllerUrl: string
  /** Where a stand-in for a transfer answers. */
  readonly transferUrl: string
  stop(): Promise<void>
}

/** A PostgreSQL for tests, pictures and measurements, with databases to be had of it. */
export interface TestCluster {
  /** The addresses of its first database, as the server's role and as the superuser. */
  readonly url: string
  readonly adminUrl: string
  stop(): Promise<void>
}

/** Starts one; `stop` leaves nothing behind. */
async function openTestCluster(name: string, isDurable = false): Promise<TestCluster> {
  const above = mkdtempSync(join(tmpdir(), `insel-${name}-`))
  chmodSync(above, 0o755)
  const folder = join(above, 'cluster')
  mkdirSync(folder)
  const { url, adminUrl, stop } = await startCluster(folder, { isForTests: !isDurable })
  return {
    url,
    adminUrl,
    async stop() {
      await stop()
      removeCluster(folder)
    },
  }
}

/**
 * Starts one with a database that others begin as copies of: it has the schema and the dataset of systems, and nobody uses it.
 *
 * @param template what that database is called
 * @param fill puts more into it, by a server that runs on it meanwhile
 */
export async function openTemplateCluster(
  name: string,
  template: string,
  fill?: (server: string) => Promise<unknown>,
): Promise<TestCluster> {
  const cluster = await openTestCluster(name)
  try {
    const server = await startServer({
      databaseUrl: await newDatabaseOn(cluster, template),
      port: 0,
      host: '127.0.0.1',
      logName: name,
      takesStory: true,
    })
    await fill?.(server.url)
    await catalogueOf(server.url)
    await server.stop()
  } catch (error) {
    // A server that does not start leaves no PostgreSQL behind.
    await cluster.stop()
    throw error
  }
  return cluster
}

/**
 * A new database on a cluster.
 *
 * @param from a database it begins as a copy of, which nobody uses meanwhile
 * @returns its address for the server's role
 */
export async function newDatabaseOn(
  { url, adminUrl }: Pick<TestCluster, 'url' | 'adminUrl'>,
  name: string,
  from = 'template1',
): Promise<string> {
  const client = new pg.Client({ connectionString: adminUrl })
  await client.connect()
  try {
    await client.query(`create database ${name} template ${from} owner ${SERVER_ROLE}`)
  } finally {
    await client.end()
  }
  return databaseAt(url, name)
}

/** Waits until a server has read the dataset of systems into its database, so that servers on copies of it need not. */
async function catalogueOf(server: string): Promise<void> {
  const response = await fetch(`${server}/api/v1/catalogue/systems?limit=1`)
  await response.arrayBuffer()
}

/** The address of another database of a cluster. */
export const databaseAt = (url: string, name: string): string => url.replace(/\/[^/]*$/, `/${name}`)

/**
 * Starts one on a free port; `stop` leaves nothing behind.
 *
 * @param given the database it works on; on its own cluster when left out
 */
export async function openWorkbench(name: string, given?: string, isDurable = false): Promise<Workbench> {
  const cluster = given === undefined ? await openTestCluster(name, isDurable) : undefined
  const databaseUrl = given ?? cluster?.url ?? ''
  const controller = await startRedfishStandIn()
  const transfers = await startTransferStandIn()
  const clear = async () => {
    await controller.stop()
    await transfers.stop()
    await cluster?.stop()
  }
  try {
    const server = await startServer({ databaseUrl, port: 0, host: '127.0.0.1', logName: name, takesStory: true })
    return {
      url: server.url,
      databaseUrl,
      controllerUrl: controller.url,
      transferUrl: transfers.url,
      async stop() {
        await server.stop()
        await clear()
      },
    }
  } catch (error) {
    await clear()
    throw error
  }
}
