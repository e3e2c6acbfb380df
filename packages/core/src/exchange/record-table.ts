import { formatField, kinds, recordTitle, type AnyRecord, type Estate, type Field } from '../estate/index.js'
import { writeCsv } from '../formats/index.js'
import { inNameOrder } from '../lists/index.js'

/** Lists that go out as a table: a line for each record, a column for each of its fields. Guests have their own table. */
export const recordTables = ['host', 'network', 'store'] as const
export type RecordTable = (typeof recordTables)[number]

/**
 * Every record of a kind as CSV (RFC 4180), in the order of names: headings are the fields' labels, values as people read them, and
 * empty where there is none. Texts that a spreadsheet would take for a formula are defused.
 *
 * @example recordsCsv(estate, 'host') // 'Name,Kind,…\r\ngannet,physical,…\r\n'
 */
export function recordsCsv(estate: Estate, kind: RecordTable): string {
  const fields = Object.entries<Field>(kinds[kind].fields)
  const cell = (record: AnyRecord, name: string, field: Field): string => {
    const value = (record as unknown as Readonly<Record<string, unknown>>)[name]
    if (value === null || value === undefined || (Array.isArray(value) && value.length === 0)) return ''
    if (field.type === 'tags') return (value as readonly string[]).join(' ')
    // A table is read by programs too: times stand as ISO 8601 has them.
    if (field.type === 'text') return String(value)
    if (field.type !== 'ref') return formatField(estate, field, value)
    const to = estate.kindOf(String(value))
    const named = to && estate.find(to, String(value))
    return to && named ? recordTitle(estate, to, named) : ''
  }
  const data = inNameOrder<AnyRecord & { readonly name: string }>(estate.all(kind)).map((record) =>
    fields.map(([name, field]) => cell(record, name, field)),
  )
  return writeCsv(
    fields.map(([, { label }]) => label),
    data,
  )
}
