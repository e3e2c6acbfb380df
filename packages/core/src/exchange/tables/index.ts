export { mappedTable, mappingGiven, tableGiven, type ColumnsGiven, type TableGiven } from './given.js'
export { guestTableLeavesOut, guestsCsv } from './guest-cells.js'
export { guestColumns, type GuestColumn } from './guest-columns.js'
export {
  importTables,
  tablesImport,
  type TablesGiven,
  readTables,
  sourceOf,
  summaryOf,
  TABLE_ROWS_MAX,
  tableKinds,
  type ImportSummary,
  type MappedTable,
  type RowOutcome,
  type SourceTable,
  type TablesImport,
} from './import-tables.js'
export { statesOfNew, tableNames, type StateOfNew, type TableName } from './row.js'
