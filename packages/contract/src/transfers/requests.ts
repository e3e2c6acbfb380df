import { numberStyles, optional, text, type NumberStyle } from '@insel/core'
import { ArrayMaxSize, IsArray, IsIn, IsString, MaxLength } from 'class-validator'
import { FollowsField, MayBeMissing } from '../commands/follows-field.js'

/** The most readings of a transfer in one request. */
export const READINGS_MAX = 20_000
/** The longest text of progress lines in one request. */
const LINES_MAX = 1_500_000

/** `POST migrations/:id/samples`: readings of a running transfer, or the lines in which a tool says them. */
export class ReadingsRequest {
  @MayBeMissing()
  @IsArray({ message: 'samples is a list of readings, each with at and bytes.' })
  @ArrayMaxSize(READINGS_MAX, { message: `At most ${READINGS_MAX} readings are taken at once; send the rest after.` })
  samples?: readonly { readonly at: string; readonly bytes: number }[]
  @MayBeMissing()
  @IsString({ message: 'text is what the tool said.' })
  @MaxLength(LINES_MAX, { message: `text is at most ${LINES_MAX} characters; send the rest after.` })
  text?: string
  @MayBeMissing()
  @IsIn(numberStyles, { message: `style is one of ${numberStyles.join(', ')}: the sign before the decimals of numbers in the text.` })
  style?: NumberStyle
  @FollowsField(optional(text({ label: 'saidAt', doc: 'When the last line of the text was said; now when left out.', shape: 'instant' })))
  saidAt?: string | null
}
