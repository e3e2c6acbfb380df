import { defineKind } from '../define-kind.js'
import { bool, choice, integer, note, optional, real, ref, tags, text } from '../field.js'
import { guestStates } from '../lifecycle.js'

/** What a guest's identity is: see `clones/identity.ts`. */
export const identities = ['its own', 'removed', 'copied'] as const

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
    state: choice(guestStates, {
      label: 'State',
      doc: 'How far its life is: planned, being copied or installed, running or stopped in service, retired.',
      default: 'planned',
    }),
    verifiedAt: optional(text({ label: 'Verified', doc: 'When its install was verified.', shape: 'instant' })),
    purpose: optional(text({ label: 'Purpose', doc: 'What the guest does.', max: 60 })),
    systemId: optional(ref('system', { label: 'System', doc: 'Its operating system.' })),
    workload: optional(text({ label: 'Sized for', doc: 'The workload profile its size was worked out from.', max: 60 })),
    vcpu: integer({ label: 'Processors', doc: 'Virtual processors.', unit: 'vCPU', min: 1, max: 1024 }),
    sockets: integer({
      label: 'Sockets',
      doc: 'Sockets it sees its processors in; they divide evenly. Matters for licences and for NUMA.',
      unit: 'sockets',
      min: 1,
      max: 64,
      default: 1,
    }),
    processorMode: choice(['host', 'x86-64-v1', 'x86-64-v2', 'x86-64-v3', 'x86-64-v4'], {
      label: 'Processor mode',
      doc: 'Host: every feature, live migration only between like processors. A baseline level (x86-64 psABI): live migration to any host at or above it.',
      default: 'host',
    }),
    latency: choice(['general', 'steady', 'lab'], {
      label: 'Latency class',
      doc: 'How many of its vCPUs may share a core: see the policies.',
      default: 'general',
    }),
    memoryMiB: integer({
      label: 'Memory',
      doc: 'Its memory; the most it may have, where a minimum is set.',
      unit: 'MiB',
      min: 4,
      max: 2 ** 26,
    }),
    memoryMinMiB: optional(
      integer({
        label: 'Memory, at least',
        doc: 'What it keeps when the host asks for memory back; empty: its memory is fixed.',
        unit: 'MiB',
        min: 4,
        max: 2 ** 26,
      }),
    ),
    firmware: choice(['UEFI', 'BIOS'], {
      label: 'Firmware',
      doc: 'UEFI for new systems; BIOS for old ones and for disks installed so.',
      default: 'UEFI',
    }),
    secureBoot: bool({ label: 'Secure boot', doc: 'Boots signed systems only; needs UEFI.', default: false }),
    trustedModule: bool({
      label: 'Trusted module',
      doc: 'A virtual trusted platform module; its state moves with the guest.',
      default: false,
    }),
    machineType: choice(['PCIe', 'PCI'], {
      label: 'Machine type',
      doc: 'The board it sees: PCIe for current systems, PCI for old ones.',
      default: 'PCIe',
    }),
    mediumId: optional(ref('image', { label: 'Attached medium', doc: 'The install image in its drive.' })),
    mediumConnected: bool({
      label: 'Medium connected at power-on',
      doc: 'Whether the medium is in the drive when it starts.',
      default: true,
    }),
    bootFirst: choice(['disk', 'medium', 'network'], { label: 'Boots first from', doc: 'First in its boot order.', default: 'disk' }),
    installer: optional(
      choice(['full image', 'network installer'], {
        label: 'Installer',
        doc: 'A full image works without a network and is out of date; a network installer needs one and ends up to date.',
      }),
    ),
    packages: optional(text({ label: 'What to install', doc: 'Roles, packages or tasks chosen in the installer.', max: 400 })),
    locale: optional(text({ label: 'Language and keyboard', doc: 'As chosen in the installer: en_GB, keyboard gb.', max: 80 })),
    identity: choice(identities, {
      label: 'Identity',
      doc: 'What makes it itself to other machines: its own, removed and generated at its next boot, or copied from another.',
      default: 'its own',
    }),
    identityFromId: optional(ref('guest', { label: 'Identity copied from', doc: 'The machine whose identity it has.' })),
    identityFromName: optional(text({ label: 'Identity copied from, as it was called', doc: 'Kept when that machine is removed.' })),
    identityKey: optional(
      text({
        label: 'Identity key',
        doc: 'The same for all that share an identity; empty: the guest’s own id.',
        shape: 'id',
        max: 36,
      }),
    ),
    isRouter: bool({ label: 'Forwards packets', doc: 'A router: routes packets between its adapters.', default: false }),
    group: optional(text({ label: 'Group', doc: 'Guests that belong together: started, moved and looked at as one.', max: 60 })),
    owner: optional(text({ label: 'Owner', doc: 'Who answers for it: a person or a department.', shape: 'line', max: 80 })),
    contact: optional(text({ label: 'Contact', doc: 'How the owner is reached.', shape: 'line', max: 120 })),
    criticality: optional(choice(['low', 'normal', 'high', 'vital'], { label: 'Criticality', doc: 'How bad it is when it is down.' })),
    patchedOn: optional(text({ label: 'Last patched', doc: 'Day of the last updates of its system.', shape: 'date' })),
    apartFromId: optional(ref('guest', { label: 'Kept apart from', doc: 'Its pair: one host that fails must not take both.' })),
    clonedFromId: optional(ref('guest', { label: 'Cloned from', doc: 'The template or guest it is a copy of.' })),
    clonedVersion: optional(text({ label: 'From version', doc: 'The version of its template when it was copied.', max: 60 })),
    backupStoreId: optional(ref('store', { label: 'Backed up to', doc: 'The store that holds its backups.' })),
    tags: tags({ label: 'Tags', doc: 'Words to group and filter by.' }),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
  remembers: { identityFromId: 'identityFromName' },
  byVerbs: { fields: ['identity', 'identityFromId', 'identityFromName', 'identityKey', 'clonedVersion'] },
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
      ref('store', {
        label: 'Store',
        doc: 'The store it is on; empty while its guest is on no host, and for an external machine’s own drive.',
      }),
    ),
    sizeBytes: integer({ label: 'Size', doc: 'What the guest sees.', unit: 'bytes', min: 1 }),
    usedBytes: optional(integer({ label: 'Used', doc: 'What it takes on the store, as last seen.', unit: 'bytes' })),
    provisioning: choice(['thin', 'thick'], {
      label: 'Provisioning',
      doc: 'Thin grows as data is written; thick takes its size at once.',
      default: 'thin',
    }),
    bus: choice(['paravirtual', 'SCSI', 'SATA', 'IDE', 'NVMe'], {
      label: 'Bus',
      doc: 'Paravirtual is fastest; SATA and IDE work where the system has no driver for it.',
      default: 'paravirtual',
    }),
    cache: choice(['none', 'write-through', 'write-back'], {
      label: 'Cache',
      doc: 'None writes straight to the store. Write-back is quick, and a power failure loses what was not flushed.',
      default: 'none',
    }),
    bootOrder: optional(
      integer({ label: 'Boot order', doc: 'Place among the disks it boots from; empty: not booted from.', unit: '', min: 1, max: 256 }),
    ),
    expectedBytes: optional(integer({ label: 'Expected use', doc: 'What it is thought to hold in a year.', unit: 'bytes' })),
    growthBytesPerMonth: optional(
      real({ label: 'Growth a month', doc: 'By how much its data grows, measured or planned.', unit: 'bytes', max: 2 ** 50 }),
    ),
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
    mac: optional(text({ label: 'MAC', doc: 'Its hardware address; empty: not known yet.', shape: 'mac' })),
    model: choice(['paravirtual', 'emulated', 'emulated old'], {
      label: 'Model',
      doc: 'Paravirtual is fastest; emulated is a common gigabit card; emulated old is a card every old system knows.',
      default: 'paravirtual',
    }),
    isConnected: bool({ label: 'Connected at power-on', doc: 'Whether its cable is in when the guest starts.', default: true }),
    deviceName: optional(
      text({
        label: 'Name in the system',
        doc: 'What its system calls it, such as eth0; what is configured by name depends on it.',
        max: 40,
      }),
    ),
  },
  keys: [
    { fields: ['guestId', 'position'], unique: true },
    { fields: ['mac'], unique: true },
  ],
  partOf: ['guestId'],
})

