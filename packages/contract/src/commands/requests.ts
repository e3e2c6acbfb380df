import { integer, text, bool, optional } from '@insel/core'
import { Allow } from 'class-validator'
import { FollowsField } from './follows-field.js'

/** What is beside the commands of a request. */
export const recordingFields = {
  expectedRevision: optional(
    integer({
      unit: '',
      label: 'expectedRevision',
      doc: 'The revision the commands were made on: refused when what they touch changed since.',
    }),
  ),
  expectedEpoch: optional(text({ label: 'expectedEpoch', doc: 'Of which history that revision is.' })),
  dryRun: optional(bool({ label: 'dryRun', doc: 'Only says what the commands would do.' })),
}

/** `POST commands`: applied in their order, all or none. */
export class CommandsRequest {
  /** Read one by one, each by the fields of its verb. */
  @Allow()
  commands!: unknown
  @FollowsField(recordingFields.expectedRevision)
  expectedRevision?: number | null
  @FollowsField(recordingFields.expectedEpoch)
  expectedEpoch?: string | null
  @FollowsField(recordingFields.dryRun)
  dryRun?: boolean | null
}
