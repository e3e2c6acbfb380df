import { estateFields, personFields } from './fields.js'
import { FollowsField, MayBeMissing } from '../commands/follows-field.js'

/** `POST estates`: a new, empty estate. */
export class CreateEstateRequest {
  @FollowsField(estateFields.name)
  name!: string

  @MayBeMissing()
  @FollowsField(estateFields.domain)
  domain?: string | null

  @MayBeMissing()
  @FollowsField(estateFields.timeZone)
  timeZone?: string

  /** The name under which the maker is recorded; the first person of the estate. */
  @MayBeMissing()
  @FollowsField(personFields.name)
  recordedAs?: string
}
