import type { NewRecord } from '../estate/index.js'
import { GiB, MiB } from '../units/index.js'

const kernels = { paravirtualDisk: 'built in', paravirtualNet: 'built in', firmware: 'UEFI or BIOS', emulatedNet: 'emulated' } as const
const PRACTICE = 'generic profile, common practice'

/**
 * Generic systems, for what the catalogue does not have or where it is not installed. Orders of magnitude; edit them once
 * taken.
 *
 * @see facts of the trade, guests; common practice, no source
 */
export const shippedSystems: readonly NewRecord<'system'>[] = [
  {
    ...kernels,
    name: 'Text-only server, generic',
    source: PRACTICE,
    minVcpu: 1,
    minMemoryMiB: 512,
    minStorageBytes: 10 * GiB,
    goodVcpu: 2,
    goodMemoryMiB: 2048,
    goodStorageBytes: 50 * GiB,
  },
  {
    ...kernels,
    name: 'Graphical server, generic',
    source: PRACTICE,
    minVcpu: 2,
    minMemoryMiB: 4096,
    minStorageBytes: 40 * GiB,
    goodVcpu: 2,
    goodMemoryMiB: 6144,
    goodStorageBytes: 60 * GiB,
  },
  {
    ...kernels,
    name: 'Desktop, generic',
    source: PRACTICE,
    minVcpu: 2,
    minMemoryMiB: 4096,
    minStorageBytes: 40 * GiB,
    goodVcpu: 2,
    goodMemoryMiB: 8192,
    goodStorageBytes: 60 * GiB,
  },
  {
    ...kernels,
    name: 'Router, generic',
    source: PRACTICE,
    minVcpu: 1,
    minMemoryMiB: 256,
    minStorageBytes: 512 * MiB,
    goodMemoryMiB: 512,
    goodStorageBytes: 4 * GiB,
  },
  {
    name: 'Appliance, generic',
    source: PRACTICE,
    family: 'appliance',
    firmware: 'not known',
    paravirtualDisk: 'not known',
    paravirtualNet: 'not known',
    emulatedNet: 'emulated',
    minVcpu: 1,
    minMemoryMiB: 256,
    goodMemoryMiB: 1024,
  },
  {
    ...kernels,
    name: 'Nested host, generic',
    source: PRACTICE,
    minVcpu: 2,
    minMemoryMiB: 8192,
    minStorageBytes: 32 * GiB,
    goodVcpu: 4,
    goodMemoryMiB: 16_384,
    goodStorageBytes: 100 * GiB,
  },
  {
    name: 'Old desktop, generic',
    source: PRACTICE,
    family: 'old desktop',
    firmware: 'BIOS only',
    paravirtualDisk: 'none',
    paravirtualNet: 'none',
    emulatedNet: 'emulated old',
    minVcpu: 1,
    minMemoryMiB: 256,
    minStorageBytes: 4 * GiB,
    goodMemoryMiB: 1024,
    goodStorageBytes: 20 * GiB,
    releasedOn: '2003-01-01',
    supportedUntil: '2014-12-31',
  },
]
