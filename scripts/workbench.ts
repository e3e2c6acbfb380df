import { chmodSync, mkdirSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { removeCluster, startCluster } from './cluster.js'
import { startServer } from './server.js'
import { startRedfishStandIn } from './stand-ins/redfish.js'

/** A server on a database of its own, for tests, pictures and measurements. */
export interface Workbench {
  readonly url: string
  readonly databaseUrl: string
  /** Where a stand-in for a management controller answers. */
  readonly controllerUrl: string
  stop(): Promise<void>
}

/** Starts one on a free port; `stop` leaves nothing behind. */
export async function openWorkbench(name: string): Promise<Workbench> {
  const above = mkdtempSync(join(tmpdir(), `insel-${name}-`))
  chmodSync(above, 0o755)
  const folder = join(above, 'cluster')
  mkdirSync(folder)
  const cluster = await startCluster(folder, { isForTests: true })
  const controller = await startRedfishStandIn()
  const clear = async () => {
    await controller.stop()
    await cluster.stop()
    removeCluster(folder)
  }
  try {
    const server = await startServer({ databaseUrl: cluster.url, port: 0, host: '127.0.0.1', logName: name })
    return {
      url: server.url,
      databaseUrl: cluster.url,
      controllerUrl: controller.url,
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
