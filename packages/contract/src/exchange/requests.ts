import { guestColumns, numberStyles, sizeUnits, type GuestColumn, type TableMapping } from '@insel/core'
import { Type } from 'class-transformer'
import { IsArray, IsIn, IsObject, IsOptional, ValidateNested } from 'class-validator'
import { FollowsField } from '../commands/follows-field.js'

/** What the columns of a table of guests hold, as a person chose. */
export class ColumnsOfGuests {
  @IsArray({ message: 'columns is a list.' })
  @IsIn(guestColumns, { each: true, message: `A column is one of ${guestColumns.join(', ')}.` })
  columns!: readonly GuestColumn[]
  @IsArray({ message: 'units is a list.' })
  @IsIn([...sizeUnits, '%', null], { each: true, message: `A unit is one of ${sizeUnits.join(', ')}, % or null.` })
  units!: readonly (TableMapping<GuestColumn>['units'][number] | null)[]
  @IsOptional()
  @IsIn(numberStyles, { message: `style is one of ${numberStyles.join(', ')}.` })
  style?: TableMapping<GuestColumn>['style'] | null
}

/** What a text that is imported can hold. */
export const importKinds = ['names', 'guests', 'plan'] as const

/** `POST imports`: a preview of what a text would record. Nothing is applied. */
export class ImportRequest {
  @FollowsField({ type: 'choice', options: [...importKinds], label: 'Kind', doc: 'What the text holds.' })
  kind!: (typeof importKinds)[number]
  @FollowsField({
    type: 'text',
    shape: 'note',
    max: 1_900_000,
    label: 'Text',
    doc: 'hosts(5) lines, a zone file or CSV of names; CSV of guests; or the JSON file of a plan.',
  })
  text!: string
  /** What the columns of a table of guests hold; what its headings say where it is left out. */
  @IsOptional()
  @IsObject({ message: 'columns is an object with columns, units and style.' })
  @ValidateNested({ message: 'columns is an object with columns, units and style.' })
  @Type(() => ColumnsOfGuests)
  columns?: ColumnsOfGuests
  /** For ids in the file of a plan, the records here that are meant, where they are not found by name. */
  @IsOptional()
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
