import { closeSync, openSync, rmSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { openDatabase } from '../database.js'
import { runningInsel } from '../lock.js'
import { runPostgresProgram } from '../postgres-programs.js'
import { Refusal } from '../../workbench/refusal.js'
import { strangersIn } from '../restore/contents.js'

/** Writes the whole database to a file, in PostgreSQL's custom format; Insel may go on running meanwhile. */
export async function backup(file: string): Promise<number> {
  const target = resolve(file)
  // Made here, for this user alone, and before anything is started for it: a backup holds everything.
  makeFile(target)
  try {
    const running = runningInsel()
    const database = running?.databaseUrl ? { url: running.databaseUrl, stop: () => Promise.resolve() } : await openDatabase()
    try {
      runPostgresProgram('pg_dump', database.url, ['--format=custom', '--no-owner', '--no-privileges', `--file=${target}`])
    } finally {
      await database.stop()
    }
  } catch (error) {
    rmSync(target, { force: true })
    throw error
  }
  const strangers = strangersIn(target)
  if (strangers.length > 0)
    process.stderr.write(
      `insel: this database holds more than Insel’s tables (${strangers.slice(0, 3).join(', ')}${strangers.length > 3 ? `, and ${strangers.length - 3} more` : ''}). A restore of this file will be refused: remove them from the database, then back it up again.\n`,
    )
  process.stdout.write(`insel: the database is in ${target}\n`)
  return 0
}

/** Makes an empty file that only this user can read. @throws Refusal when there is one, or none can be made */
function makeFile(target: string): void {
  try {
    closeSync(openSync(target, 'wx', 0o600))
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException
    if (code === 'EEXIST') throw new Refusal(`${target} exists already. Name another file, or remove it.`, { cause: error })
    if (code === 'ENOENT') throw new Refusal(`There is no folder ${dirname(target)}. Make it, or name another.`, { cause: error })
    throw new Refusal(`${target} cannot be written: ${message}.`, { cause: error })
  }
}
