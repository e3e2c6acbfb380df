import type { TableMapping, TableRow } from '../../formats/index.js'
import type { MappedTable } from './import-tables.js'
import type { TableName } from './row.js'

/** What the columns of a table hold as it goes over the wire: what is not known is `null`. */
export interface ColumnsGiven<C extends string = string> {
  readonly columns: readonly C[]
  readonly units: readonly (TableMapping<C>['units'][number] | null)[]
  readonly style?: TableMapping<C>['style'] | null
}

/** A table as it goes over the wire: as a person looked at it, its rows with their lines in the file. */
export interface TableGiven extends ColumnsGiven {
  /** The sheet of a workbook it is on; empty for a text. */
  readonly name: string
  readonly holds: TableName
  readonly headings: readonly string[]
  readonly rows: readonly TableRow[]
}

export const tableGiven = ({ name, holds, headings, rows, mapping: { columns, units, style } }: MappedTable): TableGiven => ({
  name,
  holds,
  headings,
  rows,
  columns,
  units: units.map((unit) => unit ?? null),
  style: style ?? null,
})

export const mappingGiven = <C extends string>({ columns, units, style }: ColumnsGiven<C>): TableMapping<C> => ({
  columns,
  units: units.map((unit) => unit ?? undefined),
  style: style ?? undefined,
})

/** A table that came over the wire, ready to be read. */
export function mappedTable({ name, holds, headings, rows, ...columns }: TableGiven): MappedTable {
  const mapping = mappingGiven(columns)
  return { name, holds, headings, headingLine: 1, rows, proposed: mapping, mapping, ambiguous: undefined, asks: [] }
}
