import type { Command, IdMaker } from '../../commands/index.js'
import { changedFields, kinds, readField, type AnyRecord, type Estate, type Field, type Subnet } from '../../estate/index.js'
import { present, type RowCells } from '../../formats/index.js'
import { subnetHolding } from '../../networks/index.js'
import { counted, parseSize, readDay, type SizeContext, type SizeReading } from '../../units/index.js'
import { plainName } from '../plain-name.js'

/** Why a cell, or a row as a whole, cannot be taken. */
export interface RowProblem {
  /** The column it is in; undefined where it is the row. */
  readonly column?: string
  readonly sentence: string
}

/** What the rows of a table are, in the order in which they are recorded: what is named by others comes first. */
export const tableNames = ['network', 'host', 'guest', 'address'] as const
export type TableName = (typeof tableNames)[number]

/** The most sizes of one cell: more than any machine’s disks, and little enough to be worked out for each of thousands of rows. */
const SIZES_MAX = 64

/** The states that new guests have where their table says none. */
export const statesOfNew = ['planned', 'running', 'stopped'] as const
export type StateOfNew = (typeof statesOfNew)[number]

/** What a row is read with. */
export interface RowContext {
  readonly estate: Estate
  readonly ids: IdMaker
  /** The day it is, `YYYY-MM-DD`, for words such as today. */
  readonly today: string
  readonly stateOfNew: StateOfNew
}

/** What a row comes to: the commands that record it, and what it is called. */
interface RowRead {
  readonly name: string
  /** Whether what it names is recorded already. */
  readonly isKnown: boolean
  readonly commands: readonly Command[]
}

/** A kind of table that comes in. */
export interface TableKind<C extends string = string> {
  /** What its rows are. */
  readonly holds: TableName
  readonly columns: readonly C[]
  /** The first that fits a heading and is not taken yet decides. */
  readonly guesses: readonly (readonly [heading: RegExp, column: C])[]
  readonly sizes: ReadonlySet<C>
  /** Those of them that hold what drives' labels say. */
  readonly labels?: ReadonlySet<C>
  /** What several columns may hold, each a part of it. */
  readonly several?: ReadonlySet<C>
  /** Names of a sheet of a workbook on which such a table stands. */
  readonly sheetName: RegExp
  read(cells: RowCells<C>, notes: RowNotes<C>, context: RowContext): RowRead | undefined
}

/** What is said of a row while it is read: everything that is wrong with it, and what is taken otherwise than it is written. */
export class RowNotes<C extends string> {
  readonly problems: RowProblem[] = []
  readonly remarks: string[] = []

  constructor(
    private readonly cells: RowCells<C>,
    private readonly headings: readonly string[],
    private readonly context: RowContext,
  ) {}

  refuse(column: C | undefined, sentence: string): void {
    this.problems.push({ ...(column === undefined ? {} : { column }), sentence })
  }

  remark(sentence: string): void {
    this.remarks.push(sentence)
  }

  /** The text of a column; undefined where no column holds it, or its cell is empty. */
  text(column: C): string | undefined {
    return this.cells.text(column) || undefined
  }

  /** The words of a column that lists several. */
  list(column: C): readonly string[] {
    return this.cells.all(column).flatMap(([, text]) => text.split(/[\s,;]+/).filter(Boolean))
  }

  /** A value of a field as the cell has it; undefined where there is none, or it is none. */
  field<T>(column: C, field: Field, value: unknown = this.text(column)): T | undefined {
    if (value === undefined) return undefined
    const reading = readField(field, value)
    if (reading.ok) return reading.value as T
    this.refuse(column, reading.sentence)
    return undefined
  }

  /** A day, in any of the forms people write. */
  day(column: C, field: Field): string | undefined {
    const text = this.text(column)
    if (text === undefined) return undefined
    const reading = readDay(text, this.context.today)
    if (reading.ok) return this.field(column, field, reading.day)
    this.refuse(column, `${reading.sentence}.`)
    return undefined
  }

  whole(column: C, field: Field): number | undefined {
    const text = this.text(column)
    if (text === undefined) return undefined
    // Spreadsheets write whole numbers with decimals, too.
    const [, whole] = /^([-−]?\d+)(?:[.,]0{1,2})?$/.exec(text) ?? []
    if (whole !== undefined) return this.field(column, field, Number(whole.replace('−', '-')))
    this.refuse(column, `“${text}” is not a whole number.`)
    return undefined
  }

  size(column: C, context: SizeContext, text = this.text(column), at?: number): number | undefined {
    if (text === undefined) return undefined
    const reading = this.#size(text, column, context, at)
    if (reading.ok) return reading.bytes
    this.refuse(column, reading.sentence)
    return undefined
  }

