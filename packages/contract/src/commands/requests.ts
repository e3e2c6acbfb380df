import { integer, text, bool, optional } from '@insel/core'
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

/** `POST commands`, beside the list of commands, which is read for itself: see `readCommands`. */
export class CommandsRequest {
  @FollowsField(recordingFields.expectedRevision)
  expectedRevision?: number | null
  @FollowsField(recordingFields.expectedEpoch)
  expectedEpoch?: string | null
  @FollowsField(recordingFields.dryRun)
  dryRun?: boolean | null
}
