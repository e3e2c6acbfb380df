import { defineKind } from '../define-kind.js'
import { choice, integer, note, optional, real, text, type Wording } from '../field.js'

const memory = (named: Wording) => optional(integer({ ...named, unit: 'MiB', min: 1, max: 2 ** 26 }))
const storage = (named: Wording) => optional(integer({ ...named, unit: 'bytes', min: 1, max: 2 ** 50 }))
const processors = (named: Wording) => optional(integer({ ...named, unit: 'vCPU', min: 1, max: 1024 }))
/** How a system comes to a driver for a class of paravirtual device. */
const driver = (named: Wording) => choice(['built in', 'with a driver image', 'none', 'not known'], { ...named, default: 'not known' })

export const systemKind = defineKind({
  name: 'system',
  label: 'system',
  plural: 'systems',
  doc: 'An operating system that guests run: what it needs and which devices it has drivers for. Taken from the catalogue, or written by hand.',
  fields: {
    name: text({ label: 'Name', doc: 'Name and release.' }),
    datasetId: optional(text({ label: 'Short name', doc: 'Its short name in the open dataset osinfo-db.', max: 60 })),
    family: text({ label: 'Family', doc: 'Such as linux or freebsd, as the dataset says it.', max: 40, default: 'linux' }),
    source: text({ label: 'From', doc: 'Where the values are from.', max: 120, default: 'recorded by hand' }),
    minVcpu: processors({ label: 'Processors, at least', doc: 'Fewest vCPUs it installs on.' }),
    minMemoryMiB: memory({ label: 'Memory, at least', doc: 'Least memory it installs on.' }),
    minStorageBytes: storage({ label: 'Storage, at least', doc: 'Smallest disk it installs on.' }),
    goodVcpu: processors({ label: 'Processors, recommended', doc: 'vCPUs its maker recommends.' }),
    goodMemoryMiB: memory({ label: 'Memory, recommended', doc: 'Memory its maker recommends.' }),
    goodStorageBytes: storage({ label: 'Storage, recommended', doc: 'Disk its maker recommends.' }),
    firmware: choice(['UEFI or BIOS', 'UEFI only', 'BIOS only', 'not known'], {
      label: 'Firmware',
      doc: 'The firmware it boots under.',
      default: 'not known',
    }),
    paravirtualDisk: driver({ label: 'Paravirtual disk', doc: 'Whether its installer sees a paravirtual disk.' }),
    paravirtualNet: driver({ label: 'Paravirtual adapter', doc: 'Whether it has a driver for a paravirtual adapter.' }),
    emulatedNet: choice(['emulated', 'emulated old', 'not known'], {
      label: 'Emulated adapter',
      doc: 'The emulated card that it knows.',
      default: 'emulated',
    }),
    releasedOn: optional(text({ label: 'Released', doc: 'Day of release.', shape: 'date' })),
    supportedUntil: optional(
      text({ label: 'Supported until', doc: 'Last day of support. The dataset’s date is a hint: enter the maker’s.', shape: 'date' }),
    ),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
})

export const workloadKind = defineKind({
  name: 'workload',
  label: 'workload profile',
  plural: 'workload profiles',
  doc: 'What a kind of work needs on top of its system.',
  fields: {
    name: text({ label: 'Name', doc: 'What the guest is for.', max: 60 }),
    vcpu: real({ label: 'Processors', doc: 'vCPUs it keeps busy at its peak.', unit: 'vCPU', max: 1024 }),
    steadyShare: real({
      label: 'Everyday share',
      doc: 'Everyday use over the peak: what a guest that starts small begins with.',
      unit: '%',
      min: 5,
      max: 100,
      default: 50,
    }),
    memoryMiB: integer({ label: 'Memory', doc: 'Memory it takes at its peak, beside the system’s.', unit: 'MiB', max: 2 ** 26 }),
    systemBytes: integer({ label: 'System disk', doc: 'What it adds to the system’s disk.', unit: 'bytes', max: 2 ** 50, default: 0 }),
    dataBytes: integer({ label: 'Data disk', doc: 'Data it begins with; 0: no disk of its own.', unit: 'bytes', max: 2 ** 50, default: 0 }),
    growthBytesPerMonth: real({ label: 'Growth a month', doc: 'By how much its data grows.', unit: 'bytes', max: 2 ** 50, default: 0 }),
    adapters: integer({ label: 'Adapters', doc: 'How many adapters it wants.', unit: '', min: 0, max: 64, default: 1 }),
    latency: choice(['general', 'steady', 'lab'], {
      label: 'Latency class',
      doc: 'How many of its vCPUs may share a core.',
      default: 'general',
    }),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
})
