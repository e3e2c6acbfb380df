import { readCell } from '../csv.js'
import Papa from 'papaparse'
import { tooManyLines } from '../safe-text.js'
import { counted, numberStyleOf, readNumber, unitInHeading, type NumberStyle, type SizeHints, type SizeUnit } from '../../units/index.js'

/** What the columns of a table hold, as proposed from its headings or as a person chose. */
export interface TableMapping<C extends string> {
  readonly columns: readonly C[]
  /** The unit of each column's numbers where they have none themselves; undefined where it is not known. */
  readonly units: readonly (SizeUnit | '%' | undefined)[]
  /** How the file writes its numbers; undefined where its own cells do not tell. */
  readonly style: NumberStyle | undefined
}

/** A row of a file, with the line on which it begins, counted from 1: blank lines and line breaks within quotes count. */
export interface TableRow {
  readonly line: number
  readonly cells: readonly string[]
}

/** A table as read: its headings, its rows, and what its columns are thought to be. */
export interface Table<C extends string> {
  readonly headings: readonly string[]
  /** The line of the headings; what is above them is a title, and no row. */
  readonly headingLine: number
  readonly rows: readonly TableRow[]
  readonly proposed: TableMapping<C>
  /** A number that has two readings while the style is not known, such as `8,192`. */
  readonly ambiguous: string | undefined
  /** Columns that would hold what another holds already, and only one can: which of the two is for a person to say. */
  readonly asks: readonly ColumnAsk<C>[]
}

/** A column that would hold what another one holds. */
interface ColumnAsk<C extends string> {
  readonly at: number
  readonly column: C
  /** The place of the other one. */
  readonly like: number
}

/** How a kind of table is read. */
export interface TableReader<C extends string> {
  /** What each further line is, for the sentences: `a guest`. */
  readonly row: string
  readonly rowsMax: number
  readonly charactersMax: number
  /** The first that fits a heading and is not taken yet decides; of two headings the one that fits an earlier guess has it. */
  readonly guesses: readonly (readonly [heading: RegExp, column: C])[]
  readonly leaveOut: C
  /** Columns that hold numbers. */
  readonly numbers: ReadonlySet<C>
  /** Those of them whose sizes are as labels say them, in units of tens. */
  readonly labels?: ReadonlySet<C>
  /** What several columns may hold, each a part of it, such as disks. */
  readonly several?: ReadonlySet<C>
}

/** Cells looked at for how numbers are written: enough to meet one that tells. */
const STYLE_ROWS = 2000
/** The headings are looked for among so many rows: above them stand titles and dates. */
const HEADING_ROWS = 10

/**
 * The rows of a text of CSV with commas, semicolons or tabs; blank lines are none.
 *
 * @see RFC 4180
 * @example rowsIn('a,b\n\n1,2') // [{ line: 1, cells: ['a', 'b'] }, { line: 3, cells: ['1', '2'] }]
 */
export function rowsIn(text: string): readonly TableRow[] {
  const rows: TableRow[] = []
  let line = 1
  let read = 0
  Papa.parse<string[]>(text, {
    skipEmptyLines: false,
    step({ data, meta }) {
      if (data.some((cell) => cell.trim() !== '')) rows.push({ line, cells: data })
      for (; read < meta.cursor; read++) if (text[read] === '\n' || (text[read] === '\r' && text[read + 1] !== '\n')) line++
    },
  })
  return rows
}

/**
 * Reads CSV with commas, semicolons or tabs, the headings first.
 *
 * @returns the table, or a sentence on why there is none
 * @see RFC 4180
 */
export function readTable<C extends string>(text: string, reader: TableReader<C>): Table<C> | { readonly sentence: string } {
  return tableTooLong(text, reader.charactersMax, reader.rowsMax) ?? tableOf(rowsIn(text), reader)
}

