import { defineKind } from '../define-kind.js'
import { choice, integer, mtu, note, optional, ref, text, vlanId, type Wording } from '../field.js'

const ofHost = ({ doc }: Pick<Wording, 'doc'>) => ref('host', { label: 'Host', doc })

export const moduleKind = defineKind({
  name: 'module',
  label: 'memory module',
  plural: 'modules',
  doc: 'One stick of memory in a slot of a host.',
  fields: {
    hostId: ofHost({ doc: 'The host it is in.' }),
    slot: integer({ label: 'Slot', doc: 'Number of the slot on the board.', unit: '', min: 1, max: 128 }),
    sizeMiB: integer({ label: 'Size', doc: 'What is printed on it.', unit: 'MiB', min: 256, max: 2 ** 21 }),
    speedMTs: optional(integer({ label: 'Speed', doc: 'Transfers a second it is made for.', unit: 'MT/s', min: 100, max: 50_000 })),
    state: choice(['fitted', 'planned'], { label: 'State', doc: 'In the machine, or to be bought.', default: 'fitted' }),
    note: note(),
  },
  keys: [{ fields: ['hostId', 'slot'], unique: true }],
  partOf: ['hostId'],
})

export const arrayKind = defineKind({
  name: 'array',
  label: 'array',
  plural: 'arrays',
  doc: 'Drives of a host combined at a RAID level; stores are created in it.',
  fields: {
    hostId: ofHost({ doc: 'The host of its drives.' }),
    name: text({ label: 'Name', doc: 'Short name, unique on its host.', shape: 'name' }),
    level: choice(['0', '1', '5', '6', '10'], { label: 'Level', doc: 'How the members share and protect the data.', default: '1' }),
    note: note(),
  },
  keys: [{ fields: ['hostId', 'name'], unique: true }],
  partOf: ['hostId'],
})

export const driveKind = defineKind({
  name: 'drive',
  label: 'drive',
  plural: 'drives',
  doc: 'A physical drive in a host.',
  fields: {
    hostId: ofHost({ doc: 'The host it is in.' }),
    position: integer({ label: 'Bay', doc: 'Number of its bay or slot.', unit: '', min: 0, max: 999 }),
    labelBytes: integer({
      label: 'Label capacity',
      doc: 'As printed on the drive: decimal.',
      unit: 'bytes',
      isLabel: true,
      min: 1,
      max: 2 ** 50,
    }),
    kind: choice(['hard disk', 'solid state', 'NVMe'], { label: 'Kind', doc: 'How it stores.', default: 'solid state' }),
    model: optional(text({ label: 'Model', doc: 'Maker’s model.' })),
    serial: optional(text({ label: 'Serial', doc: 'Serial number on the drive, by which it is named before it is wiped.', max: 60 })),
    use: choice(['unused', 'install', 'member', 'spare', 'single'], {
      label: 'Use',
      doc: 'The install disk, a member or hot spare of an array, a store of its own, or nothing yet.',
      default: 'unused',
    }),
    arrayId: optional(
      ref('array', { label: 'Array', doc: 'The array it is a member or spare of; an install disk may be one half of a mirror.' }),
    ),
    controller: optional(text({ label: 'Controller', doc: 'Driver of its controller.', shape: 'words', max: 40 })),
    note: note(),
  },
  keys: [
    { fields: ['hostId', 'position'], unique: true },
    { fields: ['serial'], unique: false },
  ],
  partOf: ['hostId'],
})

/** What a port or a network can be for. */
export const portRoles = ['management', 'storage', 'guests', 'live migration', 'fault tolerance', 'backup', 'public'] as const

export const portKind = defineKind({
  name: 'port',
  label: 'port',
  plural: 'ports',
  doc: 'A physical network port of a host.',
  fields: {
    hostId: ofHost({ doc: 'The host it is on.' }),
    name: text({ label: 'Name', doc: 'As the system names it: eno1, enp65s0f0.', shape: 'name' }),
    mac: optional(text({ label: 'MAC', doc: 'Its own address.', shape: 'mac' })),
    speedMbps: integer({ label: 'Speed', doc: 'What it can do.', unit: 'Mbit/s', min: 1, max: 10_000_000, default: 1000 }),
    medium: choice(['copper', 'fibre', 'direct attach', 'wireless'], { label: 'Medium', doc: 'What goes into it.', default: 'copper' }),
    cable: choice(['present', 'missing'], { label: 'Cable', doc: 'Whether a cable is in it and leads somewhere.', default: 'missing' }),
    role: optional(choice(portRoles, { label: 'Carries', doc: 'What the port is planned to carry.' })),
    switchId: optional(ref('switch', { label: 'Uplink of', doc: 'The switch whose uplink it is.' })),
    farEnd: optional(text({ label: 'Far end', doc: 'Where the cable leads: switch and port, as labelled there.', max: 80 })),
    farVlans: optional(
      text({ label: 'Far end, tagged VLANs', doc: 'VLANs the far end carries tagged: 10,20-30; empty: not recorded.', shape: 'vlans' }),
    ),
    farNative: vlanId({ label: 'Far end, native VLAN', doc: 'VLAN the far end carries untagged; empty: not recorded.' }),
    farMtu: optional(mtu({ label: 'Far end, MTU', doc: 'Largest packet the far end passes, bytes.' })),
    driver: optional(text({ label: 'Driver', doc: 'Driver of the port, as lshw or ethtool names it.', shape: 'words', max: 40 })),
    note: note(),
  },
  keys: [
    { fields: ['hostId', 'name'], unique: true },
    { fields: ['mac'], unique: false },
  ],
  partOf: ['hostId'],
})
