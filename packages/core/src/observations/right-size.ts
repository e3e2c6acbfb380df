import { type Command } from '../commands/index.js'
import { dayOf, policyOf, type Disk, type Estate, type Guest } from '../estate/index.js'
import { DAYS_PER_MONTH } from '../capacity/index.js'
import { counted, formatBytes, formatMiB, sumFigure, type Figure } from '../units/index.js'
import type { Summary } from './summary.js'

/** Fewest samples, and days they span, below which nothing is recommended. Common practice, no source. */
const SAMPLES_MIN = 48
const DAYS_MIN = 7
/** Processor use at the 95th percentile under which a guest is idle, %. Common practice, no source. */
const IDLE_CPU_PERCENT = 3
/** Days without an observation, while others have some, after which a guest is forgotten. Common practice, no source. */
const FORGOTTEN_DAYS = 30
/** No system in use runs in less memory than this, MiB: what was measured is in another unit. Common practice, no source. */
const USED_MIN_MIB = 32
/** Memory is given in steps of this, MiB. */
const STEP_MIB = 256

/** What a guest should have instead, with the working. */
export interface Advice {
  readonly guest: Guest
  /** `too little data`: nothing is said of the size. */
  readonly verdict: 'too large' | 'too small' | 'fits' | 'too little data'
  /** Why nothing is recommended, where that is so. */
  readonly reason?: string
  /** Measured values that cannot be true: nothing is recommended from them. */
  readonly doubts: readonly string[]
  readonly vcpu?: Figure
  readonly memory?: Figure
  /** What the change gives back; negative where it takes. */
  readonly saves: { readonly vcpu: number; readonly memoryMiB: number }
  /** Hardly any processor time over the whole stretch. */
  readonly isIdle: boolean
  /** Recorded as running, and nobody has seen it for long. */
  readonly isForgotten: boolean
}

/**
 * What a guest should have from what was measured: never under its system's minimum, never under the peak of its memory or
 * the 95th percentile of its processors, each with the policy's headroom. Memory that differs by less than the policy's share
 * is left as it is, unless it is under the system's minimum or the peak itself: a change costs a restart.
 *
 * Processors follow the 95th percentile, as a peak of a moment only waits; memory follows the peak, as what is missing stops
 * the guest.
 *
 * @param summary what was observed over the chosen time, if anything
 * @param lastSeen the last observation of anything in the estate, ISO 8601; tells a forgotten guest from a stopped collector
 * @see common practice, no source
 */
export function rightSize(estate: Estate, guest: Guest, summary: Summary | undefined, lastSeen: string | undefined): Advice {
  const doubt = doubtsOf(estate, guest, summary)
  const doubts = [doubt.cpu, doubt.memory, doubt.disk].filter((one) => one !== undefined)
  const none = { saves: { vcpu: 0, memoryMiB: 0 }, isIdle: false, isForgotten: isForgotten(guest, summary, lastSeen), doubts }
  const reason =
    tooLittle(summary) ??
    ((summary?.cpu && !doubt.cpu) || (summary?.memory && !doubt.memory) ? undefined : 'The measurements are implausible.')
  if (!summary || reason) return { guest, verdict: 'too little data', reason: reason ?? 'No observations.', ...none }
  const { sizeHeadroomPercent: headroom, sizeWorthPercent } = policyOf(estate)
  const system = estate.find('system', guest.systemId)
  const from = `observed ${dayOf(estate, summary.from)} to ${dayOf(estate, summary.until)}`
  const floorFrom = system ? `system ${system.name}` : 'no system named'
  const build = (unit: Figure['unit'], used: number, usedLabel: string, least: number, step: number, formula: string): Figure => {
    const wanted = used * (1 + headroom / 100)
    const atLeast = Math.max(wanted, least)
    const rounded = Math.max(step, Math.ceil(atLeast / step - 1e-9) * step)
    return sumFigure(
      formula,
      unit,
      [
        { label: usedLabel, value: used, unit, sign: '+' as const, from },
        { label: `headroom ${headroom} %`, value: wanted - used, unit, sign: '+' as const, from: 'policies, headroom of sizes' },
        ...(least > wanted
          ? [{ label: 'up to the system’s minimum', value: least - wanted, unit, sign: '+' as const, from: floorFrom }]
          : []),
        ...(rounded > atLeast
          ? [{ label: 'rounded up', value: rounded - atLeast, unit, sign: '+' as const, from: `whole steps of ${step} ${unit}` }]
          : []),
      ].filter(({ value }) => value > 1e-9 || value < -1e-9),
      'common practice',
    )
  }
  const vcpu =
    summary.cpu && !doubt.cpu
      ? build(
          'vCPU',
          (summary.cpu.p95 / 100) * guest.vcpu,
          `95th percentile, ${summary.cpu.p95.toFixed(1)} % of ${guest.vcpu}`,
          system?.minVcpu ?? 1,
          1,
          '95th percentile + headroom, not under the system’s minimum',
        )
      : undefined
  const memory =
    summary.memory && !doubt.memory
      ? build('MiB', summary.memory.peak, 'peak', system?.minMemoryMiB ?? 0, STEP_MIB, 'peak + headroom, not under the system’s minimum')
      : undefined
  const isEnough = guest.memoryMiB >= Math.max(summary.memory?.peak ?? 0, system?.minMemoryMiB ?? 0)
  const isWorth = (to: number) => !isEnough || Math.abs(guest.memoryMiB - to) >= (guest.memoryMiB * sizeWorthPercent) / 100
  const saves = {
    vcpu: vcpu ? guest.vcpu - vcpu.value : 0,
    memoryMiB: memory && isWorth(memory.value) ? guest.memoryMiB - memory.value : 0,
  }
  return {
    guest,
    verdict: saves.vcpu < 0 || saves.memoryMiB < 0 ? 'too small' : saves.vcpu > 0 || saves.memoryMiB > 0 ? 'too large' : 'fits',
    ...(vcpu ? { vcpu } : {}),
    ...(memory ? { memory } : {}),
    ...none,
    saves,
    isIdle: summary.cpu !== null && !doubt.cpu && summary.cpu.p95 < IDLE_CPU_PERCENT,
  }
}

