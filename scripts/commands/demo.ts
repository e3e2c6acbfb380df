import pg from 'pg'
import { build } from '../build.js'
import { openDatabase } from '../database.js'
import { loadDemo, loadObservations } from '../demo/load.js'
import { runningInsel, takeLock } from '../lock.js'
import { startServer } from '../server.js'

/** Removes the demo estate with all its changes and loads it anew; other estates stay. */
export async function demoReset(): Promise<number> {
  const running = runningInsel()
  if (running?.url && running.databaseUrl) {
    await removeDemo(running.databaseUrl)
    await loadObservations(running.url, await loadDemo(running.url))
  } else {
    const lock = takeLock()
    const database = await openDatabase()
    try {
      build()
      const server = await startServer({ databaseUrl: database.url, port: 0, host: '127.0.0.1', logName: 'server' })
      try {
        await removeDemo(database.url)
        await loadObservations(server.url, await loadDemo(server.url))
      } finally {
        await server.stop()
      }
    } finally {
      await database.stop()
      lock.release()
    }
  }
  process.stdout.write('insel: the demo estate is as it was at first.\n')
  return 0
}

async function removeDemo(databaseUrl: string): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  try {
    await client.query("delete from estate_head where estate_id in (select estate_id from estate where name = 'Skerry Sound')")
  } finally {
    await client.end()
  }
}
