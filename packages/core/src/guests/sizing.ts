import type { System, Workload } from '../estate/index.js'
import { GiB, sumFigure, type Figure, type FigureInput } from '../units/index.js'

/**
 * Two schools of sizing. *Start small*: everyday use, and grow by what is measured; nothing is idle, but somebody has to
 * look. *For the peak*: what the work takes at its worst, and a year of growth; nobody has to look, and much is idle.
 */
export const sizingSchools = ['start small', 'for the peak'] as const
export type SizingSchool = (typeof sizingSchools)[number]

/** Months of growth that a data disk is given room for. Common practice, no source. */
export const GROWTH_MONTHS: Readonly<Record<SizingSchool, number>> = { 'start small': 3, 'for the peak': 12 }

/** A disk as a size proposes it. */
export interface SizedDisk {
  readonly use: 'system' | 'data'
  readonly size: Figure
  /** By how much its data grows, bytes a month. */
  readonly growthBytesPerMonth: number
}

/** A size worked out, each number with its working. */
export interface Sizing {
  readonly vcpu: Figure
  readonly memory: Figure
  readonly disks: readonly SizedDisk[]
  readonly adapters: number
  readonly latency: Workload['latency']
}

/** Memory is given in steps of this, MiB. */
const MEMORY_STEP_MIB = 256
const SOURCE = 'system minimum + workload + headroom; common practice'

const roundedUp = (value: number, step: number) => Math.ceil(value / step - 1e-9) * step

/** A sum with its last part the rounding up to a step. */
function roundedFigure(formula: string, unit: Figure['unit'], inputs: readonly FigureInput[], step: number, stepText: string): Figure {
  const bare = sumFigure(formula, unit, inputs, SOURCE).value
  const rest = roundedUp(bare, step) - bare
  return sumFigure(
    formula,
    unit,
    rest > 1e-9
      ? [...inputs, { label: `rounded up to ${stepText}`, value: rest, unit, sign: '+', from: 'so that it is a usual size' }]
      : inputs,
    SOURCE,
  )
}

/**
 * The size of a guest from what it is for: system minimum + workload + headroom.
 *
 * A system whose minimum is not known counts as one processor and nothing else. Processors of system and workload are not
 * added, as they are used in turn: the workload's count, and the system's minimum is the least.
 *
 * @param system what it runs, if named
 * @param headroomPercent what is kept above, % (policy)
 * @example sizeFor(textServer, web, 'start small', 25).memory.value // 1536
 * @see common practice, no source
 */
export function sizeFor(
  system: Pick<System, 'name' | 'minVcpu' | 'minMemoryMiB' | 'minStorageBytes'> | undefined,
  workload: Workload,
  school: SizingSchool,
  headroomPercent: number,
): Sizing {
  const share = school === 'start small' ? workload.steadyShare / 100 : 1
  const systemFrom = system ? `system ${system.name}` : 'no system named'
  const workloadFrom = `workload profile ${workload.name}`
  const shareText = share === 1 ? 'at its peak' : `${workload.steadyShare} % of its peak`
  const headroom = (of: number, unit: Figure['unit']): FigureInput => ({
    label: `headroom ${headroomPercent} %`,
    value: (of * headroomPercent) / 100,
    unit,
    sign: '+',
    from: 'policies, headroom of sizes',
  })
  const input = (label: string, value: number, unit: Figure['unit'], from: string): FigureInput => ({ label, value, unit, sign: '+', from })

  const busy = workload.vcpu * share
  const least = system?.minVcpu ?? 1
  const wanted = busy + (busy * headroomPercent) / 100
  const vcpu = roundedFigure(
    'workload + headroom, at least the system’s minimum',
    'vCPU',
    [
      input(`${workload.name}, ${shareText}`, busy, 'vCPU', workloadFrom),
      headroom(busy, 'vCPU'),
      ...(wanted < least ? [input(`up to the minimum of ${least}`, least - wanted, 'vCPU', systemFrom)] : []),
    ],
    1,
    'a whole one',
  )

  const systemMiB = system?.minMemoryMiB ?? 0
  const workMiB = workload.memoryMiB * share
  const memory = roundedFigure(
    'system minimum + workload + headroom',
    'MiB',
    [
      input(system?.minMemoryMiB ? 'minimum of the system' : 'minimum of the system, not known', systemMiB, 'MiB', systemFrom),
      input(`${workload.name}, ${shareText}`, workMiB, 'MiB', workloadFrom),
      headroom(workMiB, 'MiB'),
    ],
    MEMORY_STEP_MIB,
    `${MEMORY_STEP_MIB} MiB`,
  )

  const months = GROWTH_MONTHS[school]
  const grown = workload.growthBytesPerMonth * months
  const onData = workload.dataBytes > 0
  const storage = (label: string, own: readonly FigureInput[]): Figure => {
    const bare = own.reduce((sum, { value }) => sum + value, 0)
    return roundedFigure(label, 'bytes', [...own, headroom(bare, 'bytes')], GiB, 'a whole GiB')
  }
  const growth = input(`growth of ${months} months`, grown, 'bytes', workloadFrom)
  const systemDisk = storage('system minimum + workload + headroom', [
    input(
      system?.minStorageBytes ? 'minimum of the system' : 'minimum of the system, not known',
      system?.minStorageBytes ?? 0,
      'bytes',
      systemFrom,
    ),
    ...(workload.systemBytes > 0 ? [input(workload.name, workload.systemBytes, 'bytes', workloadFrom)] : []),
    ...(!onData && grown > 0 ? [growth] : []),
  ])
  const disks: SizedDisk[] = [
    // A system that is not known and a workload that adds nothing say nothing about a disk.
    ...(systemDisk.value > 0
      ? [{ use: 'system' as const, size: systemDisk, growthBytesPerMonth: onData ? 0 : workload.growthBytesPerMonth }]
      : []),
    ...(onData
      ? [
          {
            use: 'data' as const,
            size: storage('data + growth + headroom', [
              input('data it begins with', workload.dataBytes, 'bytes', workloadFrom),
              ...(grown > 0 ? [growth] : []),
            ]),
            growthBytesPerMonth: workload.growthBytesPerMonth,
          },
        ]
      : []),
  ]
  return { vcpu, memory, disks, adapters: workload.adapters, latency: workload.latency }
}
