import { spawnSync } from 'node:child_process'
import { existsSync, rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { createInterface } from 'node:readline/promises'
import pg from 'pg'
import { migrationsList } from '../../apps/server/src/database/orm-config.js'
import { postgresPrograms } from '../cluster.js'
import { openDatabase } from '../database.js'
import { runningInsel, takeLock } from '../lock.js'
import { Refusal } from '../refusal.js'

/** Runs one of PostgreSQL's programs. @throws Refusal with what it said when it fails */
function run(program: string, args: readonly string[]): string {
  const done = spawnSync(join(postgresPrograms() ?? '', program), [...args], { encoding: 'utf8', maxBuffer: 1 << 28 })
  if (done.status !== 0) throw new Refusal(`${program} failed: ${done.stderr || String(done.error)}`)
  return done.stdout
}

/** Writes the whole database to a file, in PostgreSQL's custom format; Insel may go on running meanwhile. */
export async function backup(file: string): Promise<number> {
  const target = resolve(file)
  if (existsSync(target)) throw new Refusal(`${target} exists already. Name another file, or remove it.`)
  const running = runningInsel()
  const database = running?.databaseUrl ? { url: running.databaseUrl, stop: () => Promise.resolve() } : await openDatabase()
  try {
    run('pg_dump', ['--format=custom', '--no-owner', '--no-privileges', `--file=${target}`, `--dbname=${database.url}`])
  } catch (error) {
    rmSync(target, { force: true })
    throw error
  } finally {
    await database.stop()
  }
  process.stdout.write(`insel: the database is in ${target}\n`)
  return 0
}

/** Replaces the database by a backup, after asking; refuses one that a newer Insel wrote. */
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
      const estates = await estateNames(database.url)
      if (!isSure && estates.length > 0 && !(await isAgreed(estates))) {
        process.stdout.write('insel: nothing was changed.\n')
        return 1
      }
      run('pg_restore', [
        '--clean',
        '--if-exists',
        '--no-owner',
        '--no-privileges',
        '--single-transaction',
        `--dbname=${database.url}`,
        source,
      ])
      process.stdout.write(`insel: the database is as in ${source}\n`)
      return 0
    } finally {
      await database.stop()
    }
  } finally {
    lock.release()
  }
}

/** The steps of the schema that a backup has. @throws Refusal when it is no backup of Insel's */
function stepsIn(file: string): string[] {
  const rows = run('pg_restore', ['--data-only', '--table=schema_step', '--file=-', file])
    .split('\n')
    .map((line) => line.split('\t')[1] ?? '')
    .filter((name) => name.startsWith('migration-'))
  if (rows.length === 0) throw new Refusal(`${file} is a PostgreSQL backup, but not one of Insel’s.`)
  return rows
}

async function estateNames(databaseUrl: string): Promise<string[]> {
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  try {
    const { rows } = await client.query<{ name: string }>("select name from estate where to_regclass('estate') is not null")
    return rows.map((row) => row.name)
  } catch (error) {
    // Undefined table: a database in which Insel never ran.
    if ((error as { code?: string }).code === '42P01') return []
    throw error
  } finally {
    await client.end()
  }
}

async function isAgreed(estates: readonly string[]): Promise<boolean> {
  if (!process.stdin.isTTY)
    throw new Refusal(`This would replace ${estates.join(', ')} with all changes since the backup. Add --yes to do so without being asked.`)
  const prompt = createInterface({ input: process.stdin, output: process.stdout })
  const answer = await prompt.question(`This replaces ${estates.join(', ')} and all changes since the backup. Type “replace” to go on: `)
  prompt.close()
  return answer.trim() === 'replace'
}
