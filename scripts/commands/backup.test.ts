import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { ChangesPage, EstateSummary, RecordsResponse } from '@insel/contract'
import { schemaSteps } from '../../apps/server/src/database/orm-config.js'
import { startServer } from '../../apps/server/src/testing/test-server.js'
import { SERVER_ROLE } from '../../workbench/cluster.js'
import { databaseAt } from '../../workbench/workbench.js'
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
  return databaseAt(owner === SERVER_ROLE ? inject('clusterUrl') : inject('adminUrl'), name)
}

/** The oldest, which takes every step there is; all of them in the long run. */
const all = readdirSync(kept).sort()
const tried = inject('isLong') ? all : all.slice(0, 1)

describe('a backup of an earlier version', () => {
  it('is kept of every step of the schema but the last', () =>
    expect(readdirSync(kept).sort()).toEqual(
      schemaSteps.slice(0, -1).map((_, index) => `schema-${String(index + 1).padStart(4, '0')}.backup`),
    ))

  it.each(tried)('%s is restored: brought up to this version, its log as its tables say, and it goes on', async (file) => {
    const databaseUrl = await newDatabase()
    const { code, output } = await insel(databaseUrl, ['restore', join(kept, file), '--yes'])
    expect([output, code]).toEqual([expect.stringContaining('the database is as in'), 0])
    await expectSameAgain(databaseUrl)
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
      const guest = records.guest.find(({ name }) => name === 'kept-copy') ?? records.guest[0]
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

  it('takes rows alone: whatever else a dump holds is named and refused, and nothing of it is carried out', async () => {
    const databaseUrl = await newDatabase()
    await (await startServer(databaseUrl)).stop()
    const clean = join(folder, 'clean.backup')
    expect((await insel(databaseUrl, ['backup', clean])).code).toBe(0)
    await sql(
      databaseUrl,
      `create function strange_code() returns trigger language plpgsql as 'begin new.name = ''changed''; return new; end';
       create trigger strange_trigger before insert on person for each row execute function strange_code();
       create function strange_event() returns event_trigger language plpgsql as 'begin end';
       create event trigger strange_event_trigger on ddl_command_end execute function strange_event();
       create rule strange_rule as on delete to person do instead nothing;
       alter table host enable row level security;
       create policy strange_policy on host using (true);
       create view strange_view as select 1;
       create materialized view strange_copy as select 1;
       create table strange_table (a int);
       create sequence strange_sequence;
       create type strange_type as enum ('a');
       create domain strange_domain as int;
       create procedure strange_procedure() language sql as 'select 1';
       create aggregate strange_sum(int) (sfunc = int4pl, stype = int);
       create index strange_index on guest ((lower(name)));
       alter table guest add constraint strange_check check (vcpu > 0) not valid;
       create schema strange_schema;
       create publication strange_publication;
       select lo_from_bytea(0, 'strange')`,
    )
    const strange = join(folder, 'strange.backup')
    const backedUp = await insel(databaseUrl, ['backup', strange])
    expect(backedUp.output).toContain('A restore of this file will be refused')
    const target = await newDatabase()
    const refused = await insel(target, ['restore', strange, '--yes'])
    expect(refused.code).toBe(1)
    for (const named of [
      ...[
        'FUNCTION public strange_code()',
        'TRIGGER public person strange_trigger',
        'EVENT TRIGGER - strange_event_trigger',
        'RULE public person strange_rule',
      ],
      ...[
        'ROW SECURITY public host',
        'POLICY public host strange_policy',
        'VIEW public strange_view',
        'MATERIALIZED VIEW public strange_copy',
      ],
      ...['TABLE public strange_table', 'SEQUENCE public strange_sequence', 'TYPE public strange_type', 'DOMAIN public strange_domain'],
      ...['PROCEDURE public strange_procedure()', 'AGGREGATE public strange_sum(integer)', 'INDEX public strange_index'],
      ...['CHECK CONSTRAINT public guest strange_check', 'SCHEMA - strange_schema', 'PUBLICATION - strange_publication', 'BLOB'],
    ])
      expect(refused.output + ' and the rest').toContain(named)
    expect(await sql(target, "select 1 from pg_class where relname like 'strange%'")).toEqual([])
    expect((await insel(target, ['restore', clean, '--yes'])).code).toBe(0)

    // The statement that a dump has for the rows of a table, altered to run a program.
    const bytes = readFileSync(clean)
    const head = Buffer.from('COPY public.person (estate_id, id, name, kind, note) FROM stdin;')
    const at = bytes.indexOf(head)
    expect(at).toBeGreaterThan(0)
    const proof = join(folder, 'carried-out')
    bytes.write(`COPY public.person FROM PROGRAM 'touch ${proof}';`.padEnd(head.length).slice(0, head.length), at, 'latin1')
    const altered = join(folder, 'altered.backup')
    writeFileSync(altered, bytes)
    const program = await insel(target, ['restore', altered, '--yes'])
    expect([program.code, program.output]).toEqual([
      1,
      expect.stringContaining('a line that no backup of Insel has: COPY public.person FROM PROGRAM'),
    ])
    expect(existsSync(proof)).toBe(false)

    // A column that the schema does not have.
    await sql(await columnAdded(databaseUrl), 'select 1')
    const wider = join(folder, 'wider.backup')
    expect((await insel(databaseUrl, ['backup', wider])).code).toBe(0)
    expect((await insel(target, ['restore', wider, '--yes'])).output).toContain('a column that it does not have: strange')
  })

  it('by a role that owns its database and may make others is enough; one that owns nothing is told so in a sentence', async () => {
    const databaseUrl = await newDatabase()
    await (await startServer(databaseUrl)).stop()
    const file = join(folder, 'roles.backup')
    expect((await insel(databaseUrl, ['backup', file])).code).toBe(0)
    const [maker, nobody] = [`maker_${process.pid}`, `nobody_${process.pid}`]
    await admin(async (client) => {
      await client.query(`create role ${maker} login createdb password 'maker'`)
      await client.query(`create role ${nobody} login password 'nobody'`)
    })
    const as = (role: string, password: string, url: string) => {
      const changed = new URL(url)
      changed.username = role
      changed.password = password
      return changed.toString()
    }
    const own = as(maker, 'maker', await newDatabase(maker))
    expect((await insel(own, ['restore', file, '--yes'])).output).toContain('the database is as in')
    expect(await contentOf(own)).toEqual(await contentOf(databaseUrl))
    const refused = await insel(as(nobody, 'nobody', databaseUrl), ['restore', file, '--yes'])
    expect([refused.code, refused.output]).toEqual([1, expect.stringContaining(`The role “${nobody}” may not do what a restore needs`)])
    expect(refused.output).not.toMatch(/\n\s+at /)
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

/** Backed up and restored elsewhere, every table has the same rows. */
async function expectSameAgain(databaseUrl: string): Promise<void> {
  const file = join(folder, `again-${++made}.backup`)
  expect((await insel(databaseUrl, ['backup', file])).code).toBe(0)
  const elsewhere = await newDatabase()
  expect((await insel(elsewhere, ['restore', file, '--yes'])).code).toBe(0)
  expect(await contentOf(elsewhere)).toEqual(await contentOf(databaseUrl))
}

/** How many rows each table has, and a hash of them. An epoch is new with every restore. */
async function contentOf(databaseUrl: string): Promise<Readonly<Record<string, string>>> {
  const tables = await sql<{ name: string }>(
    databaseUrl,
    "select table_name::text as name from information_schema.tables where table_schema = 'public' order by 1",
  )
  const content: Record<string, string> = {}
  for (const { name } of tables) {
    const row = name === 'estate_head' ? `to_jsonb(t) - 'epoch'` : 'to_jsonb(t)'
    const [one] = await sql<{ hash: string }>(
      databaseUrl,
      `select count(*) || ' ' || md5(coalesce(string_agg((${row})::text, ',' order by (${row})::text), '')) as hash from "${name}" t`,
    )
    content[name] = one?.hash ?? ''
  }
  return content
}

/** The database without what is strange in it, but with a column more in one table. */
async function columnAdded(databaseUrl: string): Promise<string> {
  await sql(
    databaseUrl,
    `drop event trigger strange_event_trigger; drop trigger strange_trigger on person; drop function strange_code(); drop function strange_event();
     drop rule strange_rule on person; drop policy strange_policy on host; alter table host disable row level security; drop view strange_view;
     drop materialized view strange_copy; drop table strange_table; drop sequence strange_sequence; drop type strange_type; drop domain strange_domain;
     drop procedure strange_procedure(); drop aggregate strange_sum(int); drop index strange_index; alter table guest drop constraint strange_check;
     drop schema strange_schema; drop publication strange_publication; select lo_unlink(oid) from pg_largeobject_metadata;
     alter table person add column strange text`,
  )
  return databaseUrl
}

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
