import { ref, text } from '@insel/core'
import { IsOptional, IsString, MaxLength } from 'class-validator'
import { FollowsField } from '../commands/follows-field.js'

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

/** What a controller is asked with. A password is any text, spaces and all, so that it is not read as a field is. */
export const controllerFields = {
  url: text({ max: 500, label: 'url', doc: 'The address of the controller.', optional: true }),
  user: text({ max: 500, label: 'user', doc: 'Used once, and kept nowhere.', optional: true }),
  password: text({ max: 500, label: 'password', doc: 'Used once, and kept nowhere.', optional: true }),
  fingerprint: text({ max: 500, label: 'fingerprint', doc: 'Of a certificate that was confirmed before.', optional: true }),
}

const aText = (name: string): PropertyDecorator => {
  const message = `${name} is a text of at most 500 characters.`
  return (target, property) => {
    for (const decorator of [IsOptional(), IsString({ message }), MaxLength(500, { message })]) decorator(target, property)
  }
}

/** `POST redfish`: a management controller to be read. */
export class ControllerRequest {
  @aText('url')
  url?: string
  @aText('user')
  user?: string
  @aText('password')
  password?: string
  @aText('fingerprint')
  fingerprint?: string
}