/** Says so where a text has more characters than are read at once, or so many lines that its rows cannot be as few as are read. */
export function tableTooLong(text: string, most: number, rowsMax: number): { readonly sentence: string } | undefined {
  if (text.length > most)
    return {
      sentence: `This is ${(text.length / 1e6).toFixed(0)} MB; at most ${(most / 1e6).toFixed(0)} MB are read at once. Cut the table in two.`,
    }
  // Notes of several lines, titles and what is left empty have room.
  return tooManyLines(text, rowsMax * 4 + 1000) === undefined
    ? undefined
    : { sentence: `This has more lines than a table of ${counted(rowsMax, 'row')}, which is what is read at once. Cut the table in two.` }
}

/** Columns of a table; a line of thousands is no heading. */
const COLUMNS_MAX = 500

/**
 * What rows of a file are as a table: the headings are the row among the first that names most columns.
 *
 * @returns the table, or a sentence on why there is none
 */
export function tableOf<C extends string>(all: readonly TableRow[], reader: TableReader<C>): Table<C> | { readonly sentence: string } {
  const { at, headings, columns, asks } = headingsIn(all, reader)
  if (headings.length > COLUMNS_MAX)
    return {
      sentence: `The table has ${counted(headings.length, 'column')}; at most ${COLUMNS_MAX} are read. Leave out those that are not needed.`,
    }
  const rows = all.slice(at + 1)
  if (rows.length === 0) return { sentence: `There are no rows: the first line names the columns, and each further line is ${reader.row}.` }
  if (rows.length > reader.rowsMax)
    return { sentence: `The table has ${counted(rows.length, 'row')}; at most ${reader.rowsMax} are read at once. Cut the table in two.` }
  const numbers = rows
    .slice(0, STYLE_ROWS)
    .flatMap(({ cells }) => columns.flatMap((column, index) => (reader.numbers.has(column) ? (cells[index] ?? '').split('+') : [])))
  const style = numberStyleOf(numbers)
  return {
    headings: headings.map((heading) => heading.trim()),
    headingLine: all[at]?.line ?? 1,
    rows,
    proposed: {
      columns,
      units: headings.map((heading, at) => unitInHeading(heading, reader.labels?.has(columns[at] as C) ? 'label' : 'memory')),
      style,
    },
    ambiguous: style ? undefined : numbers.flatMap((cell) => ambiguousIn(cell) ?? [])[0],
    asks,
  }
}

/** What is a value, and no heading: a number, with a unit or without. */
const VALUE = /^\d[\d.,:/-]{0,40} ?[a-z%]{0,5}$/i

/** The headings of a table: the last row that they stand in, what they are, and what their columns hold. */
interface Headings<C extends string> {
  readonly at: number
  readonly headings: readonly string[]
  readonly columns: readonly C[]
  readonly asks: readonly ColumnAsk<C>[]
}

/**
 * The row of headings among the first rows, and what its columns hold: the first row, unless another names more columns, and more
 * than one, since a row of values may look like one heading. Two rows are one where together they name more than each: a heading over
 * several columns stands above theirs.
 */
export function headingsIn<C extends string>(all: readonly TableRow[], reader: TableReader<C>): Headings<C> {
  const heads = all
    .slice(0, HEADING_ROWS)
    .map(({ cells }, at) => ({ at, headings: cells, ...guessed(cells.slice(0, COLUMNS_MAX), reader) }))
  const known = ({ columns }: Pick<Headings<C>, 'columns'>) => columns.filter((column) => column !== reader.leaveOut).length
  const most = Math.max(...heads.map(known))
  const best = (most > 1 ? heads.find((head) => known(head) === most) : undefined) ?? heads[0]
  if (!best) return { at: 0, headings: [], columns: [], asks: [] }
  const pairs = heads.flatMap((upper) => {
    const lower = heads[upper.at + 1]
    if (!lower || lower.headings.some((cell) => VALUE.test(cell.trim()))) return []
    const headings = joined(upper.headings, lower.headings, (heading) => known(guessed([heading], reader)) > 0)
    return [{ at: lower.at, headings, ...guessed(headings.slice(0, COLUMNS_MAX), reader) }]
  })
  return pairs.find((pair) => known(pair) > Math.max(most, 1)) ?? best
}

