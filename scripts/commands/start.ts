import { build } from '../build.js'
import { openDatabase, type Database } from '../database.js'
import { ensureDemo } from '../../workbench/demo/keep.js'
import { counted } from '@insel/core'
import { setTimeout as after } from 'node:timers/promises'
import { takeLock } from '../lock.js'
import { imageMaker, macRegistry, offerPackages, systemsDataset } from '../packages.js'
import { Restarts } from '../restarts.js'
import { startServer, type RunningServer } from '../../workbench/server.js'
import { STAND_IN_PASSWORD, STAND_IN_USER, startRedfishStandIn } from '../../workbench/stand-ins/redfish.js'
import { startTransferStandIn } from '../../workbench/stand-ins/transfer.js'

/** The options of `./insel start`. */
export interface StartOptions {
  readonly port: number
  readonly host: string
  readonly isEmpty: boolean
  readonly publicUrls: readonly string[]
  readonly isOpenToNetwork: boolean
  readonly mayAsk: readonly string[] | undefined
}

/** Starts Insel and serves until it is asked to stop. @returns the exit code */
export async function start({ port, host, isEmpty, publicUrls, isOpenToNetwork, mayAsk }: StartOptions): Promise<number> {
  const lock = takeLock()
  let database: Database | undefined
  let server: RunningServer | undefined
  const standIns: { stop(): Promise<void> }[] = []
  const stopped = new Promise<'asked'>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => resolve('asked'))
  })
  try {
    database = await openDatabase()
    offerPackages([systemsDataset, macRegistry, imageMaker])
    build()
    const settings = { databaseUrl: database.url, host, logName: 'server', publicUrls, isOpenToNetwork, awaitsDemo: !isEmpty, mayAsk }
    server = await startServer({ ...settings, port })
    if (!isEmpty) await ensureDemo(server.url, database.url)
    const controller = await beside(port + 1, startRedfishStandIn)
    standIns.push(controller)
    const transfers = await beside(port + 2, startTransferStandIn)
    standIns.push(transfers)
    lock.tell({ url: server.url, databaseUrl: database.url })
    process.stdout.write(
      `\n  Insel is at ${publicUrls[0] ?? server.url}\n  A stand-in for a management controller is at ${controller.url} (user ${STAND_IN_USER}, password ${STAND_IN_PASSWORD}).\n  A stand-in for a transfer, to try a move without a machine, is at ${transfers.url}.\n  Ctrl-C stops it.\n\n`,
    )
    if (isOpenToNetwork)
      process.stdout.write(
        `  Warning: it listens at ${host}, and there are no accounts yet. Everybody who can reach it can read and change everything.\n\n`,
      )
    const listening = Number(new URL(server.url).port)
    const restarts = new Restarts()
    /** Starts a part again, however often that takes. @returns false when a stop was asked for meanwhile */
    const again = async (ending: 'server' | 'database'): Promise<boolean> => {
      for (;;) {
        const wait = restarts.waitAfter(Date.now())
        if (wait > 0)
          process.stderr.write(
            `insel: that is ${counted(restarts.inRow, 'time')}, each soon after the other; the next try is in ${wait / 1000} s. See .insel/log/server.log.\n`,
          )
        const isAsked = await Promise.race([stopped, after(wait)])
        if (isAsked === 'asked') return false
        try {
          if (ending === 'database') database = await database?.restart()
          else server = await startServer({ ...settings, port: listening })
          return true
        } catch (error) {
          process.stderr.write(`insel: the ${ending} does not start: ${error instanceof Error ? error.message : String(error)}\n`)
        }
      }
    }
    for (;;) {
      const ending = await Promise.race([stopped, server.gone.then(() => 'server' as const), database.gone.then(() => 'database' as const)])
      if (ending === 'asked') {
        process.stdout.write('\ninsel: finishing open requests ...\n')
        return 0
      }
      process.stderr.write(`insel: the ${ending} ended unexpectedly; starting it again ...\n`)
      if (!(await again(ending))) {
        process.stdout.write('\ninsel: stopping ...\n')
        return 0
      }
      process.stderr.write(`insel: the ${ending} is back.\n`)
    }
  } finally {
    for (const standIn of standIns) await standIn.stop()
    await server?.stop()
    await database?.stop()
    lock.release()
  }
}

/** A stand-in on a port beside Insel's own, or on a free one. */
async function beside<T>(port: number, begin: (port?: number) => Promise<T>): Promise<T> {
  try {
    return await begin(port)
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error
    return begin()
  }
}
