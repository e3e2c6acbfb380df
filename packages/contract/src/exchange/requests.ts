import {
  guestColumns,
  numberStyles,
  sizeUnits,
  statesOfNew,
  TABLE_ROWS_MAX,
  tableKinds,
  tableNames,
  type ColumnsGiven,
  type GuestColumn,
  type StateOfNew,
  type TableGiven,
  type TableName,
} from '@insel/core'
import { Type } from 'class-transformer'
import { IsArray, IsIn, IsObject, registerDecorator, ValidateNested, type ValidationArguments } from 'class-validator'
import { FollowsField, MayBeMissing } from '../commands/follows-field.js'

/** What the columns of a table of guests hold, as a person chose. */
class ColumnsOfGuests implements ColumnsGiven<GuestColumn> {
  @IsArray({ message: 'columns is a list.' })
  @IsIn(guestColumns, { each: true, message: `A column is one of ${guestColumns.join(', ')}.` })
  columns!: readonly GuestColumn[]
  @IsArray({ message: 'units is a list.' })
  @IsIn([...sizeUnits, '%', null], { each: true, message: `A unit is one of ${sizeUnits.join(', ')}, % or null.` })
  units!: ColumnsGiven<GuestColumn>['units']
  @MayBeMissing()
  @IsIn([...numberStyles, null], { message: `style is one of ${numberStyles.join(', ')}, or null.` })
  style?: ColumnsGiven<GuestColumn>['style']
}

const TABLES_MAX = 20
const isTexts = (value: unknown): value is readonly string[] => Array.isArray(value) && value.every((one) => typeof one === 'string')

/** What is wrong with tables as they came; undefined where nothing is. */
function tablesFault(value: unknown): string | undefined {
  if (!Array.isArray(value) || value.length === 0 || value.length > TABLES_MAX) return `tables is a list of 1 to ${TABLES_MAX} tables.`
  for (const [at, table] of (value as unknown[]).entries()) {
    const where = `tables.${at}`
    if (typeof table !== 'object' || table === null) return `${where} is not a table.`
    const { name, holds, headings, rows, columns, units, style } = table as Record<string, unknown>
    if (typeof name !== 'string' || name.length > 200) return `${where}.name is a text of at most 200 characters.`
    if (typeof holds !== 'string' || !tableNames.some((one) => one === holds)) return `${where}.holds is one of ${tableNames.join(', ')}.`
    const known = tableKinds[holds as TableName].columns
    if (!isTexts(headings)) return `${where}.headings is a list of texts.`
    if (!isTexts(columns) || columns.some((column) => !known.includes(column)))
      return `${where}.columns are each one of ${known.join(', ')}.`
    if (!Array.isArray(units) || units.some((unit) => unit !== null && ![...sizeUnits, '%'].includes(unit as string)))
      return `${where}.units are each one of ${sizeUnits.join(', ')}, % or null.`
    if (style !== null && style !== undefined && !(numberStyles as readonly unknown[]).includes(style))
      return `${where}.style is one of ${numberStyles.join(', ')}, or null.`
    const isRow = (row: unknown) =>
      typeof row === 'object' && row !== null && 'line' in row && Number.isInteger(row.line) && 'cells' in row && isTexts(row.cells)
    if (!Array.isArray(rows) || rows.length > TABLE_ROWS_MAX) return `${where}.rows is a list, and takes at most ${TABLE_ROWS_MAX}.`
    const bad = rows.findIndex((row) => !isRow(row))
    if (bad >= 0) return `${where}.rows.${bad} has a line and cells that are texts.`
  }
  return undefined
}
function AreTables(): PropertyDecorator {
  return (target, property) =>
    registerDecorator({
      name: 'areTables',
      target: target.constructor,
      propertyName: String(property),
      validator: {
        validate: (value: unknown) => tablesFault(value) === undefined,
        defaultMessage: ({ value }: ValidationArguments) => tablesFault(value) ?? '',
      },
    })
}

/** What an import can hold. */
export const importKinds = ['names', 'guests', 'plan', 'tables'] as const

/** `POST imports`: a preview of what a text, or tables, would record. Nothing is applied. */
export class ImportRequest {
  @FollowsField({ type: 'choice', options: [...importKinds], label: 'Kind', doc: 'What it holds.' })
  kind!: (typeof importKinds)[number]
  @FollowsField({
    type: 'text',
    shape: 'note',
    max: 1_900_000,
    optional: true,
    label: 'Text',
    doc: 'hosts(5) lines, a zone file or CSV of names; CSV of guests; or the JSON file of a plan. None for tables.',
  })
  text?: string | null
  /** What the columns of a table of guests hold; what its headings say where it is left out. */
  @MayBeMissing()
  @IsObject({ message: 'columns is an object with columns, units and style.' })
  @ValidateNested({ message: 'columns is an object with columns, units and style.' })
  @Type(() => ColumnsOfGuests)
  columns?: ColumnsOfGuests
  /** For tables: each with what its rows and columns hold. */
  @MayBeMissing()
  @AreTables()
  tables?: readonly TableGiven[]
  @MayBeMissing()
  @IsIn(statesOfNew, { message: `stateOfNew is one of ${statesOfNew.join(', ')}.` })
  stateOfNew?: StateOfNew
  /** For ids in the file of a plan, the records here that are meant, where they are not found by name. */
  @MayBeMissing()
  @IsObject({ message: 'records is an object: for an id in the file, the id of the record here.' })
  records?: Readonly<Record<string, string>>
}

/** `POST imports/apply`: records what a preview of the same text showed. */
export class ApplyImportRequest extends ImportRequest {
  @FollowsField({
    type: 'integer',
    unit: '',
    min: 0,
    max: Number.MAX_SAFE_INTEGER,
    label: 'Expected revision',
    doc: 'The revision the preview was made on; refused when the estate changed since.',
  })
  expectedRevision!: number
}
