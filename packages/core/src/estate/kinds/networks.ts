import { defineKind } from '../define-kind.js'
import { choice, integer, mtu, note, optional, ref, text, vlanId } from '../field.js'

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
    vlanId: vlanId({ label: 'VLAN ID', doc: 'Tag on the wire, IEEE 802.1Q; empty for untagged.' }),
    mtu: { ...mtu({ label: 'MTU', doc: 'Largest packet, bytes.' }), default: 1500 },
    site: optional(text({ label: 'Site', doc: 'Where the segment is; empty when it spans sites.', max: 60 })),
    searchDomain: optional(
      text({ label: 'Search domain', doc: 'Zone in which its machines are named; empty takes the estate’s domain.', shape: 'domain' }),
    ),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
})

export const switchKind = defineKind({
  name: 'switch',
  label: 'switch',
  plural: 'switches',
  doc: 'A virtual switch or bridge on a host; the ports that name it are its uplinks.',
  fields: {
    hostId: ref('host', { label: 'Host', doc: 'The host it is on.' }),
    name: text({ label: 'Name', doc: 'Short name, unique on its host.', shape: 'name' }),
    bond: choice(['none', 'active and standby', 'balanced', 'LACP'], {
      label: 'Bond',
      doc: 'How several uplinks share the load; LACP is IEEE 802.1AX and is set on both ends.',
      default: 'none',
    }),
    taggedVlans: optional(text({ label: 'Tagged VLANs', doc: 'VLANs its uplinks carry tagged: 10,20-30; empty: none.', shape: 'vlans' })),
    nativeVlan: vlanId({ label: 'Native VLAN', doc: 'VLAN its uplinks carry untagged; empty: not recorded.' }),
    mtu: { ...mtu({ label: 'MTU', doc: 'Largest packet its uplinks pass, bytes.' }), default: 1500 },
    note: note(),
  },
  keys: [{ fields: ['hostId', 'name'], unique: true }],
  partOf: ['hostId'],
})

export const attachmentKind = defineKind({
  name: 'attachment',
  label: 'attachment',
  plural: 'attachments',
  doc: 'A network attached to a host.',
  fields: {
    hostId: ref('host', { label: 'Host', doc: 'The host.' }),
    networkId: ref('network', { label: 'Network', doc: 'The network.' }),
    kind: choice(['bridged', 'translated', 'host-only', 'internal'], {
      labels: { translated: 'NAT' },
      label: 'Kind',
      doc: 'Bridged, NAT, host-only, or internal without an address of the host.',
      default: 'bridged',
    }),
    switchId: optional(
      ref('switch', {
        label: 'Switch',
        doc: 'The switch it is on; empty: not recorded, and a bridged network is assumed to leave the host.',
      }),
    ),
    foreignMacs: choice(['passed', 'dropped'], {
      label: 'Foreign MACs',
      doc: 'Whether a guest may send with MACs other than its adapter’s: a host nested in a guest needs it for its own bridged guests.',
      default: 'passed',
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
    prefix: text({ label: 'Prefix', doc: 'Network address and length.', shape: 'subnet' }),
    gateway: optional(text({ label: 'Gateway', doc: 'The way out of the subnet.', shape: 'ip' })),
    nameServers: optional(
      text({ label: 'Name servers', doc: 'Name servers of its machines, the first one first.', shape: 'ips', max: 200 }),
    ),
    handOut: choice(['from the low end', 'from the high end', 'by host block'], {
      label: 'Next free address',
      doc: 'Where the next free address is looked for; by host block keeps the addresses of a host’s guests together.',
      default: 'from the low end',
    }),
    note: note(),
  },
  keys: [{ fields: ['networkId', 'prefix'], unique: true }],
  partOf: ['networkId'],
})

export const poolKind = defineKind({
  name: 'pool',
  label: 'DHCP range',
  plural: 'pools',
  doc: 'A range that a DHCP server hands out.',
  fields: {
    subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet it is in.' }),
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
      doc: 'Set on the machine, kept free, or assigned by DHCP to one MAC.',
      default: 'fixed',
    }),
    adapterId: optional(ref('adapter', { label: 'Adapter', doc: 'The guest’s adapter that has it.' })),
    hostId: optional(ref('host', { label: 'Host', doc: 'The host that has it: for management, or as its address on the network.' })),
    name: optional(text({ label: 'Name', doc: 'Its name in the zone, if different from its machine’s name.', shape: 'label' })),
    mac: optional(text({ label: 'MAC', doc: 'For a reservation of a device that is not a guest.', shape: 'mac' })),
    length: optional(
      integer({
        label: 'Length on the machine',
        doc: 'Prefix length as set on the machine, where it is not the subnet’s.',
        unit: '',
        max: 128,
      }),
    ),
    gateway: optional(
      text({ label: 'Gateway on the machine', doc: 'Gateway as set on the machine, where it is not the subnet’s.', shape: 'ip' }),
    ),
    note: note(),
  },
  keys: [
    { fields: ['subnetId', 'ip'], unique: true },
    { fields: ['ip'], unique: false },
    { fields: ['name'], unique: false },
  ],
  partOf: ['adapterId', 'hostId', 'subnetId'],
})

export const leaseKind = defineKind({
  name: 'lease',
  label: 'observed lease',
  plural: 'leases',
  doc: 'An address seen in use or leased, and by which MAC: what was observed, not what is planned.',
  fields: {
    subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet it is in.' }),
    ip: text({ label: 'Address', doc: 'The address seen.', shape: 'ip' }),
    mac: text({ label: 'MAC', doc: 'Who had it.', shape: 'mac' }),
    name: optional(text({ label: 'Name', doc: 'What the machine called itself.', shape: 'line', max: 253 })),
    seenAt: text({ label: 'Seen', doc: 'When it was seen.', shape: 'instant' }),
  },
  keys: [
    { fields: ['subnetId', 'ip'], unique: true },
    { fields: ['ip'], unique: false },
  ],
  partOf: ['subnetId'],
})
