import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import pg from 'pg'
import { LOCKS } from '../../apps/server/src/database/locks.js'
import { isAgreed } from '../ask.js'
import { openDatabase, type Database } from '../database.js'
import { takeLock } from '../lock.js'
import { runPostgresProgram } from '../postgres-programs.js'
import { Refusal } from '../../workbench/refusal.js'

/**
 * Replaces the database by a backup, after asking. The backup goes into its own database, is brought up to this version,
 * and its log is held against its tables; only then the two change places. Whatever fails leaves everything as it was.
 */
export async function restore(file: string, isSure: boolean): Promise<number> {
  const source = resolve(file)
  if (!existsSync(source)) throw new Refusal(`There is no file ${source}.`)
  const lock = takeLock()
  try {
    const steps = stepsIn(source)
    // What brings a database up to this version is much to read, and needed only once the file is what it should be.
    const { lastStep, fillFrom } = await import('../restore/restored-database.js')
    const step = lastStep(source, steps)
    const database = await openDatabase()
    try {
      return await replace(database, source, isSure, (url) => fillFrom(url, source, step))
    } catch (error) {
      throw refusalFor(error, database)
    } finally {
      await database.stop()
    }
  } finally {
    lock.release()
  }
}

async function replace(database: Database, source: string, isSure: boolean, fill: (url: string) => Promise<void>): Promise<number> {
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
        await fill(withName(database.url, fresh))
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
  throw new Refusal('An Insel that is running uses this database. Stop it with Ctrl-C in its terminal, then restore; nothing was changed.')
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
  const rows = runPostgresProgram('pg_restore', undefined, ['--data-only', '--table=schema_step', '--file=-', file])
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

/** What PostgreSQL does not let the role do, in a sentence; any other error as it is. @source PostgreSQL manual, appendix A: 42501, 3D000, class 28 */
function refusalFor(error: unknown, { url }: Database): unknown {
  const { code = '', message } = error as { code?: string; message: string }
  if (!/^(42501|3D000|28...)$/.test(code)) return error
  const role = decodeURIComponent(new URL(url).username)
  return new Refusal(
    `The role “${role}” may not do what a restore needs (${message}); nothing was changed. It has to own the database, and to make databases: alter role ${role} createdb`,
    { cause: error },
  )
}
