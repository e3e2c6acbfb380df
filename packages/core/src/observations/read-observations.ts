import Papa from 'papaparse'
import type { Estate } from '../estate/index.js'
import { MiB } from '../units/index.js'
import { sampleProblem, type Sample } from './sample.js'

/** What a column of a table of observations holds. */
export const observationColumns = [
  'time',
  'name',
  'cpu %',
  'memory MiB',
  'memory GiB',
  'memory bytes',
  'disk bytes',
  'disk GiB',
  'leave out',
] as const
export type ObservationColumn = (typeof observationColumns)[number]

/** A table as read, before anybody said what its columns are. */
export interface ObservationTable {
  readonly headings: readonly string[]
  readonly rows: readonly (readonly string[])[]
  /** What each column is thought to be, by its heading. */
  readonly proposed: readonly ObservationColumn[]
}

/** An observation of a guest or store of the estate. */
export interface Observed {
  readonly subjectId: string
  readonly sample: Sample
}

/** What a table says, and the lines that cannot be taken. */
export interface ObservationReading {
  readonly observed: readonly Observed[]
  readonly rejected: readonly { readonly line: number; readonly reason: string }[]
}

/** The most rows that are read at once. */
export const OBSERVATION_ROWS_MAX = 200_000

const guesses: readonly (readonly [RegExp, ObservationColumn])[] = [
  [/time|date|when|^at$/i, 'time'],
  [/guest|name|machine|server|store/i, 'name'],
  [/cpu|processor/i, 'cpu %'],
  [/mem.*(gib|gb)|ram.*(gib|gb)/i, 'memory GiB'],
  [/mem.*(mib|mb)|ram.*(mib|mb)/i, 'memory MiB'],
  [/mem|ram/i, 'memory bytes'],
  [/disk.*(gib|gb)|used.*(gib|gb)/i, 'disk GiB'],
  [/disk|storage|used/i, 'disk bytes'],
]

/**
 * Reads a table of observations: CSV with commas, semicolons or tabs, the headings first.
 *
 * @example readObservationTable('time;guest;cpu %\n…').proposed // ['time', 'name', 'cpu %']
 * @see RFC 4180
 */
export function readObservationTable(text: string): ObservationTable | { readonly sentence: string } {
  if (text.length > 50_000_000) return { sentence: `This is ${(text.length / 1e6).toFixed(0)} MB; at most 50 MB are read at once.` }
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy' })
  const [headings = [], ...rows] = data
  if (rows.length === 0)
    return { sentence: 'There are no rows: the first line names the columns, and each further line is an observation.' }
  if (rows.length > OBSERVATION_ROWS_MAX)
    return { sentence: `These are ${rows.length} rows; at most ${OBSERVATION_ROWS_MAX} are read at once. Cut the table in two.` }
  const taken = new Set<ObservationColumn>()
  const proposed = headings.map((heading): ObservationColumn => {
    const guess = guesses.find(([pattern, column]) => pattern.test(heading) && !taken.has(column))?.[1] ?? 'leave out'
    if (guess !== 'leave out') taken.add(guess)
    return guess
  })
  return { headings, rows, proposed }
}

/**
 * What a table says under a mapping of its columns. Times without a zone are taken as UTC, as the page says.
 *
 * @param columns what each column holds
 * @param subjectId the guest or store that is meant where no column names one
 * @param now nothing is measured later than this
 */
export function mapObservations(
  estate: Estate,
  table: ObservationTable,
  columns: readonly ObservationColumn[],
  subjectId: string | undefined,
  now: string,
): ObservationReading {
  const at = (column: ObservationColumn) => columns.indexOf(column)
  const byName = new Map([...estate.all('store'), ...estate.all('guest')].map(({ id, name }) => [name.toLowerCase(), id] as const))
  const observed: Observed[] = []
  const rejected: { line: number; reason: string }[] = []
  for (const [index, row] of table.rows.entries()) {
    const cell = (column: ObservationColumn) => (at(column) < 0 ? '' : (row[at(column)] ?? '').trim())
    const result = readRow(cell, (name) => byName.get(name.toLowerCase()), subjectId, now)
    // The heading is line 1.
    if ('reason' in result) rejected.push({ line: index + 2, reason: result.reason })
    else observed.push(result)
  }
  return { observed, rejected }
}

function readRow(
  cell: (column: ObservationColumn) => string,
  idOf: (name: string) => string | undefined,
  subjectId: string | undefined,
  now: string,
): Observed | { readonly reason: string } {
  const name = cell('name')
  const id = name === '' ? subjectId : idOf(name)
  if (!id) return { reason: name === '' ? 'No guest or store is named.' : `There is no guest or store “${name}”.` }
  const time = instantOf(cell('time'))
  if (!time) return { reason: `“${cell('time')}” is no time such as 2027-01-18 08:00.` }
  let wrong: string | undefined
  const number = (column: ObservationColumn, factor = 1): number | undefined => {
    const text = cell(column).replace(/\s|%$/g, '').replace(',', '.')
    if (text === '') return undefined
    const value = Number(text) * factor
    if (Number.isNaN(value)) wrong ??= `“${cell(column)}” in the column ${column} is no number.`
    return value
  }
  const memory = number('memory MiB') ?? number('memory GiB', 1024) ?? number('memory bytes', 1 / MiB)
  const disk = number('disk bytes') ?? number('disk GiB', 1024 * MiB)
  const sample: Sample = {
    at: time,
    cpuPercent: number('cpu %') ?? null,
    memoryMiB: memory === undefined ? null : Math.round(memory),
    diskBytes: disk === undefined ? null : Math.round(disk),
  }
  const problem = wrong ?? sampleProblem(sample, now)
  return problem ? { reason: problem } : { subjectId: id, sample }
}

/** A time as tables write it: ISO 8601 with T or a blank, or seconds since 1970; without a zone it is UTC. */
function instantOf(text: string): string | undefined {
  if (/^\d{9,10}$/.test(text)) return new Date(Number(text) * 1000).toISOString()
  const match = /^(\d{4}-\d\d-\d\d)(?:[T ](\d\d:\d\d(?::\d\d(?:\.\d+)?)?))?\s*(Z|[+-]\d\d:?\d\d)?$/.exec(text)
  if (!match) return undefined
  const time = Date.parse(`${match[1] ?? ''}T${match[2] ?? '00:00'}${match[3] ?? 'Z'}`)
  return Number.isNaN(time) ? undefined : new Date(time).toISOString()
}
