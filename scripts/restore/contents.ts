import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { runPostgresProgram } from '../postgres-programs.js'
import { Refusal } from '../../workbench/refusal.js'

/** How many of what is refused are named. */
const NAMED = 40
/** What Insel’s own schema is made of. */
const OWN = /^(TABLE|TABLE DATA|SEQUENCE|SEQUENCE OWNED BY|SEQUENCE SET|DEFAULT|CONSTRAINT|FK CONSTRAINT|INDEX) public /

/** What in a backup no restore will take, by what it is: it was put into the database by others. */
export const strangersIn = (file: string): readonly string[] => contentsOf(file).filter((entry) => !OWN.test(entry))

/**
 * What a backup says it holds, a line each: what it is, its schema and its name, without numbers and owner.
 *
 * @example contentsOf('insel.backup') // ['TABLE public guest', 'TABLE DATA public guest', …]
 */
const contentsOf = (file: string): readonly string[] =>
  runPostgresProgram('pg_restore', undefined, ['--list', file])
    .split('\n')
    .filter((line) => line !== '' && !line.startsWith(';'))
    .map((line) => line.replace(/^\d+; \d+ \d+ /, '').replace(/ \S*$/, ''))

/**
 * Refuses a backup that holds anything besides Insel’s own tables: a function, trigger, rule, policy or view would change what is written
 * after it is restored.
 *
 * @param ownUrl an empty database with the schema that the backup should have
 * @throws Refusal that names what does not belong there
 */
export function refuseForeign(file: string, ownUrl: string): void {
  const folder = mkdtempSync(join(tmpdir(), 'insel-schema-'))
  try {
    const own = join(folder, 'own.backup')
    runPostgresProgram('pg_dump', ownUrl, ['--format=custom', '--schema-only', `--file=${own}`])
    const known = new Set(contentsOf(own).flatMap((entry) => [entry, entry.replace(/^(TABLE|SEQUENCE) /, dataOf)]))
    const foreign = contentsOf(file).filter((entry) => !known.has(entry))
    if (foreign.length === 0) return
    const named = foreign.slice(0, NAMED).map((entry) => entry.replaceAll(/[^\x20-\x7e]/g, '?').slice(0, 100))
    throw new Refusal(
      `${file} was not restored, since it holds more than Insel’s tables; nothing was changed.\n${named.join('\n')}${foreign.length > NAMED ? `\nand ${foreign.length - NAMED} more.` : ''}`,
    )
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/** What holds the rows of a table, or where a sequence is. */
const dataOf = (_: string, what: string) => (what === 'TABLE' ? 'TABLE DATA ' : 'SEQUENCE SET ')
