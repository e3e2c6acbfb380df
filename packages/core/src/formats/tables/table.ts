import Papa from 'papaparse'
import { counted, numberStyleOf, readNumber, unitInHeading, type NumberStyle, type SizeHints, type SizeUnit } from '../../units/index.js'

/** What the columns of a table hold, as proposed from its headings or as a person chose. */
export interface TableMapping<C extends string> {
  readonly columns: readonly C[]
  /** The unit of each column's numbers where they have none themselves; undefined where it is not known. */
  readonly units: readonly (SizeUnit | '%' | undefined)[]
  /** How the file writes its numbers; undefined where its own cells do not tell. */
  readonly style: NumberStyle | undefined
}

/** A table as read: its headings, its rows, and what its columns are thought to be. */
export interface Table<C extends string> {
  readonly headings: readonly string[]
  readonly rows: readonly (readonly string[])[]
  readonly proposed: TableMapping<C>
  /** A number that has two readings while the style is not known, such as `8,192`. */
  readonly ambiguous: string | undefined
}

/** How a kind of table is read. */
export interface TableReader<C extends string> {
  /** What each further line is, for the sentences: `a guest`. */
  readonly row: string
  readonly rowsMax: number
  readonly charactersMax: number
  /** The first that fits a heading and is not taken yet decides. */
  readonly guesses: readonly (readonly [heading: RegExp, column: C])[]
  readonly leaveOut: C
  /** Columns that hold numbers. */
  readonly numbers: ReadonlySet<C>
}

/** Cells looked at for how numbers are written: enough to meet one that tells. */
const STYLE_ROWS = 2000

/**
 * Reads CSV with commas, semicolons or tabs, the headings first.
 *
 * @returns the table, or a sentence on why there is none
 * @see RFC 4180
 */
export function readTable<C extends string>(text: string, reader: TableReader<C>): Table<C> | { readonly sentence: string } {
  if (text.length > reader.charactersMax)
    return {
      sentence: `This is ${(text.length / 1e6).toFixed(0)} MB; at most ${(reader.charactersMax / 1e6).toFixed(0)} MB are read at once. Cut the table in two.`,
    }
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy' })
  const [headings = [], ...rows] = data
  if (rows.length === 0) return { sentence: `There are no rows: the first line names the columns, and each further line is ${reader.row}.` }
  if (rows.length > reader.rowsMax)
    return { sentence: `The table has ${counted(rows.length, 'row')}; at most ${reader.rowsMax} are read at once. Cut the table in two.` }
  const taken = new Set<C>()
  const columns = headings.map((heading): C => {
    const plain = heading.trim().slice(0, 200)
    const guess = reader.guesses.find(([pattern, column]) => pattern.test(plain) && !taken.has(column))?.[1] ?? reader.leaveOut
    if (guess !== reader.leaveOut) taken.add(guess)
    return guess
  })
  const numbers = rows
    .slice(0, STYLE_ROWS)
    .flatMap((row) => columns.flatMap((column, at) => (reader.numbers.has(column) ? (row[at] ?? '').split('+') : [])))
  const style = numberStyleOf(numbers)
  return {
    headings,
    rows,
    proposed: { columns, units: headings.map(unitInHeading), style },
    ambiguous: style ? undefined : numbers.flatMap((cell) => ambiguousIn(cell) ?? [])[0],
  }
}

function ambiguousIn(cell: string): string | undefined {
  const [number = ''] = /\d[\d.,]*/.exec(cell) ?? []
  const reading = readNumber(number)
  return !reading.ok && reading.isAmbiguous ? number : undefined
}

/**
 * Gives the cells of a row by what its columns hold.
 *
 * @returns for a column: its trimmed text, undefined where no column holds it; and what is known of its sizes
 */
export function cellsOf<C extends string>(row: readonly string[], { columns, units, style }: TableMapping<C>) {
  const at = (column: C) => columns.indexOf(column)
  return {
    // A quote before a sign is how a formula was defused.
    text: (column: C): string | undefined => (at(column) < 0 ? undefined : (row[at(column)] ?? '').trim().replace(/^'(?=[=+\-@])/, '')),
    unit: (column: C): SizeUnit | '%' | undefined => units[at(column)],
    hints(column: C): SizeHints {
      const unit = units[at(column)]
      return { unit: unit === undefined || unit === '%' ? 'ask' : unit, style }
    },
  }
}
