import { attempt, type Command, type CommandContext } from '../../commands/index.js'
import { dayOf, type Estate } from '../../estate/index.js'
import { cellsOf, headingsIn, rowsIn, tableOf, tableTooLong, type Table, type TableMapping, type TableRow } from '../../formats/index.js'
import { carryOut, type Task } from '../../tasks/index.js'
import { counted } from '../../units/index.js'
import { SUMS } from './headings.js'
import { addressTable } from './addresses.js'
import { guestTable } from './guests.js'
import { hostTable } from './hosts.js'
import { networkTable } from './networks.js'
import { RowNotes, tableNames, type RowContext, type RowProblem, type StateOfNew, type TableKind, type TableName } from './row.js'

/** Every kind of table. */
export const tableKinds = { network: networkTable, host: hostTable, guest: guestTable, address: addressTable } as unknown as Readonly<
  Record<TableName, TableKind>
>

/** A table of a file before anything is known of it: a text has one, a workbook one for each of its sheets. */
export interface SourceTable {
  /** The sheet it is on; empty for a text. */
  readonly name: string
  readonly rows: readonly TableRow[]
}

/** A table with what its rows and columns are. */
export interface MappedTable extends Table<string> {
  readonly name: string
  readonly holds: TableName
  /** How it was guessed what it holds: of how many of its columns that is known, for each that it may be, the likeliest first. */
  readonly guess?: readonly { readonly holds: TableName; readonly columns: number }[]
  readonly mapping: TableMapping<string>
}

/** What becomes of a row. */
export interface RowOutcome {
  /** Which of the tables it is in, from 0. */
  readonly table: number
  /** Its line in the file. */
  readonly line: number
  /** What it names; empty where that cannot be read. */
  readonly name: string
  readonly is: 'new' | 'changed' | 'as recorded' | 'refused'
  /** Everything for which it is refused. */
  readonly problems: readonly RowProblem[]
  /** What is recorded otherwise than it is written, or left as it is. */
  readonly remarks: readonly string[]
}

/** A column with something in it that holds nothing; it is asked about where it would hold what another holds already. */
interface ColumnLeftOut {
  readonly table: number
  readonly heading: string
  readonly cells: number
  readonly ask?: { readonly column: string; readonly like: string }
}

/** What tables would record, row by row. */
export interface TablesImport {
  readonly commands: readonly Command[]
  readonly rows: readonly RowOutcome[]
  /** Columns with something in them that hold nothing: by table, what they are called and how many cells. */
  readonly leftOut: readonly ColumnLeftOut[]
}

/** What an import comes to, in short. */
export interface ImportSummary {
  readonly added: readonly string[]
  readonly changed: readonly string[]
  readonly same: number
  readonly rejected: readonly { readonly line: number; readonly reason: string }[]
}

/** @example summaryOf(imported).rejected[0] // { line: 4, reason: 'web-1: There is no host “nowhere”.' } */
export const summaryOf = ({ rows }: TablesImport): ImportSummary => ({
  added: rows.filter(({ is }) => is === 'new').map(({ name }) => name),
  changed: rows.filter(({ is }) => is === 'changed').map(({ name }) => name),
  same: rows.filter(({ is }) => is === 'as recorded').length,
  rejected: rows.flatMap(({ is, line, name, problems }) =>
    is === 'refused' ? [{ line, reason: `${name ? `${name}: ` : ''}${problems.map(({ sentence }) => sentence).join(' ')}` }] : [],
  ),
})

/** The most rows of a table that are read at once. */
export const TABLE_ROWS_MAX = 5000
const CHARACTERS_MAX = 10_000_000
/** The most commands that tables of one file may come to. */
const COMMANDS_MAX = 25_000
const JUDGED_AT_ONCE = 100
const WORDS: Readonly<Record<TableName, string>> = { network: 'a network', host: 'a host', guest: 'a guest', address: 'an address' }

const readerOf = (holds: TableName) => ({
  row: WORDS[holds],
  rowsMax: TABLE_ROWS_MAX,
  charactersMax: CHARACTERS_MAX,
  guesses: tableKinds[holds].guesses,
  leaveOut: 'leave out',
  numbers: tableKinds[holds].sizes,
  labels: tableKinds[holds].labels,
  several: tableKinds[holds].several,
})

