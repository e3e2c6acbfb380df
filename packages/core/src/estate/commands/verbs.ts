import { choice, integer, optional, ref, refMap, text, type Fields, type InputOf } from '../field.js'

interface VerbDefinition<F extends Fields> {
  readonly doc: string
  readonly fields: F
}
const defineVerb = <const F extends Fields>(definition: VerbDefinition<F>): VerbDefinition<F> => definition

const newId = (what: string) => optional(text({ label: 'Id', doc: `Id for the new ${what}; made when left out.`, max: 36 }))

/** Commands that do more than add, update or remove one record: what they ask for. */
export const verbs = {
  'guest.resize': defineVerb({
    doc: 'Changes a guest’s processors, memory, or the size of one of its disks. A disk only grows.',
    fields: {
      guestId: ref('guest', { label: 'Guest', doc: 'The guest to resize.' }),
      vcpu: optional(integer({ label: 'Processors', doc: 'New number of vCPUs.', unit: 'vCPU', min: 1, max: 1024 })),
      memoryMiB: optional(integer({ label: 'Memory', doc: 'New memory.', unit: 'MiB', min: 4, max: 2 ** 26 })),
      diskId: optional(ref('disk', { label: 'Disk', doc: 'The disk to extend.' })),
      sizeBytes: optional(integer({ label: 'Size', doc: 'The disk’s new size.', unit: 'bytes', min: 1 })),
    },
  }),
  'guest.power': defineVerb({
    doc: 'Records that a guest was powered on or off.',
    fields: {
      guestId: ref('guest', { label: 'Guest', doc: 'The guest.' }),
      state: choice(['running', 'stopped'], { label: 'State', doc: 'What it is now.' }),
    },
  }),
  'guest.clone': defineVerb({
    doc: 'Copies a guest or template: new name, new ids, new MACs, no addresses kept, lineage kept.',
    fields: {
      guestId: ref('guest', { label: 'Copy of', doc: 'The guest or template to copy.' }),
      id: newId('guest'),
      name: text({ label: 'Name', doc: 'The copy’s name.', shape: 'name' }),
      hostId: optional(ref('host', { label: 'Host', doc: 'Where the copy goes; the original’s host when left out.' })),
      stores: optional(refMap('disk', 'store', { label: 'Stores', doc: 'For a disk of the original, the store of its copy.' })),
    },
  }),
  'guest.migrate': defineVerb({
    doc: 'Moves a guest to another host; its disks to stores that host reaches, its adapters to networks as mapped.',
    fields: {
      guestId: ref('guest', { label: 'Guest', doc: 'The guest to move.' }),
      toHostId: ref('host', { label: 'To', doc: 'The host it goes to.' }),
      stores: optional(refMap('disk', 'store', { label: 'Stores', doc: 'For each disk that has to move, its new store.' })),
      networks: optional(refMap('adapter', 'network', { label: 'Networks', doc: 'For an adapter that changes its network, the new one.' })),
      method: choice(['live', 'cold copy', 'disk-to-disk over the network', 'export and import'], {
        label: 'Method',
        doc: 'The way it is copied.',
        default: 'cold copy',
      }),
    },
  }),
  'address.assign': defineVerb({
    doc: 'Gives an adapter, or a host’s management, an address; the next free one when none is named.',
    fields: {
      id: newId('address'),
      adapterId: optional(ref('adapter', { label: 'Adapter', doc: 'The adapter that gets it.' })),
      hostId: optional(ref('host', { label: 'Host', doc: 'Or the host whose management gets it.' })),
      subnetId: optional(
        ref('subnet', { label: 'Subnet', doc: 'The subnet to take it from; the adapter’s network’s first when left out.' }),
      ),
      ip: optional(text({ label: 'Address', doc: 'The address; the next free one when left out.', shape: 'ip' })),
      kind: choice(['fixed', 'DHCP reservation'], {
        label: 'Kind',
        doc: 'Set on the machine, or handed out by DHCP to its MAC.',
        default: 'fixed',
      }),
    },
  }),
  'address.release': defineVerb({
    doc: 'Takes an address back: it is free again.',
    fields: { addressId: ref('address', { label: 'Address', doc: 'The address to release.' }) },
  }),
  'address.reserve': defineVerb({
    doc: 'Keeps a run of addresses free for later: each is recorded as reserved.',
    fields: {
      subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet they lie in.' }),
      first: text({ label: 'First', doc: 'First address of the run.', shape: 'ip' }),
      last: text({ label: 'Last', doc: 'Last address of the run.', shape: 'ip' }),
      note: optional(text({ label: 'Note', doc: 'What they are kept for.', shape: 'note', max: 4000 })),
    },
  }),
  'subnet.move': defineVerb({
    doc: 'Gives a subnet another prefix of the same length; gateway, pools and addresses keep their place in it.',
    fields: {
      subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet to renumber.' }),
      prefix: text({ label: 'Prefix', doc: 'The new prefix.', shape: 'prefix' }),
    },
  }),
  'subnet.split': defineVerb({
    doc: 'Halves a subnet; gateway, pools and addresses stay in the half in which they lie.',
    fields: {
      subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet to halve; it keeps the lower half.' }),
      id: newId('subnet'),
    },
  }),
  'subnet.merge': defineVerb({
    doc: 'Joins a subnet of a network with the other half of the prefix they make together.',
    fields: {
      subnetId: ref('subnet', { label: 'Subnet', doc: 'One half; the lower one stays.' }),
      withId: ref('subnet', { label: 'With', doc: 'The other half.' }),
    },
  }),
} as const

export type Verb = keyof typeof verbs
export const isVerb = (type: string): type is Verb => Object.hasOwn(verbs, type)
/** What a verb asks for, as one writes it. */
export type VerbInput<V extends Verb> = InputOf<(typeof verbs)[V]['fields']>