/** What of a summary cannot be true, in a sentence each. */
function doubtsOf(
  estate: Estate,
  guest: Guest,
  summary: Summary | undefined,
): { readonly cpu?: string; readonly memory?: string; readonly disk?: string } {
  const peak = summary?.memory?.peak
  const memory =
    peak === undefined
      ? undefined
      : peak > guest.memoryMiB
        ? `Up to ${formatMiB(peak, 2)} of memory were measured, and it is recorded with ${formatMiB(guest.memoryMiB, 2)}. Check the recorded memory and the unit of the observations.`
        : peak < USED_MIN_MIB
          ? `At most ${formatMiB(peak, 2)} of memory were measured; no system runs in that little. Check the unit of the observations.`
          : undefined
  return {
    ...(summary?.cpu?.peak === 0 ? { cpu: 'Processor use is 0 % in every observation: it was not measured.' } : {}),
    ...(memory ? { memory } : {}),
    ...diskDoubt(estate.referring('disk', 'guestId', guest.id), summary?.disk?.last),
  }
}

function diskDoubt(disks: readonly Disk[], used: number | undefined): { readonly disk?: string } {
  const size = disks.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0)
  if (used === 0) return { disk: 'Its disks were seen with nothing on them: they were not measured.' }
  if (used === undefined || size === 0 || used <= size) return {}
  return {
    disk: `${formatBytes(used)} were seen on its disks, and it is recorded with ${formatBytes(size)}. Check the recorded disks, the unit of the observations, and whether shares were counted.`,
  }
}

function tooLittle(summary: Summary | undefined): string | undefined {
  if (!summary) return 'No observations.'
  const days = (Date.parse(summary.until) - Date.parse(summary.from)) / 86_400_000
  const count = Math.max(summary.cpu?.count ?? 0, summary.memory?.count ?? 0)
  if (count === 0) return 'Neither processor nor memory was observed.'
  if (count < SAMPLES_MIN) return `Only ${counted(count, 'observation')}; at least ${SAMPLES_MIN} are needed.`
  if (days < DAYS_MIN - 1) return `They span ${days.toFixed(1)} days; a week is needed, as work differs from day to day.`
  return undefined
}

function isForgotten(guest: Guest, summary: Summary | undefined, lastSeen: string | undefined): boolean {
  if (guest.state !== 'running' || !lastSeen) return false
  return summary !== undefined && Date.parse(lastSeen) - Date.parse(summary.until) > FORGOTTEN_DAYS * 86_400_000
}

/** The commands that take an advice: the new size, and what its disk was seen to use and grow by. */
export function adviceCommands(estate: Estate, advice: Advice): readonly Command[] {
  const { guest, vcpu, memory, saves } = advice
  const current = estate.find('guest', guest.id)
  if (!current) return []
  const changes = {
    ...(vcpu && saves.vcpu !== 0 && vcpu.value !== current.vcpu ? { vcpu: vcpu.value } : {}),
    ...(memory && saves.memoryMiB !== 0 && memory.value !== current.memoryMiB ? { memoryMiB: memory.value } : {}),
  }
  if (Object.keys(changes).length === 0) return []
  // A number of sockets that no longer divides the processors would be refused.
  const sockets = changes.vcpu !== undefined && changes.vcpu % current.sockets !== 0 ? { sockets: 1 } : {}
  const least =
    changes.memoryMiB !== undefined && (current.memoryMinMiB ?? 0) > changes.memoryMiB ? { memoryMinMiB: changes.memoryMiB } : {}
  return [{ type: 'guest.update', id: guest.id, changes: { ...changes, ...sockets, ...least } }]
}

/**
 * The commands that record what a guest's only thin disk was seen to use and to grow by, so that findings foresee when its
 * store is full.
 *
 * @returns none where the guest has several disks, as nobody knows which of them grew; none where what was measured cannot be
 * true
 */
export function growthCommands(estate: Estate, guest: Guest, summary: Summary): readonly Command[] {
  const [disk, ...others] = estate.referring('disk', 'guestId', guest.id)
  if (disk?.provisioning !== 'thin' || others.length > 0 || !summary.disk || doubtsOf(estate, guest, summary).disk) return []
  const perMonth = summary.disk.perDay ? Math.max(0, summary.disk.perDay.value * DAYS_PER_MONTH) : disk.growthBytesPerMonth
  return [
    {
      type: 'disk.update',
      id: disk.id,
      changes: {
        usedBytes: Math.round(summary.disk.last),
        growthBytesPerMonth: perMonth === null ? null : Math.round(perMonth),
      },
    },
  ]
}