/**
 * What the tables of a file are: for each, what its rows hold, as its headings and the name of its sheet say, and what its columns.
 *
 * @param only what they hold, where that is known
 * @returns the tables, and a sentence for each that is none
 */
export function readTables(
  sources: readonly SourceTable[],
  only?: TableName,
): { readonly tables: readonly MappedTable[]; readonly none: readonly { readonly name: string; readonly sentence: string }[] } {
  const tables: MappedTable[] = []
  const none: { name: string; sentence: string }[] = []
  for (const source of sources) {
    const guess = guessOf(source)
    const holds = only ?? guess[0]?.holds ?? 'guest'
    const table = tableOf(source.rows, readerOf(holds))
    if ('sentence' in table) none.push({ name: source.name, sentence: table.sentence })
    else tables.push({ ...table, name: source.name, holds, guess, mapping: table.proposed })
  }
  return { tables, none }
}

/** What a table may hold: that first of which its headings name most columns, and of several the one that its sheet is called by. */
function guessOf({ name, rows }: SourceTable): NonNullable<MappedTable['guess']> {
  // Guests are what most tables hold: of equals they come first.
  return (['guest', 'host', 'network', 'address'] as const)
    .map((holds) => {
      const columns = headingsIn(rows, readerOf(holds)).columns.filter((column) => column !== 'leave out')
      const isSaid = tableKinds[holds].sheetName.test(name)
      return {
        holds,
        columns: columns.length,
        score: columns.length + (isSaid ? 2.5 : 0) + (columns.includes(holds === 'address' ? 'address' : 'name') ? 0.5 : 0),
      }
    })
    .toSorted((a, b) => b.score - a.score)
    .map(({ holds, columns }) => ({ holds, columns }))
}

/**
 * The one table of a text of CSV.
 *
 * @returns it, or a sentence where the text is too long to be read at once
 */
export const sourceOf = (text: string): SourceTable | { readonly sentence: string } =>
  tableTooLong(text, CHARACTERS_MAX, TABLE_ROWS_MAX) ?? { name: '', rows: rowsIn(text) }

/**
 * What tables would record in an estate: networks first, then hosts, guests and addresses, so that a table may name what another
 * brings. A known name changes what it names, another adds it. Every row is read to its end, with all that is wrong with it; what a
 * row asks for is judged as any command is, and a row that is refused leaves the others as they are.
 *
 * Its progress is how many rows are read.
 */
export const tablesImport: Task<TablesGiven, number, TablesImport> = { run: readingTables }

/** The same in one go. @example importTables(estate, tables, context).commands */
export const importTables = (
  estate: Estate,
  tables: readonly MappedTable[],
  context: CommandContext,
  stateOfNew?: StateOfNew,
): TablesImport => carryOut(tablesImport, estate, { tables, context, stateOfNew })

/** What tables are imported, and how. */
export interface TablesGiven {
  readonly tables: readonly MappedTable[]
  /** Ids for the new records, and the time. */
  readonly context: CommandContext
  /** The state of new guests for which the table has none; for those that exist no MAC is made up. Planned, where it is left out. */
  readonly stateOfNew?: StateOfNew | undefined
}

