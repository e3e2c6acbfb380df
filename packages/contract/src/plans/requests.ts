import { bool, optional, real, text } from '@insel/core'
import { FollowsField } from '../commands/follows-field.js'

/** What is said of an item that is carried out. */
export const carryOutFields = {
  minutes: optional(real({ unit: 'minutes', max: 100_000, label: 'minutes', doc: 'How long it took.' })),
  note: optional(text({ shape: 'note', max: 4000, label: 'note', doc: 'For whoever comes next.' })),
  isMeant: optional(bool({ label: 'isMeant', doc: 'Also when it does not do what it was written for.' })),
}

/** `POST plans/:id/items/:id/carry-out`. */
export class CarryOutRequest {
  @FollowsField(carryOutFields.minutes)
  minutes?: number | null
  @FollowsField(carryOutFields.note)
  note?: string | null
  @FollowsField(carryOutFields.isMeant)
  isMeant?: boolean | null
}