/** Headings over two rows: what stands below, with what stands above it where that alone says nothing; a heading reaches right over what is empty. */
function joined(upper: readonly string[], lower: readonly string[], isKnown: (heading: string) => boolean): readonly string[] {
  let over = ''
  return Array.from({ length: Math.max(upper.length, lower.length) }, (_, at) => {
    const [above, below] = [(upper[at] ?? '').trim(), (lower[at] ?? '').trim()]
    if (above !== '') over = above
    if (below === '') return above
    return isKnown(below) ? below : `${above || over} ${below}`.trim()
  })
}

/**
 * What columns hold, by their headings; each column of a record is held by one, but for what several hold together. Where two would hold
 * the same, the one whose guess comes first has it, and the other what it fits next.
 */
function guessed<C extends string>(
  headings: readonly string[],
  { guesses, leaveOut, several }: TableReader<C>,
): Pick<Headings<C>, 'columns' | 'asks'> {
  const plain = headings.map((heading) => heading.trim().slice(0, 200))
  const fits = plain.map((heading) => (heading === '' ? [] : guesses.filter(([pattern]) => pattern.test(heading))))
  const columns: (C | undefined)[] = headings.map(() => undefined)
  const taken = new Map<C, number>()
  for (const guess of guesses)
    for (const [at, own] of fits.entries()) {
      const [, column] = guess
      if (columns[at] !== undefined || !own.includes(guess)) continue
      if (column === leaveOut ? own[0] !== guess : taken.has(column) && !several?.has(column)) continue
      columns[at] = column
      if (column !== leaveOut && !taken.has(column)) taken.set(column, at)
    }
  const asks = fits.flatMap((own, at): readonly ColumnAsk<C>[] => {
    const wanted = own[0]?.[1]
    const like = wanted === undefined ? undefined : taken.get(wanted)
    return columns[at] === undefined && wanted !== undefined && like !== undefined ? [{ at, column: wanted, like }] : []
  })
  return { columns: columns.map((column) => column ?? leaveOut), asks }
}

function ambiguousIn(cell: string): string | undefined {
  const [number = ''] = /\d[\d.,]*/.exec(cell) ?? []
  const reading = readNumber(number)
  return !reading.ok && reading.isAmbiguous ? number : undefined
}

/** The cells of a row by what its columns hold. */
export interface RowCells<C extends string> {
  /** The trimmed text of a column; undefined where no column holds it. */
  text(column: C): string | undefined
  /** Whether several columns hold it. */
  isOneOfSeveral(column: C): boolean
  /** Every text of a column that several hold, each with its place. */
  all(column: C): readonly (readonly [at: number, text: string])[]
  /** The unit of its numbers, where they have none themselves. @param at the place of one of several that hold it */
  unit(column: C, at?: number): SizeUnit | '%' | undefined
  /** What is known of its sizes. @param at the place of one of several that hold it */
  hints(column: C, at?: number): SizeHints
}

/** Gives the cells of a row by what its columns hold. */
export function cellsOf<C extends string>(row: readonly string[], { columns, units, style }: TableMapping<C>): RowCells<C> {
  const first = (column: C) => columns.indexOf(column)
  const clean = (at: number) => readCell(row[at] ?? '')
  return {
    text: (column) => (first(column) < 0 ? undefined : clean(first(column))),
    isOneOfSeveral: (column) => columns.indexOf(column) !== columns.lastIndexOf(column),
    all: (column) => columns.flatMap((one, at) => (one === column && clean(at) !== '' ? [[at, clean(at)] as const] : [])),
    unit: (column, at = first(column)) => units[at],
    hints(column, at = first(column)) {
      const unit = units[at]
      return { unit: unit === undefined || unit === '%' ? 'ask' : unit, style }
    },
  }
}
