import { counted } from '@insel/core'
import { isAgreed } from '../ask.js'
import { build } from '../build.js'
import { openDatabase } from '../database.js'
import { demoEstates, makeDemo, removeDemos } from '../../workbench/demo/keep.js'
import { runningInsel, takeLock } from '../lock.js'
import { startServer } from '../../workbench/server.js'

/** Removes what the demo made, with all its changes, and loads it again; estates of a person's own stay. */
export async function demoReset(isSure: boolean): Promise<number> {
  const running = runningInsel()
  if (running?.url && running.databaseUrl) return reset(running.url, running.databaseUrl, isSure)
  const lock = takeLock()
  const database = await openDatabase()
  try {
    build()
    const server = await startServer({ databaseUrl: database.url, port: 0, host: '127.0.0.1', logName: 'server' })
    try {
      return await reset(server.url, database.url, isSure)
    } finally {
      await server.stop()
    }
  } finally {
    await database.stop()
    lock.release()
  }
}

async function reset(serverUrl: string, databaseUrl: string, isSure: boolean): Promise<number> {
  const demos = await demoEstates(databaseUrl)
  const changed = demos.map(({ name, revision }) => `“${name}” with its ${counted(revision, 'change')}`).join(' and ')
  if (demos.length > 0 && !(await isAgreed(`remove the demo estate ${changed} and load it again`, 'reset', isSure))) {
    process.stdout.write('insel: nothing was changed.\n')
    return 1
  }
  await removeDemos(
    databaseUrl,
    demos.map(({ id }) => id),
  )
  await makeDemo(databaseUrl)
  process.stdout.write('insel: the demo estate is as it was at first.\n')
  return 0
}
