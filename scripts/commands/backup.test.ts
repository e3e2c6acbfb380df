import { mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { ChangesPage, EstateSummary, RecordsResponse } from '@insel/contract'
import { migrationsList } from '../../apps/server/src/database/orm-config.js'
import { startServer } from '../../apps/server/src/testing/test-server.js'
import { SERVER_ROLE } from '../cluster.js'
import { databaseAt } from '../workbench.js'
import { spawnInsel } from './spawn-insel.js'

/** Backups that earlier versions of Insel wrote of their demo and some changes, one for each step of the schema. */
const kept = fileURLToPath(new URL('../../apps/server/src/testing/backups', import.meta.url))

let folder: string
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'insel-backup-'))))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** One of Insel's commands on a database of the tests' cluster. */
async function insel(databaseUrl: string, args: readonly string[]) {
  const call = spawnInsel(folder, args, { DATABASE_URL: databaseUrl })
  const seen: string[] = []
  // What every user of the machine can read while it runs.
  const watch = setInterval(() => void commandLines().then((lines) => seen.push(...lines)), 30)
  const code = await call.ended
  clearInterval(watch)
  return { code, output: call.output(), seen }
}

async function commandLines(): Promise<readonly string[]> {
  const { readFile, readdir } = await import('node:fs/promises')
  const pids = (await readdir('/proc')).filter((name) => /^\d+$/.test(name))
  const texts = await Promise.all(pids.map((pid) => readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '')))
  return texts.filter((text) => /pg_(dump|restore)/.test(text))
}

async function admin<T>(work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: inject('adminUrl') })
  await client.connect()
  try {
    return await work(client)
  } finally {
    await client.end()
  }
}

let made = 0
/** A new database, as somebody who may make others. */
async function newDatabase(owner = 'insel'): Promise<string> {
  const name = `backup_${process.pid}_${++made}`
  await admin((client) => client.query(`create database ${name} owner ${owner}`))
  return databaseAt(owner === 'insel' ? inject('adminUrl') : inject('clusterUrl'), name)
}

/** The oldest and the last before this version; all of them in the long run. */
const all = readdirSync(kept).sort()
const tried = inject('isLong') ? all : [...new Set([...all.slice(0, 1), ...all.slice(-1)])]

describe('a backup of an earlier version', () => {
  it('is kept of every step of the schema but the last', () =>
    expect(readdirSync(kept).sort()).toEqual(
      migrationsList.slice(0, -1).map((_, index) => `schema-${String(index + 1).padStart(4, '0')}.backup`),
    ))

  it.each(tried)('%s is restored: brought up to this version, its log as its tables say, and it goes on', async (file) => {
    const databaseUrl = await newDatabase()
    const { code, output } = await insel(databaseUrl, ['restore', join(kept, file), '--yes'])
    expect([output, code]).toEqual([expect.stringContaining('the database is as in'), 0])
    const server = await startServer(databaseUrl)
    try {
      const estates = (await request(server.url).get('/api/v1/estates')).body as EstateSummary[]
      const old = estates.find(({ name, revision }) => name === 'Skerry Sound' && revision > 5)
      const base = `/api/v1/estates/${old?.id ?? ''}`
      const { revision, epoch, records } = (await request(server.url).get(`${base}/records`)).body as RecordsResponse
      expect(records.guest.length).toBeGreaterThan(20)
      // From the first revision on the log gives the records as they are today, in today's form.
      const since = (await request(server.url).get(`${base}/records?since=1&epoch=${epoch}`)).body as {
        difference: { added: Record<string, { record: object }> }
      }
      const guest = records.guest.find(({ name }) => name === 'kept-copy')
      expect(guest).toBeDefined()
      expect(since.difference.added[guest?.id ?? '']?.record).toEqual(guest)
      // A change of nothing but guests that stayed where they are is not of their hosts' history.
      const { changes } = (await request(server.url).get(`${base}/changes?limit=500`)).body as ChangesPage
      const hosts = new Set(records.host.map(({ id }) => id))
      const ofGuests = changes.filter(({ difference: { added, updated, removed } }) => {
        const entries = Object.values(updated)
        const isStill = entries.every(
          ({ kind, from, to }) => kind === 'guest' && (from as { hostId?: unknown }).hostId === (to as { hostId?: unknown }).hostId,
        )
        return entries.length > 0 && isStill && Object.keys({ ...added, ...removed }).length === 0
      })
      expect(ofGuests.length).toBeGreaterThan(0)
      for (const id of hosts) {
        const own = (await request(server.url).get(`${base}/changes?limit=500&subject=${id}`)).body as ChangesPage
        const seen = new Set(own.changes.map((change) => change.revision))
        expect(ofGuests.filter((change) => seen.has(change.revision)).map((change) => change.revision)).toEqual([])
      }
      // Old changes are taken back in today's form, too.
      const person = records.person[0]?.id ?? ''
      const back = await request(server.url).post(`${base}/changes/${revision}/revert`).set('insel-person', person)
      expect([back.status, (back.body as { detail?: string }).detail]).toEqual([200, undefined])
    } finally {
      await server.stop()
    }
  })
})

