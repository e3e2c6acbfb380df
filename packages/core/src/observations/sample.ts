import { readField, type Field } from '../estate/index.js'
import { timeReadProblem } from '../units/index.js'

const AT: Field = { type: 'text', shape: 'instant', max: 40, label: 'Time', doc: 'When it was measured.' }

/** One dated measured value set of a guest or a store. What was not measured is left out. */
export interface Sample {
  /** When, ISO 8601 in UTC. */
  readonly at: string
  /** Processor time in use, over all its vCPUs, %. */
  readonly cpuPercent?: number | null
  /** Memory in use, without what the system only keeps cached, MiB. */
  readonly memoryMiB?: number | null
  /** Bytes in use on its disks; of a store, on the store. */
  readonly diskBytes?: number | null
}

export const measures = ['cpuPercent', 'memoryMiB', 'diskBytes'] as const
export type Measure = (typeof measures)[number]

/** What a measure may be; beyond it a value is mistyped or in another unit. */
const limits: Readonly<Record<Measure, { readonly min: number; readonly max: number; readonly says: string }>> = {
  cpuPercent: { min: 0, max: 100, says: 'Processor use is a share of all vCPUs, 0 to 100 %' },
  // A machine that runs uses some; one that does not is not measured.
  memoryMiB: { min: 1, max: 2 ** 26, says: 'Memory in use is from 1 MiB to 64 TiB' },
  diskBytes: { min: 0, max: 2 ** 50, says: 'Disk use is in bytes, at most 1 PiB' },
}

/**
 * What is wrong with a sample, in a sentence; undefined when it may be kept.
 *
 * @param now by more than clocks differ, nothing is measured later than this
 * @example sampleProblem({ at: '2027-01-18T08:00:00Z', cpuPercent: 130 }, now) // 'Processor use is a share …; 130 is not.'
 */
export function sampleProblem(sample: Sample, now: string): string | undefined {
  const reading = readField(AT, sample.at)
  const time = reading.ok ? Date.parse(String(reading.value)) : NaN
  if (Number.isNaN(time)) return `“${sample.at}” is not a time such as 2027-01-18T08:00:00Z.`
  const problem = timeReadProblem(time, Date.parse(now))
  if (problem) return `${sample.at}: ${problem}`
  if (measures.every((measure) => sample[measure] === undefined || sample[measure] === null)) return 'Nothing was measured in it.'
  for (const measure of measures) {
    const value = sample[measure]
    const { min, max, says } = limits[measure]
    if (value !== undefined && value !== null && !(value >= min && value <= max)) return `${says}; ${value} is not.`
  }
  return undefined
}
