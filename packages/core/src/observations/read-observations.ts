import type { Estate } from '../estate/index.js'
import { cellsOf, readTable, type Table, type TableMapping } from '../formats/index.js'
import { MiB, parseSize, readNumber } from '../units/index.js'
import { sampleProblem, type Sample } from './sample.js'

/** What a column of a table of observations holds. */
export const observationColumns = ['time', 'name', 'cpu %', 'memory', 'disk', 'leave out'] as const
export type ObservationColumn = (typeof observationColumns)[number]
/** Columns whose numbers are sizes or, with the unit %, shares of what the machine has. */
export const observationSizeColumns: ReadonlySet<ObservationColumn> = new Set(['memory', 'disk'])

export type ObservationTable = Table<ObservationColumn>

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
const OBSERVATION_ROWS_MAX = 200_000

const guesses: readonly (readonly [RegExp, ObservationColumn])[] = [
  [/time|date|when|^at$/i, 'time'],
  [/guest|name|machine|server|store/i, 'name'],
  // A clock rate is no share of the processors.
  [/\b[mg]hz\b/i, 'leave out'],
  [/cpu|processor/i, 'cpu %'],
  [/mem|ram/i, 'memory'],
  [/disk|storage|used/i, 'disk'],
]

/**
 * Reads a table of observations: CSV with commas, semicolons or tabs, the headings first.
 *
 * @example readObservationTable('time;guest;memory (GB)\n…').proposed.units // [undefined, undefined, 'GiB']
 * @see RFC 4180
 */
export const readObservationTable = (text: string): ObservationTable | { readonly sentence: string } =>
  readTable<ObservationColumn>(text, {
    row: 'an observation',
    rowsMax: OBSERVATION_ROWS_MAX,
    charactersMax: 50_000_000,
    guesses,
    leaveOut: 'leave out',
    numbers: new Set(['cpu %', 'memory', 'disk']),
  })

/**
 * What a table says under a mapping of its columns. Times without a zone are taken as UTC, as the page says.
 *
 * @param mapping what each column holds, and in which unit
 * @param subjectId the guest or store that is meant where no column names one
 * @param now nothing is measured later than this
 */
export function mapObservations(
  estate: Estate,
  table: ObservationTable,
  mapping: TableMapping<ObservationColumn>,
  subjectId: string | undefined,
  now: string,
): ObservationReading {
  const byName = new Map([...estate.all('store'), ...estate.all('guest')].map(({ id, name }) => [name.toLowerCase(), id] as const))
  const observed: Observed[] = []
  const rejected: { line: number; reason: string }[] = []
  for (const { line, cells } of table.rows) {
    const result = readRow(estate, cellsOf(cells, mapping), (name) => byName.get(name.toLowerCase()), subjectId, now)
    if ('reason' in result) rejected.push({ line, reason: result.reason })
    else observed.push(result)
  }
  return { observed, rejected }
}

function readRow(
  estate: Estate,
  cells: ReturnType<typeof cellsOf<ObservationColumn>>,
  idOf: (name: string) => string | undefined,
  subjectId: string | undefined,
  now: string,
): Observed | { readonly reason: string } {
  const name = cells.text('name') ?? ''
  const id = name === '' ? subjectId : idOf(name)
  if (!id) return { reason: name === '' ? 'No guest or store is named.' : `There is no guest or store “${name}”.` }
  const timeText = cells.text('time') ?? ''
  const time = instantOf(timeText)
  if (!time) return { reason: `“${timeText}” is not a time such as 2027-01-18 08:00.` }
  const whole = wholesOf(estate, id)
  const cpu = share(cells.text('cpu %') ?? '', cells)
  const memory = amount('memory', cells, whole.memory)
  const disk = amount('disk', cells, whole.disk)
  for (const one of [cpu, memory, disk]) if (typeof one === 'object' && one !== null) return one
  const sample: Sample = {
    at: time,
    cpuPercent: cpu as number | null,
    memoryMiB: memory === null ? null : Math.round((memory as number) / MiB),
    diskBytes: disk === null ? null : Math.round(disk as number),
  }
  const problem = sampleProblem(sample, now)
  return problem ? { reason: problem } : { subjectId: id, sample }
}

/** What a percentage of memory or disk is a percentage of, bytes; undefined where nothing is recorded. */
function wholesOf(estate: Estate, id: string): { readonly memory: number | undefined; readonly disk: number | undefined } {
  const guest = estate.find('guest', id)
  const store = estate.find('store', id)
  const disks = estate.referring('disk', 'guestId', id).reduce((sum, { sizeBytes }) => sum + sizeBytes, 0)
  return { memory: guest && guest.memoryMiB * MiB, disk: store?.capacityBytes ?? (disks > 0 ? disks : undefined) }
}

type Cell = number | null | { readonly reason: string }

/** A percentage, with or without its sign. */
function share(text: string, cells: ReturnType<typeof cellsOf<ObservationColumn>>): Cell {
  if (text === '') return null
  const reading = readNumber(text.endsWith('%') ? text.slice(0, -1) : text, cells.hints('cpu %').style)
  return reading.ok ? reading.value : { reason: reading.isAmbiguous ? reading.sentence : `“${text}” is not a percentage.` }
}

/** Bytes in a cell: a size, or a share of what the machine has. */
function amount(column: 'memory' | 'disk', cells: ReturnType<typeof cellsOf<ObservationColumn>>, whole: number | undefined): Cell {
  const text = cells.text(column) ?? ''
  if (text === '') return null
  if (text.endsWith('%') || (cells.unit(column) === '%' && /^[\d.,\s]+$/.test(text))) {
    const percent = share(text, cells)
    if (typeof percent !== 'number') return percent
    if (percent > 100) return { reason: `${text} of ${column} is more than all of it; is the column in percent?` }
    return whole === undefined
      ? { reason: `${text} of ${column} cannot be used, since no size is recorded for it.` }
      : (percent / 100) * whole
  }
  // An empty disk or store is a measurement; other readers of sizes refuse nothing of something.
  if (/^0+([.,]0+)?$/.test(text)) return 0
  const reading = parseSize(text, column, cells.hints(column))
  return reading.ok ? reading.bytes : { reason: reading.sentence }
}

/** A time as tables write it: ISO 8601 with T or a blank, or seconds since 1970; without a zone it is UTC. */
function instantOf(text: string): string | undefined {
  if (/^\d{9,10}$/.test(text)) return new Date(Number(text) * 1000).toISOString()
  const match = /^(\d{4}-\d\d-\d\d)(?:[T ](\d\d:\d\d(?::\d\d(?:\.\d+)?)?))?\s*(Z|[+-]\d\d:?\d\d)?$/.exec(text)
  if (!match) return undefined
  const time = Date.parse(`${match[1] ?? ''}T${match[2] ?? '00:00'}${match[3] ?? 'Z'}`)
  return Number.isNaN(time) ? undefined : new Date(time).toISOString()
}
