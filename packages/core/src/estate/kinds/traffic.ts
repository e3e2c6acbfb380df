import { defineKind } from '../define-kind.js'
import { choice, integer, note, optional, ref, text, type Wording } from '../field.js'

const guest = ({ doc }: Pick<Wording, 'doc'>) => optional(ref('guest', { label: 'Router guest', doc }))
const host = ({ doc }: Pick<Wording, 'doc'>) => optional(ref('host', { label: 'Router host', doc }))
const port = (named: Wording) => integer({ ...named, unit: '', min: 1, max: 65535 })
const prefix = (named: Wording) => text({ ...named, shape: 'prefix' })

/** Protocols a question, a filter or a port forward can be about. */
export const protocols = ['icmp', 'tcp', 'udp'] as const

export const forwardKind = defineKind({
  name: 'forward',
  label: 'port forward',
  plural: 'forwards',
  doc: 'A port of a host forwarded to a port of a guest behind its NAT.',
  fields: {
    hostId: ref('host', { label: 'Host', doc: 'The host whose port is forwarded.' }),
    protocol: choice(['tcp', 'udp'], { label: 'Protocol', doc: 'What is forwarded.', default: 'tcp' }),
    hostPort: port({ label: 'Port of the host', doc: 'The port others address.' }),
    adapterId: ref('adapter', { label: 'Adapter', doc: 'The guest’s adapter it leads to.' }),
    guestPort: port({ label: 'Port of the guest', doc: 'The port the guest listens on.' }),
    note: note(),
  },
  keys: [{ fields: ['hostId', 'protocol', 'hostPort'], unique: true }],
  partOf: ['hostId', 'adapterId'],
})

export const routeKind = defineKind({
  name: 'route',
  label: 'route',
  plural: 'routes',
  doc: 'A route set by hand on a guest, on a host, or, where neither is named, on the site gateway.',
  fields: {
    guestId: guest({ doc: 'The guest it is set on.' }),
    hostId: host({ doc: 'The host it is set on.' }),
    prefix: prefix({ label: 'To', doc: 'The prefix it leads to.' }),
    via: text({ label: 'Via', doc: 'The next router’s address on a segment the machine is on.', shape: 'ip' }),
    note: note(),
  },
  keys: [],
  partOf: ['guestId', 'hostId'],
})

export const filterKind = defineKind({
  name: 'filter',
  label: 'filter',
  plural: 'filters',
  doc: 'A line of a filter on a guest, a host or, where neither is named, the site gateway. The first match decides; no match: allowed.',
  fields: {
    guestId: guest({ doc: 'The guest it is set on.' }),
    hostId: host({ doc: 'The host it is set on.' }),
    position: integer({
      label: 'Number',
      doc: 'Order in the filter: the lowest is asked first.',
      unit: '',
      min: 1,
      max: 9999,
      default: 10,
    }),
    action: choice(['allow', 'deny'], { label: 'Action', doc: 'What happens to a match.', default: 'deny' }),
    fromPrefix: optional(prefix({ label: 'From', doc: 'Source prefix; empty: anywhere.' })),
    toPrefix: optional(prefix({ label: 'To', doc: 'Target prefix; empty: anywhere.' })),
    protocol: optional(choice(protocols, { label: 'Protocol', doc: 'Empty: all.' })),
    portFirst: optional(port({ label: 'Port from', doc: 'First target port; empty: all.' })),
    portLast: optional(port({ label: 'Port to', doc: 'Last target port; empty: the first alone.' })),
    note: note(),
  },
  keys: [],
  partOf: ['guestId', 'hostId'],
})

/** What a group of an intention is made by. */
export const groupKinds = ['network', 'role', 'site', 'outside'] as const

export const intentKind = defineKind({
  name: 'intent',
  label: 'intention',
  plural: 'intents',
  doc: 'Whether one group is meant to reach another; without an intention, either is fine.',
  fields: {
    fromKind: choice(groupKinds, { label: 'From a', doc: 'What defines the first group.', default: 'network' }),
    fromNetworkId: optional(ref('network', { label: 'From network', doc: 'The network, where it is one.' })),
    fromName: optional(text({ label: 'From role or site', doc: 'The role or site, where it is one.', max: 60 })),
    toKind: choice(groupKinds, { label: 'To a', doc: 'What defines the second group.', default: 'network' }),
    toNetworkId: optional(ref('network', { label: 'To network', doc: 'The network, where it is one.' })),
    toName: optional(text({ label: 'To role or site', doc: 'The role or site, where it is one.', max: 60 })),
    wanted: choice(['must reach', 'must not reach'], { label: 'Intended', doc: 'What is meant.', default: 'must reach' }),
    protocol: choice(protocols, { label: 'Protocol', doc: 'What it is asked with.', default: 'icmp' }),
    port: optional(port({ label: 'Port', doc: 'Target port, for tcp and udp.' })),
    note: note(),
  },
  keys: [],
  partOf: ['fromNetworkId', 'toNetworkId'],
})
