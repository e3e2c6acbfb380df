import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, statSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { expect, it } from 'vitest'
import { childrenOf, removeCluster, SERVER_ROLE, startCluster } from './cluster.js'

async function ask<T extends object>(url: string, ...texts: string[]): Promise<T[]> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    let rows: T[] = []
    for (const text of texts) rows = (await client.query<T>(text)).rows
    return rows
  } finally {
    await client.end()
  }
}

it('a cluster in which all belonged to the superuser is handed over to the ordinary role, with its data', async () => {
  const folder = join(mkdtempSync(join(tmpdir(), 'insel-cluster-')), 'cluster')
  chmodSync(join(folder, '..'), 0o755)
  let cluster = await startCluster(folder, { isForTests: true })
  try {
    // As versions before the sixth step of the schema made it.
    const { adminUrl } = cluster
    await ask(adminUrl, 'create table kept (id serial primary key, note text)', `insert into kept (note) values ('of before')`)
    await ask(adminUrl.replace(/insel$/, 'postgres'), 'alter database insel owner to insel', `drop role ${SERVER_ROLE}`)
    await cluster.stop()

    cluster = await startCluster(folder, { isForTests: true })
    const rows = await ask<{ note: string }>(
      cluster.url,
      `insert into kept (note) values ('of now')`,
      'alter table kept add column more text',
      'select note from kept order by id',
    )
    expect(rows.map(({ note }) => note)).toEqual(['of before', 'of now'])
    const [role] = await ask<{ rolsuper: boolean; rolcreatedb: boolean; rolcreaterole: boolean }>(
      cluster.url,
      'select rolsuper, rolcreatedb, rolcreaterole from pg_roles where rolname = current_user',
    )
    expect(role).toEqual({ rolsuper: false, rolcreatedb: false, rolcreaterole: false })
    // Both passwords are for the owner of the data alone.
    for (const name of ['password', 'server-password']) {
      expect(statSync(join(folder, name)).mode & 0o777).toBe(0o600)
      expect(readFileSync(join(folder, name), 'utf8').trim()).toMatch(/^[0-9a-f]{32,}$/)
    }
  } finally {
    await cluster.stop()
    removeCluster(folder)
  }
})

it('a PostgreSQL that was left behind is ended by the next start: paused, and known by another path', async () => {
  const above = mkdtempSync(join(tmpdir(), 'insel-left-'))
  chmodSync(above, 0o755)
  const [folder, otherPath] = [join(above, 'cluster'), join(above, 'by-another-path')]
  symlinkSync(above, `${otherPath}-link`)
  const left = await startCluster(folder, { isForTests: true })
  await ask(left.url, 'create table kept (note text)', `insert into kept values ('of before')`)
  const idle = new pg.Client({ connectionString: left.url })
  idle.on('error', () => undefined)
  await idle.connect()
  const pid = Number(readFileSync(join(folder, 'data/postmaster.pid'), 'utf8').split('\n')[0])
  const family = [pid, ...childrenOf(pid)]
  for (const one of family) process.kill(one, 'SIGSTOP')
  const next = await startCluster(join(`${otherPath}-link`, 'cluster'), { isForTests: true })
  try {
    expect(family.filter((one) => existsSync(`/proc/${one}/exe`))).toEqual([])
    expect(await ask(next.url, 'select note from kept')).toEqual([{ note: 'of before' }])
  } finally {
    await next.stop()
    removeCluster(folder)
    rmSync(above, { recursive: true, force: true })
  }
}, 60_000)
