import type { EstateSummary } from '@insel/contract'
import { build } from '../build.js'
import { openDatabase, type Database } from '../database.js'
import { loadDemo, loadObservations } from '../demo/load.js'
import { takeLock } from '../lock.js'
import { macRegistry, offerPackages, systemsDataset } from '../packages.js'
import { startServer, type RunningServer } from '../server.js'
import { STAND_IN_PASSWORD, STAND_IN_USER, startRedfishStandIn, type StandIn } from '../stand-ins/redfish.js'

/** What `./insel start` is told. */
export interface StartOptions {
  readonly port: number
  readonly host: string
  readonly isEmpty: boolean
}

/** Starts Insel and serves until it is told to stop. @returns the exit code */
export async function start({ port, host, isEmpty }: StartOptions): Promise<number> {
  const lock = takeLock()
  let database: Database | undefined
  let server: RunningServer | undefined
  let controller: StandIn | undefined
  const stopped = new Promise<'asked'>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => resolve('asked'))
  })
  try {
    database = await openDatabase()
    offerPackages([systemsDataset, macRegistry])
    build()
    server = await startServer({ databaseUrl: database.url, port, host, logName: 'server' })
    const estates = (await (await fetch(`${server.url}/api/v1/estates`)).json()) as EstateSummary[]
    if (estates.length === 0 && !isEmpty) {
      process.stdout.write('insel: loading the demo estate ...\n')
      await loadObservations(server.url, await loadDemo(server.url))
    }
    controller = await standIn(port + 1)
    lock.tell({ url: server.url, databaseUrl: database.url })
    process.stdout.write(
      `\n  Insel is at ${server.url}\n  A stand-in for a management controller is at ${controller.url} (user ${STAND_IN_USER}, password ${STAND_IN_PASSWORD}).\n  Ctrl-C stops it.\n\n`,
    )
    const ending = await Promise.race([stopped, server.gone])
    if (ending === 'asked') {
      process.stdout.write('\ninsel: finishing what is in flight ...\n')
      return 0
    }
    process.stderr.write('insel: the server ended on its own; its log is .insel/log/server.log\n')
    return 1
  } finally {
    await controller?.stop()
    await server?.stop()
    await database?.stop()
    lock.release()
  }
}

/** The stand-in on the port beside Insel's own, or on a free one. */
async function standIn(port: number): Promise<StandIn> {
  try {
    return await startRedfishStandIn(port)
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error
    return startRedfishStandIn()
  }
}