function* readingTables(estate: Estate, { tables, context, stateOfNew = 'planned' }: TablesGiven): Generator<number, TablesImport> {
  const builder = estate.edit()
  const commands: Command[] = []
  const rows: RowOutcome[] = []
  const of: Omit<RowContext, 'estate'> = { ids: context, today: dayOf(estate, context.now), stateOfNew }
  for (const holds of tableNames) {
    const seen = new Set<string>()
    for (const [at, table] of tables.entries()) {
      if (table.holds !== holds) continue
      const kind = tableKinds[holds]
      // Rows of networks build on each other; of what else there is, many are judged together, which is quicker.
      const step = holds === 'network' ? 1 : JUDGED_AT_ONCE
      for (let first = 0; first < table.rows.length; first += step) {
        const some = table.rows.slice(first, first + step)
        let left = COMMANDS_MAX - commands.length
        const read = some.map((row) => {
          const outcome = readRow(kind, table, row, { ...of, estate: builder.estate }, seen)
          left -= outcome.commands.length
          return left >= 0 || outcome.commands.length === 0 ? outcome : tooMany(outcome)
        })
        for (const [index, done] of judged(read).entries()) {
          rows.push({
            table: at,
            line: some[index]?.line ?? 0,
            name: done.name,
            is: done.is,
            problems: done.problems,
            remarks: done.remarks,
          })
          if (done.is === 'new' || done.is === 'changed') commands.push(...done.commands)
        }
        yield rows.length
      }
    }
  }
  return { commands, rows: rows.toSorted((a, b) => a.table - b.table || a.line - b.line), leftOut: leftOutOf(tables) }

  /** Rows as the estate takes them, after those before them: together, or one by one where one of them is refused. */
  function judged(read: readonly Outcome[]): readonly Outcome[] {
    const all = read.flatMap((outcome) => outcome.commands)
    return all.length === 0 || attempt(builder, all, context).ok ? read : read.map(judgedAlone)
  }

  function judgedAlone(outcome: Outcome): Outcome {
    if (outcome.commands.length === 0) return outcome
    const tried = attempt(builder, outcome.commands, context)
    if (tried.ok) return outcome
    const { problems, message } = tried.refusal
    const sentences = problems.length > 0 ? problems.map((problem) => problem.message) : [message]
    return { ...outcome, is: 'refused', problems: sentences.map((sentence) => ({ sentence })) }
  }
}

const tooMany = (outcome: Outcome): Outcome => ({
  ...outcome,
  is: 'refused',
  problems: [{ sentence: `The tables come to more than ${counted(COMMANDS_MAX, 'change')} at once. Cut them in two here.` }],
  commands: [],
})

type Outcome = Omit<RowOutcome, 'table' | 'line'> & { readonly commands: readonly Command[] }

function readRow(
  kind: TableKind,
  { mapping, headings }: MappedTable,
  { cells }: TableRow,
  context: RowContext,
  seen: Set<string>,
): Outcome {
  const inColumns = cellsOf(cells, mapping)
  const notes = new RowNotes(inColumns, headings, context)
  const sum = sumIn(cells, inColumns.text('name'))
  if (sum !== undefined) {
    notes.refuse('name', `“${sum}” reads like a sum of the rows above. Leave the row out, or give it another name.`)
    return { name: '', is: 'refused', problems: notes.problems, remarks: [], commands: [] }
  }
  const read = kind.read(inColumns, notes, context)
  const key = read?.name.toLowerCase()
  // A network may have several lines, one for each of its subnets.
  if (key !== undefined && seen.has(key) && kind.holds !== 'network')
    notes.refuse('name', `${read?.name ?? ''} appears twice in the tables.`)
  if (key !== undefined) seen.add(key)
  const isRefused = notes.problems.length > 0 || read === undefined
  const is = isRefused ? 'refused' : read.commands.length === 0 ? 'as recorded' : read.isKnown ? 'changed' : 'new'
  return { name: read?.name ?? '', is, problems: notes.problems, remarks: notes.remarks, commands: isRefused ? [] : read.commands }
}

/** What a row that sums up others is called: in the column of the names, or where that is empty in another. */
function sumIn(cells: readonly string[], name: string | undefined): string | undefined {
  const places = name ? [name] : cells
  return places.map((cell) => cell.trim()).find((cell) => cell.length < 80 && SUMS.test(cell))
}

/** What stands in columns that hold nothing, so that nothing of a file goes without a word. */
const leftOutOf = (tables: readonly MappedTable[]): TablesImport['leftOut'] =>
  tables.flatMap(({ rows, headings, mapping, asks }, table) =>
    Array.from({ length: Math.max(headings.length, ...rows.map(({ cells }) => cells.length)) }, (_, at) => at)
      .filter((at) => (mapping.columns[at] ?? 'leave out') === 'leave out')
      .flatMap((at) => {
        const cells = rows.filter((row) => (row.cells[at] ?? '').trim() !== '').length
        const ask = asks.find((one) => one.at === at && mapping.columns[one.like] === one.column)
        const like = ask && (headings[ask.like] || `column ${ask.like + 1}`)
        return cells > 0
          ? [{ table, heading: headings[at] || `column ${at + 1}`, cells, ...(ask && like ? { ask: { column: ask.column, like } } : {}) }]
          : []
      }),
  )