describe('a restore', () => {
  it('under a running server, wherever it was started, is refused; what went wrong leaves everything as it was', async () => {
    const databaseUrl = await newDatabase()
    const server = await startServer(databaseUrl)
    const file = join(folder, 'under.backup')
    expect((await insel(databaseUrl, ['backup', file])).code).toBe(0)
    const under = await insel(databaseUrl, ['restore', file, '--yes'])
    expect([under.code, under.output]).toEqual([1, expect.stringContaining('An Insel that is running uses this database')])
    await server.stop()
    const { epoch } = await firstHead(databaseUrl)
    // A log that does not give the tables is no record to be trusted.
    await sql(databaseUrl, `update change set difference = '{"added":{},"updated":{},"removed":{}}' where revision = 1`)
    const broken = join(folder, 'broken.backup')
    expect((await insel(databaseUrl, ['backup', broken])).code).toBe(0)
    const refused = await insel(databaseUrl, ['restore', broken, '--yes'])
    expect([refused.code, refused.output]).toEqual([1, expect.stringContaining('its log and its tables do not agree')])
    expect((await firstHead(databaseUrl)).epoch).toBe(epoch)
    expect((await insel(databaseUrl, ['restore', file, '--yes'])).code).toBe(0)
    expect((await firstHead(databaseUrl)).epoch).not.toBe(epoch)
    // Nothing is left beside it.
    const names = await admin(async (client) =>
      (await client.query<{ datname: string }>('select datname from pg_database')).rows.map(({ datname }) => datname),
    )
    expect(names.filter((name) => /_(restoring|before)$/.test(name))).toEqual([])
  })

  it('by a role that may make no database says what to grant', async () => {
    const databaseUrl = await newDatabase(SERVER_ROLE)
    const server = await startServer(databaseUrl)
    await server.stop()
    const file = join(folder, 'role.backup')
    const written = await insel(databaseUrl, ['backup', file])
    expect(written.code).toBe(0)
    const refused = await insel(databaseUrl, ['restore', file, '--yes'])
    expect([refused.code, refused.output]).toEqual([1, expect.stringContaining(`alter role ${SERVER_ROLE} createdb`)])
    // The file is for this user alone, and no password stood on a command line.
    expect(statSync(file).mode & 0o777).toBe(0o600)
    const password = new URL(databaseUrl).password
    expect(written.seen.length).toBeGreaterThan(0)
    expect(written.seen.filter((line) => line.includes(password))).toEqual([])
  })
})

async function sql<T>(databaseUrl: string, text: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  try {
    return (await client.query(text)).rows as T[]
  } finally {
    await client.end()
  }
}
async function firstHead(databaseUrl: string): Promise<{ readonly epoch: string }> {
  const [head] = await sql<{ epoch: string }>(databaseUrl, 'select epoch from estate_head order by estate_id limit 1')
  if (!head) throw new Error('there is no estate')
  return head
}
