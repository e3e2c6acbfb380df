import { protocols } from '@insel/core'
import { FollowsField } from '../commands/follows-field.js'

const end = (label: string, doc: string) => ({ type: 'text', shape: 'line', max: 253, label, doc }) as const
/** What the questions about reach are made of. */
export const reachFields = {
  from: end('From', 'A guest’s, host’s, address’s or network’s id, “outside” or “site gateway”.'),
  to: end('To', 'The same, or an address.'),
  target: end('Target', 'A name or an address.'),
  name: end('Name', 'The name that is looked up.'),
  protocol: { type: 'choice', options: protocols, label: 'Protocol', doc: 'What it is asked with.', default: 'icmp' },
  port: { type: 'integer', unit: '', min: 1, max: 65535, optional: true, label: 'Port', doc: 'Target port, for tcp and udp.' },
} as const

/** `POST reachability`: can this machine reach that one? */
export class ReachabilityRequest {
  @FollowsField(reachFields.from)
  from!: string
  @FollowsField(reachFields.to)
  to!: string
  @FollowsField(reachFields.protocol)
  protocol?: (typeof protocols)[number]
  @FollowsField(reachFields.port)
  port?: number
}

/** `POST reachability/ping`: what a recorded machine would see when it pings. */
export class PingRequest {
  @FollowsField(reachFields.from)
  from!: string
  @FollowsField(reachFields.target)
  target!: string
}

/** `POST reachability/look-up`: what a recorded machine would learn of a name. */
export class LookUpRequest {
  @FollowsField(reachFields.from)
  from!: string
  @FollowsField(reachFields.name)
  name!: string
}

/** The organisations of MAC prefixes, where the registry is installed. */
export interface MacRegistryResponse {
  /** Where the registry is from, or null where it is not installed. */
  readonly source: string | null
  readonly organisations: Readonly<Record<string, string>>
}
