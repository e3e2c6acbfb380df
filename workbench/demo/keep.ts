import pg from 'pg'
import { startServer } from '../server.js'

/** An estate that the demo made, marked as such in the database; an estate of a person’s own never is, whatever its name. */
export interface DemoEstate {
  readonly id: string
  readonly name: string
  readonly revision: number
  readonly isWhole: boolean
}

async function withClient<T>(databaseUrl: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  try {
    return await work(client)
  } finally {
    await client.end()
  }
}

/** The estates that the demo made. */
export const demoEstates = (databaseUrl: string): Promise<readonly DemoEstate[]> =>
  withClient(databaseUrl, async (client) => {
    const { rows } = await client.query<{ id: string; name: string; revision: number; demo: string }>(
      `select h.estate_id as id, e.name, h.revision, h.demo from estate_head h join estate e using (estate_id) where h.demo is not null`,
    )
    return rows.map(({ id, name, revision, demo }) => ({ id, name, revision, isWhole: demo === 'loaded' }))
  })

/** Removes estates that the demo made, with everything in them. Others are not touched, even when they are named. */
export const removeDemos = (databaseUrl: string, ids: readonly string[]): Promise<void> =>
  withClient(databaseUrl, async (client) => {
    await client.query('delete from estate_head where demo is not null and estate_id = any($1)', [ids])
  })

/** Loads a demo estate and marks it: as being loaded from its first moment on, so that one that was interrupted is known. */
export async function makeDemo(databaseUrl: string): Promise<string> {
  // The story of the demo, with everything it uses, is needed once; so is a server to which it may say when things were done.
  const server = await startServer({ databaseUrl, port: 0, host: '127.0.0.1', logName: 'demo', takesStory: true })
  try {
    return await tellStory(server.url, databaseUrl)
  } finally {
    await server.stop()
  }
}

async function tellStory(serverUrl: string, databaseUrl: string): Promise<string> {
  const { loadDemo, loadObservations, loadReadings } = await import('./load.js')
  const mark = (id: string, how: 'being loaded' | 'loaded') =>
    withClient(databaseUrl, (client) => client.query('update estate_head set demo = $2 where estate_id = $1', [id, how]))
  const id = await loadDemo(serverUrl, (made) => mark(made, 'being loaded'))
  await loadObservations(serverUrl, id)
  await loadReadings(serverUrl, id)
  await mark(id, 'loaded')
  return id
}

/** Sees that a first start ends with a whole demo: what an interrupted one left is removed and loaded again. */
export async function ensureDemo(serverUrl: string, databaseUrl: string): Promise<void> {
  const half = (await demoEstates(databaseUrl)).filter(({ isWhole }) => !isWhole)
  await removeDemos(
    databaseUrl,
    half.map(({ id }) => id),
  )
  const estates = (await (await fetch(`${serverUrl}/api/v1/estates`)).json()) as unknown[]
  if (estates.length > 0) return
  process.stdout.write('insel: loading the demo estate ...\n')
  await makeDemo(databaseUrl)
}
