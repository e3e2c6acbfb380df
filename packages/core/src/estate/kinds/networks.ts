import { defineKind } from '../define-kind.js'
import { choice, integer, note, optional, ref, text } from '../field.js'

export const networkKind = defineKind({
  name: 'network',
  label: 'network',
  plural: 'networks',
  doc: 'One layer-2 segment, with an optional VLAN ID and its subnets.',
  fields: {
    name: text({ label: 'Name', doc: 'What the segment is called.', shape: 'name' }),
    role: choice(['management', 'storage', 'guests', 'live migration', 'fault tolerance', 'backup', 'public', 'lab'], {
      label: 'Role',
      doc: 'What the segment is for.',
      default: 'guests',
    }),
    vlanId: optional(integer({ label: 'VLAN ID', doc: 'Tag on the wire, IEEE 802.1Q; empty for untagged.', unit: '', min: 1, max: 4094 })),
    mtu: integer({ label: 'MTU', doc: 'Largest packet, bytes.', unit: '', min: 576, max: 65535, default: 1500 }),
    site: optional(text({ label: 'Site', doc: 'Where the segment is; empty when it spans sites.', max: 60 })),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
})

export const attachmentKind = defineKind({
  name: 'attachment',
  label: 'attachment',
  plural: 'attachments',
  doc: 'A network as a host carries it.',
  fields: {
    hostId: ref('host', { label: 'Host', doc: 'The host that carries the network.' }),
    networkId: ref('network', { label: 'Network', doc: 'The network it carries.' }),
    kind: choice(['bridged', 'translated', 'host-only', 'internal'], {
      label: 'Kind',
      doc: 'Bridged, translated (NAT), host-only, or internal without a leg of the host.',
      default: 'bridged',
    }),
  },
  keys: [{ fields: ['hostId', 'networkId'], unique: true }],
  partOf: ['hostId', 'networkId'],
})

export const subnetKind = defineKind({
  name: 'subnet',
  label: 'subnet',
  plural: 'subnets',
  doc: 'A prefix used on a network.',
  fields: {
    networkId: ref('network', { label: 'Network', doc: 'The segment it is used on.' }),
    prefix: text({ label: 'Prefix', doc: 'Network address and length.', shape: 'prefix' }),
    gateway: optional(text({ label: 'Gateway', doc: 'The way out of the subnet.', shape: 'ip' })),
    note: note(),
  },
  keys: [{ fields: ['networkId', 'prefix'], unique: true }],
  partOf: ['networkId'],
})

export const poolKind = defineKind({
  name: 'pool',
  label: 'pool',
  plural: 'pools',
  doc: 'A range that a DHCP server hands out.',
  fields: {
    subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet it lies in.' }),
    first: text({ label: 'First', doc: 'First address handed out.', shape: 'ip' }),
    last: text({ label: 'Last', doc: 'Last address handed out.', shape: 'ip' }),
    note: note(),
  },
  keys: [{ fields: ['subnetId', 'first'], unique: true }],
  partOf: ['subnetId'],
})

export const addressKind = defineKind({
  name: 'address',
  label: 'address',
  plural: 'addresses',
  doc: 'One assigned or reserved address.',
  fields: {
    subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet it is counted in.' }),
    ip: text({ label: 'Address', doc: 'The address.', shape: 'ip' }),
    kind: choice(['fixed', 'reserved', 'DHCP reservation'], {
      label: 'Kind',
      doc: 'Set on the machine, kept free, or handed out by DHCP to one MAC.',
      default: 'fixed',
    }),
    adapterId: optional(ref('adapter', { label: 'Adapter', doc: 'The guest’s adapter that has it.' })),
    hostId: optional(ref('host', { label: 'Host', doc: 'The host that has it for management.' })),
    note: note(),
  },
  keys: [
    { fields: ['subnetId', 'ip'], unique: true },
    { fields: ['ip'], unique: false },
  ],
  partOf: ['adapterId', 'hostId', 'subnetId'],
})
