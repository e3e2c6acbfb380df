import { groupBy, kindNames, kinds, upgraded, type AnyRecord, type Difference, type Field, type Kind, type Records } from '@insel/core'
import type { EntityManager } from '@mikro-orm/postgresql'
import { recordEntities } from './entities.js'
import { runIn, type Run, type Statement } from './statement.js'

/** All records of an estate, read whole table by whole table with the query builder, which is four times quicker than entities. */
export async function readRecords(em: EntityManager, estateId: string): Promise<Records> {
  const tables = {} as Record<Kind, AnyRecord[]>
  for (const kind of kindNames) {
    const rows: Record<string, unknown>[] = await em
      .createQueryBuilder(recordEntities[kind], 'r')
      .select('*')
      .where({ estateId })
      .execute('all', true)
    tables[kind] = rows.map((row) => fromRow(kind, row))
  }
  return tables as unknown as Records
}

/** A record from its row: only the kind's fields, big integers as numbers. */
function fromRow(kind: Kind, row: Record<string, unknown>): AnyRecord {
  const record: Record<string, unknown> = { id: row['id'] }
  for (const [name, field] of Object.entries<Field>(kinds[kind].fields)) {
    const value = row[name]
    record[name] = field.type === 'integer' && typeof value === 'string' ? Number(value) : value
  }
  // Commands and differences that a record holds may have been written by an earlier Insel: the steps of the schema change columns alone.
  return (holding.has(kind) ? (upgraded(kind, record)?.values ?? record) : record) as unknown as AnyRecord
}
const holding: ReadonlySet<Kind> = new Set(
  kindNames.filter((kind) => Object.values<Field>(kinds[kind].fields).some(({ type }) => type === 'commands' || type === 'difference')),
)

/**
 * What writes a difference to the tables: what was removed, what changed, what is new. One statement for each kind and of these,
 * however many records there are; in whatever order, since all constraints are looked at when the transaction ends.
 *
 * @param head a table `h` of one row with the `estate_id`, or of none, and then nothing is written
 */
export function differenceStatements(em: EntityManager, { added, updated, removed }: Difference, head: Statement): Statement[] {
  return [
    ...byKind(Object.values(removed)).map(([kind, records]) => ({
      sql: `delete from "${tableOf(em, kind).table}" as t using ${head.sql} where t."estate_id" = h."estate_id" and t."id" = any(?::uuid[])`,
      values: [...head.values, records.map((record) => record.id)],
    })),
    ...byKind(Object.values(updated).map(({ kind, to }) => ({ kind, record: to }))).map(([kind, records]) => {
      const { table, columns, sets } = tableOf(em, kind)
      return {
        sql: `update "${table}" as t set ${sets}
          from ${head.sql}, (${sourceOf(table, records.length)}) as r where t."estate_id" = h."estate_id" and t."id" = r."id"`,
        values: [...head.values, rowsOf(records, columns)],
      }
    }),
    ...byKind(Object.values(added)).map(([kind, records]) => {
      const { table, columns, names, values } = tableOf(em, kind)
      return {
        sql: `insert into "${table}" ("estate_id", ${names})
          select h."estate_id", ${values}
          from ${head.sql}, (${sourceOf(table, records.length)}) as r`,
        values: [...head.values, rowsOf(records, columns)],
      }
    }),
  ]
}

/** Up to so many rows of JSON the database is told that they are few. */
const FEW = 10

/**
 * The rows of a table that stand in JSON. The database takes any such list for a hundred rows, and looks for these by going through the
 * whole table, unless it is told that there are few.
 */
const sourceOf = (table: string, count: number): string => {
  const most = count === 1 ? 'limit 1' : count <= FEW ? `limit ${FEW}` : ''
  return `select * from json_populate_recordset(null::"${table}", ?::json) ${most}`
}

/** From so many records on, tables have grown by so much that the database has to look at them again. */
const MANY = 500

/** Whether a difference is one after which tables are looked at again. */
export const isMany = ({ added }: Difference): boolean => Object.keys(added).length >= MANY

/**
 * Lets the database look at the tables that a large difference made grow. It checks each reference when the transaction ends, in the way
 * that was best for the tables as they were: a walk through all of a small table, which of a large one takes seconds.
 */
export async function lookAgain(em: EntityManager, difference: Difference, run: Run = runIn(em)): Promise<void> {
  if (!isMany(difference)) return
  // The columns by which rows are found are enough for that, and are a tenth of the work.
  const tables = byKind(Object.values(difference.added)).map(([kind]) => `"${tableOf(em, kind).table}" ("estate_id", "id")`)
  await run({ sql: `analyze ${tables.join(', ')}`, values: [] })
}

/** Writes the records of an estate that has none yet. */
export async function writeDifference(em: EntityManager, estateId: string, difference: Difference): Promise<void> {
  const head = { sql: '(select ?::uuid as "estate_id") as h', values: [estateId] }
  for (const statement of differenceStatements(em, difference, head)) await runIn(em)(statement)
  await lookAgain(em, difference)
}

/** A field of a kind, and the column that holds it. */
interface Column {
  readonly field: string
  readonly column: string
}

/** The table of a kind, and what of a statement names all of its columns. */
interface Table {
  readonly table: string
  readonly columns: readonly Column[]
  /** Each column that is not its key, from the same one of a row `r`. */
  readonly sets: string
  /** Its columns, and those of a row `r`. */
  readonly names: string
  readonly values: string
}
const tables = new Map<Kind, Table>()

function tableOf(em: EntityManager, kind: Kind): Table {
  const known = tables.get(kind)
  if (known) return known
  const { tableName, properties } = em.getMetadata().get<Record<string, unknown>>(recordEntities[kind].meta.className)
  const columns = Object.keys(kinds[kind].fields).map((field) => ({ field, column: properties[field]?.fieldNames[0] ?? field }))
  const names = ['id', ...columns.map(({ column }) => column)]
  const made = {
    table: tableName,
    columns,
    sets: columns.map(({ column }) => `"${column}" = r."${column}"`).join(', '),
    names: names.map((name) => `"${name}"`).join(', '),
    values: names.map((name) => `r."${name}"`).join(', '),
  }
  tables.set(kind, made)
  return made
}

/** Records as JSON rows of their table: PostgreSQL turns them into the columns' types. */
const rowsOf = (records: readonly AnyRecord[], columns: readonly Column[]): string =>
  JSON.stringify(
    records.map((record) => {
      const values = record as unknown as Readonly<Record<string, unknown>>
      const row: Record<string, unknown> = { id: record.id }
      for (const { field, column } of columns) row[column] = values[field]
      return row
    }),
  )

function byKind(presences: readonly { readonly kind: Kind; readonly record: AnyRecord }[]): [Kind, AnyRecord[]][] {
  return [...groupBy(presences, ({ kind }) => kind)].map(([kind, group]) => [kind, group.map(({ record }) => record)])
}
