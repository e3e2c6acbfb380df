import { estateFields, personFields } from './fields.js'
import { IsOptional } from 'class-validator'
import { FollowsField } from '../commands/follows-field.js'

/** `POST estates`: a new, empty estate. */
export class CreateEstateRequest {
  @FollowsField(estateFields.name)
  name!: string

  @IsOptional()
  @FollowsField(estateFields.domain)
  domain?: string | null

  @IsOptional()
  @FollowsField(estateFields.timeZone)
  timeZone?: string

  /** The name under which the maker is recorded; the first person of the estate. */
  @IsOptional()
  @FollowsField(personFields.name)
  recordedAs?: string
}