  /** Sizes of all columns that hold them, parted by `+`, at most `SIZES_MAX` of them, each with a number before it where there are several alike: `2 x 4 TB + 480 GB`. */
  sizes(column: C, context: SizeContext): readonly number[] {
    const parts = this.cells.all(column).flatMap(([at, text]) =>
      text
        .split('+')
        .map((part) => [at, part.trim()] as const)
        // In a column of its own, a disk that is not there is 0 or a dash.
        .filter(([, part]) => part !== '' && !(this.cells.isOneOfSeveral(column) && /^(?:0|-|–)$/.test(part))),
    )
    const sizes: number[] = []
    for (const [at, part] of parts) {
      const [, count = '1', one = part] = /^(\d{1,3}) ?[x×*] ?(\S.*)$/i.exec(part) ?? []
      if (sizes.length + Number(count) > SIZES_MAX) {
        this.refuse(column, `A row can have at most ${counted(SIZES_MAX, 'disk')}; split it, or add the others afterwards.`)
        return []
      }
      const bytes = this.size(column, context, one, at)
      if (bytes !== undefined) for (let at = 0; at < Number(count); at++) sizes.push(bytes)
    }
    return sizes
  }

  /** The record of a name, whatever its case. */
  named(kind: 'host' | 'store' | 'platform', column: C): string | null | undefined {
    const text = this.cells.text(column)
    if (text === undefined) return undefined
    if (text === '' || text === '-') return null
    const [found] = this.context.estate.byKey(kind, { name: text })
    if (found) return found.id
    this.refuse(column, `There is no ${kinds[kind].label} “${text}”.`)
    return undefined
  }

  /** A network by its name or, where it is the only one, by its VLAN. */
  network(column: C, text: string): string | undefined {
    const { estate } = this.context
    const named = estate.byKey('network', { name: text })[0]
    if (named) return named.id
    const carried = /^\d+$/.test(text) ? estate.all('network').filter(({ vlanId }) => vlanId === Number(text)) : []
    const [only] = carried
    if (only && carried.length === 1) return only.id
    this.refuse(
      column,
      only
        ? `VLAN ${text} is that of ${carried.map(({ name }) => name).join(' and ')}: name the network.`
        : /^\d+$/.test(text)
          ? `There is no network with VLAN ${text}.`
          : `There is no network “${text}”.`,
    )
    return undefined
  }

  /** An address with the subnet that holds it; a length behind it is not asked for. */
  address(column: C, text: string): { readonly ip: string; readonly subnet: Subnet } | undefined {
    const ip = this.field<string>(column, kinds.address.fields.ip, text.replace(/\/\d{1,3}$/, ''))
    if (ip === undefined) return undefined
    const subnet = subnetHolding(this.context.estate, ip)
    if (!subnet) this.refuse(column, `${ip} is in no recorded subnet. Record its network first, or leave the address out.`)
    return subnet && { ip, subnet }
  }

  /** A choice, whatever its case and accents, or by one of the words that others have for it: in small letters, without accents, spaces and dashes. */
  choice<T extends string>(column: C, options: readonly T[], others: Readonly<Record<string, T>> = {}): T | undefined {
    const text = this.text(column)?.toLowerCase()
    if (text === undefined) return undefined
    const plain = bare(text)
    const found = options.find((option) => bare(option) === plain) ?? (Object.hasOwn(others, plain) ? others[plain] : undefined)
    if (!found) this.refuse(column, `“${text}” is none of ${options.join(', ')}.`)
    return found
  }

  /** What the row is called: made a name where it is none, and said so. */
  name(column: C, field: Field): string | undefined {
    const text = this.text(column)
    if (text === undefined) {
      this.refuse(column, this.cells.text(column) === undefined ? 'Choose the column with the names.' : 'It has no name.')
      return undefined
    }
    if (readField(field, text).ok) return this.field(column, field, text)
    const plain = plainName(text)
    if (!readField(field, plain).ok) return this.field(column, field, text)
    this.remark(`“${text}” is recorded as ${plain}.`)
    return plain
  }

  /** Every text of the columns taken as a note, with the heading before it where there are several. */
  note(column: C): string | undefined {
    const texts = this.cells.all(column)
    if (this.cells.text(column) === undefined) return undefined
    const isOnly = texts.length < 2
    return texts.map(([at, text]) => (isOnly ? text : `${this.headings[at] ?? ''}: ${text}`)).join('\n')
  }

  #size(text: string, column: C, context: SizeContext, at?: number): SizeReading {
    if (text.endsWith('%') || (this.cells.unit(column, at) === '%' && /^[\d.,\s]+$/.test(text)))
      return { ok: false, sentence: `“${text}” is a share in percent, not a size. Leave the column out, or import it as observations.` }
    return parseSize(text, context, { ...this.cells.hints(column, at), isOfMachine: true })
  }
}

/** Words to group by, as a cell lists them. */
export const tagsIn = (text: string): readonly string[] =>
  [
    ...new Set(
      text
        .toLowerCase()
        .split(/[\s,;#]+/)
        .filter(Boolean),
    ),
  ].sort()

/** The values of a row that differ from those of a record. */
export function changesTo<R extends object>(record: R, values: Partial<R>): Partial<R> {
  const given = present(values) as Partial<R>
  const changed = changedFields(record as unknown as AnyRecord, { ...record, ...given } as unknown as AnyRecord)
  return Object.fromEntries(changed.map((name) => [name, given[name as keyof R]])) as Partial<R>
}

/** A word without its case, accents, spaces and dashes. */
const bare = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/[\u0300-\u036f\s_-]+/g, '')
    .toLowerCase()