export const snapshotKind = defineKind({
  name: 'snapshot',
  label: 'snapshot',
  plural: 'snapshots',
  doc: 'A state of a guest’s disks kept to go back to. Not a backup: it is on the same store.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest it is of.' }),
    name: text({ label: 'Name', doc: 'What it was taken for.', max: 80 }),
    takenAt: text({ label: 'Taken', doc: 'When it was taken.', shape: 'instant' }),
    sizeBytes: integer({ label: 'Size', doc: 'What it takes on the store, as last seen.', unit: 'bytes', default: 0 }),
    parentId: optional(ref('snapshot', { label: 'On top of', doc: 'The snapshot it follows.' })),
    note: note(),
  },
  keys: [{ fields: ['guestId', 'name'], unique: true }],
  partOf: ['guestId'],
})

export const dependencyKind = defineKind({
  name: 'dependency',
  label: 'dependency',
  plural: 'dependencies',
  doc: 'A guest that needs another to be up first.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest that needs the other.' }),
    needsId: ref('guest', { label: 'Needs', doc: 'The guest that has to be up before.' }),
    waitSeconds: integer({
      label: 'Wait',
      doc: 'How long after the other’s power-on its service is there.',
      unit: 'seconds',
      max: 86_400,
      default: 60,
    }),
    note: note(),
  },
  keys: [{ fields: ['guestId', 'needsId'], unique: true }],
  partOf: ['guestId', 'needsId'],
})
