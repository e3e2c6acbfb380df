import { MikroORM } from '@mikro-orm/postgresql'
import { spawnSync } from 'node:child_process'
import { closeSync, existsSync, mkdtempSync, openSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import pg from 'pg'
import { LOCKS } from '../../apps/server/src/database/locks.js'
import { migrate } from '../../apps/server/src/database/migrate.js'
import { migrationsList, ormConfig } from '../../apps/server/src/database/orm-config.js'
import { verifyLogs } from '../../apps/server/src/database/verify-log.js'
import { isAgreed } from '../ask.js'
import { postgresPrograms } from '../cluster.js'
import { openDatabase, type Database } from '../database.js'
import { runningInsel, takeLock } from '../lock.js'
import { Refusal } from '../refusal.js'

/**
 * Runs one of PostgreSQL's programs. The password goes by a file that only this user can read: a command line is read by
 * everybody on the machine.
 *
 * @see PostgreSQL manual, section 34.16: the password file
 * @throws Refusal with what it said when it fails
 */
function run(program: string, databaseUrl: string | undefined, args: readonly string[]): string {
  const folder = mkdtempSync(join(tmpdir(), 'insel-pass-'))
  try {
    const env: NodeJS.ProcessEnv = { ...process.env }
    const target: string[] = []
    if (databaseUrl !== undefined) {
      const url = new URL(databaseUrl)
      const field = (text: string) => decodeURIComponent(text).replaceAll(/[\\:]/g, '\\$&')
      const file = join(folder, 'pgpass')
      writeFileSync(file, `*:*:*:${field(url.username)}:${field(url.password)}\n`, { mode: 0o600 })
      if (url.password) env['PGPASSFILE'] = file
      url.password = ''
      target.push(`--dbname=${url.toString()}`)
    }
    const done = spawnSync(join(postgresPrograms() ?? '', program), [...target, ...args], { encoding: 'utf8', maxBuffer: 1 << 28, env })
    if (done.status !== 0) throw new Refusal(`${program} failed: ${done.stderr || String(done.error)}`)
    return done.stdout
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/** Writes the whole database to a file, in PostgreSQL's custom format; Insel may go on running meanwhile. */
export async function backup(file: string): Promise<number> {
  const target = resolve(file)
  if (existsSync(target)) throw new Refusal(`${target} exists already. Name another file, or remove it.`)
  const running = runningInsel()
  const database = running?.databaseUrl ? { url: running.databaseUrl, stop: () => Promise.resolve() } : await openDatabase()
  try {
    // Made here, for this user alone: a backup holds everything.
    closeSync(openSync(target, 'wx', 0o600))
    run('pg_dump', database.url, ['--format=custom', '--no-owner', '--no-privileges', `--file=${target}`])
  } catch (error) {
    rmSync(target, { force: true })
    throw error
  } finally {
    await database.stop()
  }
  process.stdout.write(`insel: the database is in ${target}\n`)
  return 0
}

/**
 * Replaces the database by a backup, after asking. The backup goes into a database of its own, is brought up to this version,
 * and its log is held against its tables; only then the two change places. Whatever fails leaves everything as it was.
 */
export async function restore(file: string, isSure: boolean): Promise<number> {
  const source = resolve(file)
  if (!existsSync(source)) throw new Refusal(`There is no file ${source}.`)
  const lock = takeLock()
  try {
    const database = await openDatabase()
    try {
      const steps = stepsIn(source)
      const unknown = steps.find((step) => !migrationsList.some((known) => known.name === step))
      if (unknown) throw new Refusal(`${source} was written by a newer Insel (it has the step “${unknown}”). Restore it with that version.`)
      return await replace(database, source, isSure)
    } finally {
      await database.stop()
    }
  } finally {
    lock.release()
  }
}

async function replace(database: Database, source: string, isSure: boolean): Promise<number> {
  const guard = await connect(database.url)
  try {
    await refuseUnderServers(guard)
    const estates = await estateNames(guard)
    if (estates.length > 0 && !(await isAgreed(`replace ${estates.join(', ')} and all changes since the backup`, 'replace', isSure))) {
      process.stdout.write('insel: nothing was changed.\n')
      return 1
    }
    const name = nameOf(database.url)
    const [fresh, before] = [`${name}_restoring`, `${name}_before`]
    const maintenance = await connect(withName(database.adminUrl, 'postgres'))
    const drop = (which: string) => maintenance.query(`drop database if exists ${maintenance.escapeIdentifier(which)} with (force)`)
    try {
      // What a restore that was killed left.
      await drop(fresh)
      await makeDatabase(maintenance, fresh, new URL(database.url).username)
      try {
        await fill(withName(database.url, fresh), source)
        await guard.end()
        await swap(maintenance, { name, fresh, before })
      } catch (error) {
        await drop(fresh)
        throw error
      }
      await drop(before)
    } finally {
      await maintenance.end()
    }
  } finally {
    await guard.end().catch(() => undefined)
  }
  process.stdout.write(`insel: the database is as in ${source}\n`)
  return 0
}

const nameOf = (url: string) => decodeURIComponent(new URL(url).pathname.slice(1))
function withName(url: string, name: string): string {
  const changed = new URL(url)
  changed.pathname = `/${encodeURIComponent(name)}`
  return changed.toString()
}

async function connect(url: string): Promise<pg.Client> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  return client
}

/** Holds the lock that every running server shares. @throws Refusal when one runs, wherever it was started */
async function refuseUnderServers(client: pg.Client): Promise<void> {
  const { rows } = await client.query<{ free: boolean }>('select pg_try_advisory_lock($1) as free', [LOCKS.server])
  if (rows[0]?.free) return
  throw new Refusal('A running Insel uses this database. Stop it with Ctrl-C in its terminal, then restore; nothing was changed.')
}

async function makeDatabase(maintenance: pg.Client, name: string, owner: string): Promise<void> {
  try {
    await maintenance.query(
      `create database ${maintenance.escapeIdentifier(name)} owner ${maintenance.escapeIdentifier(decodeURIComponent(owner))} template template0`,
    )
  } catch (error) {
    if ((error as { code?: string }).code !== '42501') throw error
    throw new Refusal(
      `The role “${owner}” may not make databases, and a backup is restored into one of its own first. Grant it with: alter role ${owner} createdb`,
      { cause: error },
    )
  }
}

/** Puts a backup into an empty database, brings it up to this version, and holds its log against its tables. */
async function fill(url: string, source: string): Promise<void> {
  run('pg_restore', url, ['--no-owner', '--no-privileges', '--exit-on-error', '--single-transaction', source])
  const orm = await MikroORM.init(ormConfig(url))
  try {
    await migrate(orm, url)
    const troubles = await verifyLogs(orm.em)
    if (troubles.length > 0)
      throw new Refusal(
        `${source} was not restored, since its log and its tables do not agree; nothing was changed.\n${troubles.slice(0, 5).join('\n')}${troubles.length > 5 ? `\nand ${troubles.length - 5} more.` : ''}`,
      )
    // Revisions of this history are not those that servers and pages have seen.
    await orm.em.fork().execute('update estate_head set epoch = gen_random_uuid()')
  } finally {
    await orm.close(true)
  }
}

/** Lets two databases change places. @throws Refusal when somebody has begun to use the old one */
async function swap(maintenance: pg.Client, { name, fresh, before }: { name: string; fresh: string; before: string }): Promise<void> {
  const quoted = (which: string) => maintenance.escapeIdentifier(which)
  await maintenance.query(`drop database if exists ${quoted(before)} with (force)`)
  await maintenance.query('begin')
  try {
    await maintenance.query(`alter database ${quoted(name)} rename to ${quoted(before)}`)
    await maintenance.query(`alter database ${quoted(fresh)} rename to ${quoted(name)}`)
    await maintenance.query('commit')
  } catch (error) {
    await maintenance.query('rollback')
    // Object in use: a server or a person has connected meanwhile.
    if ((error as { code?: string }).code !== '55006') throw error
    throw new Refusal('Somebody has begun to use the database meanwhile; nothing was changed. Stop what uses it, then restore again.', {
      cause: error,
    })
  }
}

/** The steps of the schema that a backup has. @throws Refusal when it is no backup of Insel's */
function stepsIn(file: string): string[] {
  const rows = run('pg_restore', undefined, ['--data-only', '--table=schema_step', '--file=-', file])
    .split('\n')
    .map((line) => line.split('\t')[1] ?? '')
    .filter((name) => name.startsWith('migration-'))
  if (rows.length === 0) throw new Refusal(`${file} is a PostgreSQL backup, but not one of Insel’s.`)
  return rows
}

async function estateNames(client: pg.Client): Promise<string[]> {
  const { rows } = await client.query<{ there: boolean }>("select to_regclass('public.estate') is not null as there")
  // A database in which Insel never ran has none.
  if (!rows[0]?.there) return []
  return (await client.query<{ name: string }>('select name from estate order by name')).rows.map(({ name }) => name)
}
