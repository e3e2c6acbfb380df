import { defineKind } from '../define-kind.js'
import { bool, choice, integer, note, optional, real, ref, tags, text } from '../field.js'

export const platformKind = defineKind({
  name: 'platform',
  label: 'platform',
  plural: 'platforms',
  doc: 'A hypervisor release, as a profile that can be edited: overheads, limits, network behaviour.',
  fields: {
    name: text({ label: 'Name', doc: 'Product and release.' }),
    ownMemoryMiB: integer({
      label: 'Memory for the platform itself',
      doc: 'What the platform itself uses. Common practice: 1.4 GiB.',
      unit: 'MiB',
      max: 2 ** 20,
      default: 1434,
    }),
    guestOverheadMiB: integer({
      label: 'Overhead per guest',
      doc: 'Fixed memory each guest needs besides its own. Basis: remembered value, check it.',
      unit: 'MiB',
      max: 2 ** 14,
      default: 64,
    }),
    guestOverheadPercent: real({
      label: 'Overhead per guest, share',
      doc: 'Memory each guest needs, as a share of its own. Basis: remembered value, check it.',
      unit: '%',
      max: 50,
      default: 1,
    }),
    guestVcpuMax: integer({
      label: 'vCPUs per guest, at most',
      doc: 'The largest number of vCPUs one guest may have.',
      unit: 'vCPU',
      min: 1,
      max: 4096,
      default: 128,
    }),
    guestMemoryMaxMiB: integer({
      label: 'Memory per guest, at most',
      doc: 'The most memory one guest may have.',
      unit: 'MiB',
      min: 64,
      max: 2 ** 26,
      default: 4_194_304,
    }),
    guestDisksMax: integer({
      label: 'Disks per guest, at most',
      doc: 'How many disks one guest may have. Basis: remembered value, check it.',
      unit: '',
      min: 1,
      max: 256,
      default: 64,
    }),
    guestAdaptersMax: integer({
      label: 'Adapters per guest, at most',
      doc: 'How many adapters one guest may have. Basis: remembered value, check it.',
      unit: '',
      min: 1,
      max: 64,
      default: 16,
    }),
    diskMaxBytes: integer({
      label: 'Disk, at most',
      doc: 'The largest virtual disk. Basis: remembered value, check it.',
      unit: 'bytes',
      min: 1,
      max: 2 ** 50,
      default: 64 * 2 ** 40,
    }),
    macPrefix: text({
      label: 'MAC prefix',
      doc: 'First three octets of the addresses it gives to adapters.',
      shape: 'macPrefix',
      default: '02:1a:4b',
    }),
    translation: choice(['shared segment', 'private segment'], {
      label: 'NAT networks',
      doc: 'One NAT segment shared by all guests of a host, or a private one for each guest.',
      default: 'shared segment',
    }),
    minLevel: choice(['x86-64-v1', 'x86-64-v2', 'x86-64-v3', 'x86-64-v4'], {
      label: 'Processor level, at least',
      doc: 'The baseline level (x86-64 psABI) below which it does not start.',
      default: 'x86-64-v2',
    }),
    requiredFlags: optional(
      text({
        label: 'Required processor flags',
        doc: 'Flags as Linux names them, such as svm or aes: “svm|ept” is either.',
        shape: 'words',
        max: 400,
      }),
    ),
    minMemoryMiB: integer({ label: 'Memory, at least', doc: 'Memory a host needs to run it.', unit: 'MiB', max: 2 ** 20, default: 4096 }),
    minDriveBytes: integer({
      label: 'Install drive, at least',
      doc: 'What the platform needs on the drive it is installed on.',
      unit: 'bytes',
      isLabel: true,
      max: 2 ** 44,
      default: 32_000_000_000,
    }),
    controllers: optional(
      text({
        label: 'Storage controllers',
        doc: 'Drivers of the storage controllers it supports; empty: not recorded.',
        shape: 'words',
        max: 600,
      }),
    ),
    portDrivers: optional(
      text({ label: 'Port drivers', doc: 'Drivers of the network ports it supports; empty: not recorded.', shape: 'words', max: 600 }),
    ),
    managementUrl: optional(
      text({ label: 'Management URL', doc: 'Pattern of its management page: {name} is the host’s full name.', max: 200 }),
    ),
    trialDays: optional(integer({ label: 'Trial', doc: 'How long it runs without a licence.', unit: 'days', min: 1, max: 3650 })),
    releasedOn: optional(text({ label: 'Released', doc: 'Day of release.', shape: 'date' })),
    supportedUntil: optional(text({ label: 'Supported until', doc: 'Last day of support.', shape: 'date' })),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
})

export const hostKind = defineKind({
  name: 'host',
  label: 'host',
  plural: 'hosts',
  doc: 'A machine that runs guests: physical, or nested (itself a guest).',
  fields: {
    name: text({ label: 'Name', doc: 'Short host name.', shape: 'name' }),
    kind: choice(['physical', 'nested'], { label: 'Kind', doc: 'A physical server, or one that is itself a guest.', default: 'physical' }),
    outerGuestId: optional(ref('guest', { label: 'Runs in guest', doc: 'For a nested host: the guest it is.' })),
    site: text({ label: 'Site', doc: 'Where it is.', default: 'main', max: 60 }),
    state: choice(['planned', 'on order', 'being built', 'in service', 'in maintenance', 'retired'], {
      label: 'State',
      doc: 'Whether it runs guests now.',
      default: 'in service',
    }),
    platformId: ref('platform', { label: 'Platform', doc: 'The hypervisor release it runs.' }),
    model: optional(text({ label: 'Model', doc: 'Maker’s model.' })),
    serial: optional(text({ label: 'Serial', doc: 'Maker’s serial number, as on its label.', shape: 'line', max: 80 })),
    assetTag: optional(text({ label: 'Asset tag', doc: 'Number in the inventory.', shape: 'line', max: 60 })),
    rack: optional(text({ label: 'Rack', doc: 'The rack or shelf it is in.', shape: 'line', max: 60 })),
    heightUnit: optional(
      integer({ label: 'Height unit', doc: 'The lowest height unit it takes, counted from below.', unit: '', min: 1, max: 100 }),
    ),
    purchasedOn: optional(text({ label: 'Purchased', doc: 'Day of purchase.', shape: 'date' })),
    warrantyEndsOn: optional(text({ label: 'Warranty ends', doc: 'Last day of the maker’s warranty.', shape: 'date' })),
    controllerAddress: optional(
      text({ label: 'Controller address', doc: 'Address or name of its out-of-band management controller.', shape: 'line', max: 253 }),
    ),
    sockets: integer({ label: 'Sockets', doc: 'Processors fitted.', unit: 'sockets', min: 1, max: 64, default: 1 }),
    coresPerSocket: integer({ label: 'Cores per socket', doc: 'Cores of one processor.', unit: 'cores', min: 1, max: 1024 }),
    threadsPerCore: integer({
      label: 'Threads per core',
      doc: 'Hardware threads of one core.',
      unit: 'threads',
      min: 1,
      max: 8,
      default: 2,
    }),
    memoryMiB: integer({
      label: 'Usable memory',
      doc: 'Memory the platform can use, as it shows it; a little under what is fitted.',
      unit: 'MiB',
      min: 512,
      max: 2 ** 26,
    }),
    processorModel: optional(text({ label: 'Processor', doc: 'Maker’s name of the processor.' })),
    clockMHz: optional(integer({ label: 'Clock', doc: 'Base clock of the cores.', unit: 'MHz', min: 100, max: 20_000 })),
    cpuFlags: optional(
      text({ label: 'Processor flags', doc: 'Feature flags as Linux names them (lscpu, /proc/cpuinfo).', shape: 'words', max: 4000 }),
    ),
    memorySlots: optional(integer({ label: 'Memory slots', doc: 'Slots on the board, free ones too.', unit: 'slots', min: 1, max: 128 })),
    firmware: optional(choice(['UEFI', 'BIOS'], { label: 'Firmware mode', doc: 'How it boots.' })),
    secureBoot: optional(choice(['on', 'off'], { label: 'Secure boot', doc: 'Whether only signed systems boot.' })),
    controllers: optional(
      text({ label: 'Storage controllers', doc: 'Their drivers, as lshw names them: ahci, nvme, mpt3sas.', shape: 'words', max: 200 }),
    ),
    mounting: choice(['rack', 'tower', 'small'], {
      label: 'Mounting',
      doc: 'A rack server, a tower, or a small machine.',
      default: 'rack',
    }),
    drawWatts: optional(
      integer({ label: 'Power draw', doc: 'Continuous draw under load, as measured or planned.', unit: 'W', min: 1, max: 20_000 }),
    ),
    powerSupplies: integer({ label: 'Power supplies', doc: 'Each needs its own cable.', unit: '', min: 1, max: 8, default: 1 }),
    circuit: optional(text({ label: 'Circuit', doc: 'Its circuit, as labelled on the panel.', max: 60 })),
    circuitVolts: optional(integer({ label: 'Circuit voltage', doc: 'Nominal voltage.', unit: 'V', min: 12, max: 1000 })),
    circuitAmps: optional(integer({ label: 'Circuit rating', doc: 'Rating of its breaker.', unit: 'A', min: 1, max: 1000 })),
    imageId: optional(ref('image', { label: 'Install image', doc: 'The image it is built from.' })),
    stickBytes: optional(
      integer({ label: 'Install stick', doc: 'Label capacity of the stick.', unit: 'bytes', isLabel: true, min: 1, max: 2 ** 44 }),
    ),
    stickMayBeErased: optional(
      choice(['yes', 'no'], { label: 'Stick may be erased', doc: 'Writing the image erases the stick; say so only after looking at it.' }),
    ),
    atHand: optional(text({ label: 'Materials at hand', doc: 'Ticked lines of the materials list.', shape: 'words', max: 600 })),
    failoverReserveMiB: optional(
      integer({
        label: 'Failover reserve',
        doc: 'Memory kept free on this host; empty takes the policy’s share.',
        unit: 'MiB',
        max: 2 ** 26,
      }),
    ),
    isRouter: bool({
      label: 'Forwards packets',
      doc: 'Routes packets between its networks; NAT networks do not need this setting.',
      default: false,
    }),
    managementMac: optional(text({ label: 'Management MAC', doc: 'MAC of the port that carries management.', shape: 'mac' })),
    fingerprint: optional(
      text({ label: 'Certificate fingerprint', doc: 'SHA-256 fingerprint of the management page’s certificate.', max: 200 }),
    ),
    trialEndsOn: optional(text({ label: 'Trial or licence ends', doc: 'Last day of the trial or licence.', shape: 'date' })),
    tags: tags({ label: 'Tags', doc: 'Words to group and filter by.' }),
    note: note(),
  },
  keys: [
    { fields: ['name'], unique: true },
    { fields: ['managementMac'], unique: false },
  ],
})

export const storeKind = defineKind({
  name: 'store',
  label: 'store',
  plural: 'stores',
  doc: 'A datastore: local to a host, shared by the hosts of a site, removable, or for backups.',
  fields: {
    name: text({ label: 'Name', doc: 'What the store is called.', shape: 'name' }),
    kind: choice(['local', 'shared', 'removable', 'backup'], {
      label: 'Kind',
      doc: 'Local to a host, shared by a site’s hosts, removable, or for backups.',
      default: 'local',
    }),
    hostId: optional(ref('host', { label: 'Host', doc: 'The host it is in; empty for a store that the hosts of a site share.' })),
    site: optional(text({ label: 'Site', doc: 'For a shared store: the site whose hosts reach it.', max: 60 })),
    arrayId: optional(ref('array', { label: 'Array', doc: 'The array it is in.' })),
    servedById: optional(ref('guest', { label: 'Served by', doc: 'The guest that serves it to others, such as a file or backup server.' })),
    capacityBytes: integer({ label: 'Capacity', doc: 'What it can hold.', unit: 'bytes', isLabel: true, min: 1 }),
    otherBytes: optional(
      integer({
        label: 'Other use',
        doc: 'What is on it besides disks and recorded images: backups, files; as last seen.',
        unit: 'bytes',
        max: 2 ** 52,
      }),
    ),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
  partOf: ['hostId'],
})
