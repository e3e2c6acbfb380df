import { defineKind } from '../define-kind.js'
import { bool, choice, integer, note, optional, ref, tags, text } from '../field.js'

export const guestKind = defineKind({
  name: 'guest',
  label: 'guest',
  plural: 'guests',
  doc: 'A virtual machine, a template kept to be cloned, or an external machine that is to become a guest.',
  fields: {
    name: text({ label: 'Name', doc: 'Short machine name.', shape: 'name' }),
    kind: choice(['machine', 'template', 'external'], {
      label: 'Kind',
      doc: 'A machine, a template, or a machine outside any host.',
      default: 'machine',
    }),
    hostId: optional(ref('host', { label: 'Host', doc: 'The host it runs on; empty for an external machine.' })),
    state: choice(['planned', 'running', 'stopped'], { label: 'State', doc: 'Planned, running or stopped.', default: 'planned' }),
    purpose: optional(text({ label: 'Made for', doc: 'What the guest does.', max: 60 })),
    system: optional(text({ label: 'System', doc: 'Its operating system.', max: 80 })),
    vcpu: integer({ label: 'Processors', doc: 'Virtual processors.', unit: 'vCPU', min: 1, max: 1024 }),
    latency: choice(['general', 'steady', 'lab'], {
      label: 'Latency class',
      doc: 'How many of its vCPUs may share a core: see the policies.',
      default: 'general',
    }),
    memoryMiB: integer({ label: 'Memory', doc: 'Its memory.', unit: 'MiB', min: 4, max: 2 ** 26 }),
    firmware: choice(['UEFI', 'BIOS'], {
      label: 'Firmware',
      doc: 'UEFI for new systems; BIOS for old ones and for disks installed so.',
      default: 'UEFI',
    }),
    isGeneralised: bool({
      label: 'Generalised',
      doc: 'Machine name, machine identity and host keys are its own, or removed before copying.',
      default: true,
    }),
    isRouter: bool({ label: 'Forwards packets', doc: 'It is a router: passes on what is not for itself.', default: false }),
    clonedFromId: optional(ref('guest', { label: 'Cloned from', doc: 'The template or guest it is a copy of.' })),
    backupStoreId: optional(ref('store', { label: 'Backed up to', doc: 'The store that holds its backups.' })),
    tags: tags({ label: 'Tags', doc: 'Words to group and filter by.' }),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
})

export const diskKind = defineKind({
  name: 'disk',
  label: 'disk',
  plural: 'disks',
  doc: 'A guest’s virtual disk.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest it belongs to.' }),
    position: integer({ label: 'Number', doc: 'Order in the guest, from 1.', unit: '', min: 1, max: 256, default: 1 }),
    use: text({ label: 'Use', doc: 'What is on it.', max: 40, default: 'system' }),
    storeId: optional(
      ref('store', { label: 'Store', doc: 'Where it lies; empty while its guest is on no host, and for an external machine’s own drive.' }),
    ),
    sizeBytes: integer({ label: 'Size', doc: 'What the guest sees.', unit: 'bytes', min: 1 }),
    usedBytes: optional(integer({ label: 'Used', doc: 'What it takes on the store, as last seen.', unit: 'bytes' })),
    provisioning: choice(['thin', 'thick'], {
      label: 'Provisioning',
      doc: 'Thin grows as data is written; thick takes its size at once.',
      default: 'thin',
    }),
  },
  keys: [{ fields: ['guestId', 'position'], unique: true }],
  partOf: ['guestId'],
})

export const adapterKind = defineKind({
  name: 'adapter',
  label: 'adapter',
  plural: 'adapters',
  doc: 'A guest’s virtual network adapter.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest it belongs to.' }),
    position: integer({ label: 'Number', doc: 'Order in the guest, from 1.', unit: '', min: 1, max: 64, default: 1 }),
    networkId: optional(ref('network', { label: 'Network', doc: 'The network it is plugged into.' })),
    mac: text({ label: 'MAC', doc: 'Its hardware address.', shape: 'mac' }),
    model: choice(['paravirtual', 'emulated'], {
      label: 'Model',
      doc: 'Paravirtual is fastest; emulated works without a driver.',
      default: 'paravirtual',
    }),
    isConnected: bool({ label: 'Connected at power-on', doc: 'Whether its cable is in when the guest starts.', default: true }),
  },
  keys: [
    { fields: ['guestId', 'position'], unique: true },
    { fields: ['mac'], unique: true },
  ],
  partOf: ['guestId'],
})

export const migrationKind = defineKind({
  name: 'migration',
  label: 'migration',
  plural: 'migrations',
  doc: 'Moving one guest or external machine to another host.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'What is moved.' }),
    fromHostId: optional(ref('host', { label: 'From', doc: 'Where it was; empty for an external machine.' })),
    toHostId: ref('host', { label: 'To', doc: 'Where it goes.' }),
    method: choice(
      [
        'live',
        'cold copy',
        'disk-to-disk over the network',
        'agent conversion',
        'image and restore',
        'export and import',
        'rebuild and move the data',
      ],
      { label: 'Method', doc: 'The way it is copied.', default: 'cold copy' },
    ),
    state: choice(['under way', 'done', 'given up'], { label: 'State', doc: 'How far it is.', default: 'done' }),
    startedAt: optional(text({ label: 'Started', doc: 'When the work began.', shape: 'instant' })),
    endedAt: optional(text({ label: 'Ended', doc: 'When it was over.', shape: 'instant' })),
    note: note(),
  },
  keys: [],
  partOf: ['guestId'],
})
