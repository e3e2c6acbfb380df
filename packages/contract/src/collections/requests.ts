import { ref } from '@insel/core'
import { IsString, MaxLength } from 'class-validator'
import { FollowsField, MayBeMissing } from '../commands/follows-field.js'

/** One machine: a host or a guest, as a body or behind the `?`. */
export const machineFields = {
  hostId: ref('host', { label: 'hostId', doc: 'The host.', optional: true }),
  guestId: ref('guest', { label: 'guestId', doc: 'The guest, where it is one.', optional: true }),
}

/** `POST collections`: a machine whose collector is to get a code. */
export class MachineRequest {
  @FollowsField(machineFields.hostId)
  hostId?: string | null
  @FollowsField(machineFields.guestId)
  guestId?: string | null
}

/** What a controller is asked with: any texts, with spaces and all, since a password is among them; each with what it is. */
export const controllerTexts = {
  url: 'The address of the controller.',
  user: 'Used once, and kept nowhere.',
  password: 'Used once, and kept nowhere.',
  fingerprint: 'Of a certificate that was confirmed before.',
} as const
const TEXT_MAX = 500

const AText: PropertyDecorator = (target, property) => {
  const message = `${String(property)} is a text of at most ${TEXT_MAX} characters.`
  for (const decorator of [MayBeMissing(), IsString({ message }), MaxLength(TEXT_MAX, { message })]) decorator(target, property)
}

/** `POST redfish`: a management controller to be read. */
export class ControllerRequest {
  @AText
  url?: string
  @AText
  user?: string
  @AText
  password?: string
  @AText
  fingerprint?: string
}
