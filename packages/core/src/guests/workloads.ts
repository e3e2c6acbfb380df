import { readFields, kinds, type Estate, type NewRecord, type Workload } from '../estate/index.js'
import { GiB } from '../units/index.js'
import { inNameOrder } from '../lists/index.js'

/**
 * The workload profiles that ship with Insel: what a kind of work takes on top of its system. They are starting points;
 * what is measured counts more.
 *
 * @see common practice, no source; backup server and nested host after facts of the trade, guests
 */
export const shippedWorkloads: readonly NewRecord<'workload'>[] = [
  { name: 'file service', vcpu: 2, steadyShare: 40, memoryMiB: 2048, dataBytes: 500 * GiB, growthBytesPerMonth: 15 * GiB },
  { name: 'web', vcpu: 2, steadyShare: 40, memoryMiB: 1536, dataBytes: 20 * GiB, growthBytesPerMonth: GiB },
  { name: 'small database', vcpu: 4, steadyShare: 50, memoryMiB: 6144, dataBytes: 80 * GiB, growthBytesPerMonth: 3 * GiB },
  { name: 'desktop', vcpu: 2, steadyShare: 50, memoryMiB: 4096, systemBytes: 20 * GiB, growthBytesPerMonth: GiB },
  { name: 'domain services', vcpu: 2, steadyShare: 40, memoryMiB: 2048, dataBytes: 0, growthBytesPerMonth: GiB / 4 },
  { name: 'build', vcpu: 8, steadyShare: 30, memoryMiB: 8192, dataBytes: 100 * GiB, growthBytesPerMonth: 2 * GiB, latency: 'lab' },
  { name: 'media', vcpu: 4, steadyShare: 70, memoryMiB: 6144, dataBytes: 200 * GiB, growthBytesPerMonth: 20 * GiB, latency: 'steady' },
  { name: 'router', vcpu: 1, steadyShare: 50, memoryMiB: 128, adapters: 2, latency: 'steady' },
  { name: 'backup', vcpu: 2, steadyShare: 50, memoryMiB: 3584, systemBytes: 16 * GiB, adapters: 1 },
  { name: 'nested host', vcpu: 4, steadyShare: 60, memoryMiB: 8192, systemBytes: 68 * GiB, adapters: 7, latency: 'lab' },
]

/** The profiles of an estate: those recorded, and the shipped ones that none of them replaces by name. */
export function workloadsOf(estate: Estate): readonly Workload[] {
  const recorded = estate.all('workload')
  const names = new Set(recorded.map(({ name }) => name.toLowerCase()))
  const shipped = shippedWorkloads
    .filter(({ name }) => !names.has(name.toLowerCase()))
    .map((profile): Workload => ({ id: '', ...readFields(kinds.workload.fields, profile) }))
  return inNameOrder([...recorded, ...shipped])
}
