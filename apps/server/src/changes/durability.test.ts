import type { CommandsResponse, RecordsResponse } from '@insel/contract'
import { Estate, type Command, type Difference } from '@insel/core'
import { mkdtempSync, chmodSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it, inject } from 'vitest'
import { removeCluster, startCluster } from '../../../../workbench/cluster.js'
import { createApp } from '../create-app.js'
import { startProcess, type ServerProcess } from '../testing/server-process.js'
import { firstCommands, known, newDatabase, startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
beforeAll(async () => {
  server = await startServer()
  await server.send(firstCommands)
})
afterAll(() => server.stop())

const post = (url: string, commands: readonly Command[]) =>
  request(url).post(`/api/v1/estates/${server.estateId}/commands`).set('insel-person', server.personId).send({ commands })

/** The change log is gapless, and replaying it gives exactly the records in the tables. */
async function expectWhole(): Promise<number> {
  const rows = await server.sql<{ revision: number; difference: Difference }>(
    'select revision, difference from change where estate_id = $1 order by revision',
    [server.estateId],
  )
  expect(rows.map((row) => row.revision)).toEqual(rows.map((_, index) => index + 1))
  const fresh = await startProcess(server.databaseUrl)
  const { body } = await request(fresh.url).get(`/api/v1/estates/${server.estateId}/records`)
  fresh.child.kill('SIGTERM')
  await fresh.gone
  const { revision, records } = body as RecordsResponse
  expect(revision).toBe(rows.length)
  expect(rows.reduce((estate, row) => estate.with(row.difference), Estate.empty).toRecords()).toEqual(records)
  return revision
}

/** Commands at once: enough to queue at the lock. */
const RUSH = inject('isLong') ? 200 : 60

describe('two servers on one database', () => {
  it(`${RUSH} concurrent commands: no lost update, a gapless log, the same records on both`, async () => {
    const other = await startProcess(server.databaseUrl)
    try {
      const before = ((await server.get('/records')).body as RecordsResponse).revision
      const tag = (n: number): Command[] =>
        n % 2 ? [{ type: 'network.add', record: { name: `net-${n}` } }] : [{ type: 'guest.clone', guestId: known.guest, name: `copy-${n}` }]
      const responses = await Promise.all(Array.from({ length: RUSH }, (_, n) => post(n % 4 < 2 ? server.url : other.url, tag(n))))
      expect(responses.map((response) => response.status)).toEqual(Array.from({ length: RUSH }, () => 200))
      const revisions = responses.map((response) => (response.body as CommandsResponse).revision).sort((a, b) => a - b)
      expect(revisions).toEqual(Array.from({ length: RUSH }, (_, n) => before + n + 1))

      const [here, there] = await Promise.all(
        [server.url, other.url].map(
          async (url) => (await request(url).get(`/api/v1/estates/${server.estateId}/records`)).body as RecordsResponse,
        ),
      )
      expect(here).toEqual(there)
      expect(here?.records.network).toHaveLength(RUSH / 2 + 1)
      expect(here?.records.guest).toHaveLength(RUSH / 2 + 1)
      expect(new Set(here?.records.adapter.map((adapter) => adapter.mac)).size).toBe(RUSH / 2 + 1)
      await expectWhole()
    } finally {
      other.child.kill('SIGTERM')
      await other.gone
    }
  })

  it('a change on one is told by the other, and a stop ends open event streams', async () => {
    const other = await startProcess(server.databaseUrl)
    const stream = await fetch(`${other.url}/api/v1/estates/${server.estateId}/events`)
    const reader = stream.body?.getReader()
    let text = ''
    const until = async (wanted: string) => {
      while (!text.includes(wanted)) {
        const chunk = await reader?.read()
        if (!chunk || chunk.done) throw new Error(`the stream ended before ${wanted}`)
        text += new TextDecoder().decode(chunk.value)
      }
    }
    await until('"revision":')
    const { revision } = (await post(server.url, [{ type: 'host.update', id: known.host, changes: { note: 'told' } }]))
      .body as CommandsResponse
    await until(`"revision":${revision}`)
    other.child.kill('SIGTERM')
    expect(await other.gone).toSatisfy((code: unknown) => code === 0 || code === 'SIGTERM')
    while (!(await reader?.read())?.done);
  })
})

describe('a server that is killed', () => {
  it('in the middle of 50 commands leaves whole changes only', async () => {
    const victim: ServerProcess = await startProcess(server.databaseUrl)
    const before = ((await server.get('/records')).body as RecordsResponse).revision
    const pending = Array.from({ length: 50 }, async (_, n) => {
      try {
        const response = await post(victim.url, [
          { type: 'network.add', record: { name: `kill-${n}-a` } },
          { type: 'network.add', record: { name: `kill-${n}-b` } },
        ])
        if (n === 12) victim.child.kill('SIGKILL')
        return response.status
      } catch (error) {
        return (error as { code?: string }).code ?? 'cut'
      }
    })
    const outcomes = await Promise.all(pending)
    expect(await victim.gone).toBe('SIGKILL')
    const answered = outcomes.filter((outcome) => outcome === 200).length
    expect(answered).toBeGreaterThan(0)
    const revision = await expectWhole()
    // An answer is only given for what is committed; what was committed without an answer is whole too.
    expect(revision - before).toBeGreaterThanOrEqual(answered)
    const names = ((await server.get('/networks?q=kill-&limit=500')).body as { items: { name: string }[] }).items.map(
      (network) => network.name,
    )
    for (const name of names) expect(names).toContain(name.endsWith('a') ? name.replace(/a$/, 'b') : name.replace(/b$/, 'a'))
  })

  it('a graceful stop finishes what is in flight', async () => {
    const stopping = await startProcess(server.databaseUrl)
    const blocker = new pg.Client({ connectionString: server.databaseUrl })
    await blocker.connect()
    await blocker.query('begin')
    await blocker.query('select 1 from estate_head where estate_id = $1 for update', [server.estateId])
    const inFlight = post(stopping.url, [{ type: 'network.add', record: { name: 'in-flight' } }]).then((response) => response.status)
    // The command waits for the lock we hold: only then is it certainly in flight.
    const waiting = async () =>
      (
        await server.sql<{ n: number }>(
          "select count(*)::int as n from pg_stat_activity where wait_event_type = 'Lock' and datname = current_database()",
        )
      )[0]?.n ?? 0
    await expect.poll(waiting, { timeout: 10_000 }).toBeGreaterThan(0)
    stopping.child.kill('SIGTERM')
    await blocker.query('commit')
    await blocker.end()
    expect(await inFlight).toBe(200)
    await stopping.gone
    await expectWhole()
  })
})

describe('a database that does not answer', () => {
  it('is a 503 problem, and the server goes on when it is back', async () => {
    const folder = join(mkdtempSync(join(tmpdir(), 'insel-dead-')), 'cluster')
    chmodSync(join(folder, '..'), 0o755)
    const cluster = await startCluster(folder, { isForTests: true })
    const app = await createApp({ databaseUrl: cluster.url, logLevel: 'silent' })
    try {
      await app.listen(0, '127.0.0.1')
      const url = await app.getUrl()
      const made = await request(url).post('/api/v1/estates').send({ name: 'Short-lived', recordedAs: 'Ola' })
      const { id, personId } = made.body as { id: string; personId: string }
      await cluster.stop()
      for (const response of [
        await request(url).get('/readyz'),
        await request(url).get('/api/v1/estates'),
        await request(url)
          .post(`/api/v1/estates/${id}/commands`)
          .set('insel-person', personId)
          .send({ commands: [{ type: 'network.add', record: { name: 'x' } }] }),
      ]) {
        expect(response.status).toBe(503)
        expect(response.type).toBe('application/problem+json')
        expect(response.body).toMatchObject({ code: 'database-unavailable' })
      }
      expect((await request(url).get('/healthz')).status).toBe(200)
    } finally {
      await app.close()
      await cluster.stop()
      removeCluster(folder)
    }
  })

  it('a database written by a newer version is not touched', async () => {
    const databaseUrl = await newDatabase()
    const first = await createApp({ databaseUrl, logLevel: 'silent' })
    await first.close()
    const client = new pg.Client({ connectionString: databaseUrl })
    await client.connect()
    await client.query("insert into schema_step (name, executed_at) values ('migration-9999-later', now())")
    await client.end()
    await expect(createApp({ databaseUrl, logLevel: 'silent' })).rejects.toThrow('newer Insel')
  })
})
