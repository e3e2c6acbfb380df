import { median } from '../lists/index.js'

/** A dated reading of a running transfer. */
export interface TransferSample {
  /** Milliseconds since 1970. */
  readonly at: number
  /** Bytes moved so far. */
  readonly bytes: number
}

/** How a running transfer stands. */
export interface TransferProgress {
  /** Bytes a second, as it goes now; undefined while nothing moved. */
  readonly bytesPerSecond: number | undefined
  /** Seconds that are left: the middle, and the ends of a range in which the end is nine times in ten. */
  readonly left: { readonly low: number; readonly middle: number; readonly high: number } | undefined
  /** Whether the range can be relied upon; until then it is called unsettled. */
  readonly isSettled: boolean
  /** Seconds at the beginning in which nothing moved. */
  readonly setupSeconds: number
  /** Stretches in which nothing moved, after it had begun. */
  readonly stalls: readonly { readonly from: number; readonly seconds: number }[]
  /** What elapsed over fraction would say, for comparison: seconds left. */
  readonly byFraction: number | undefined
}

/** Less than this share of the usual rate is standing still. Common practice, no source. */
const STALLED = 0.05
/** Later readings count more: one counts half as much once a third of what was streamed came after it, or this many readings. */
const HALF_LIFE_SHARE = 1 / 3
const HALF_LIFE_LEAST = 20
/** So many stretches that moved are asked for before it is settled. */
const SETTLED_STRETCHES = 12
/** And so little spread of the rates of its blocks. */
const SETTLED_SPREAD = 0.35
/** What was streamed is parted in so many blocks, by whose rates one sees how far the rate wanders. */
const BLOCKS = 10
/** Student's t for a range of nine in ten, with as many degrees of freedom as blocks less one: NIST e-Handbook of statistical methods, 1.3.6.7.2. */
const T90 = 1.833
/** Rates wander: what is ahead differs more from what was than independent blocks would. By simulation. */
const WANDERING = 1.5

/**
 * How long a running transfer still takes: set-up is told apart from streaming, the rate is what was streamed over
 * the time it took, later readings counting more, and the range is from how far the rate wandered. Stalls are named, and count as they came. Readings may
 * come out of order, twice, or go backwards: they are put in order, and what went backwards begins again from there.
 *
 * @param total bytes that are to be moved
 * @param samples readings in any order
 */
export function transferProgress(total: number, samples: readonly TransferSample[]): TransferProgress {
  const readings = inOrder(samples)
  const [first, last] = [readings[0], readings.at(-1)]
  if (!first || !last || readings.length < 2)
    return { bytesPerSecond: undefined, left: undefined, isSettled: false, setupSeconds: 0, stalls: [], byFraction: undefined }
  const stretches = stretchesOf(readings)
  const begun = stretches.findIndex(({ rate }) => rate > 0)
  const elapsed = (last.at - first.at) / 1000
  const fraction = last.bytes / total
  const byFraction = fraction > 0 ? Math.max(0, elapsed / fraction - elapsed) : undefined
  if (begun < 0) return { bytesPerSecond: undefined, left: undefined, isSettled: false, setupSeconds: elapsed, stalls: [], byFraction }
  const streaming = stretches.slice(begun)
  const usual = median(streaming.filter(({ rate }) => rate > 0).map(({ rate }) => rate)) ?? 0
  const isStalled = ({ rate }: Stretch) => rate < usual * STALLED
  const rate = levelOf(streaming)
  const remaining = Math.max(0, total - last.bytes)
  const middle = remaining / rate
  const { rates, spread, seconds: blockSeconds } = blocksOf(streaming)
  const count = Math.max(1, rates.length)
  const error = T90 * WANDERING * Math.hypot(spread * Math.sqrt(1 / count + blockSeconds / Math.max(blockSeconds / 2, middle)), 0.02)
  return {
    bytesPerSecond: rate,
    left: { low: middle * Math.exp(-error), middle, high: middle * Math.exp(error) },
    isSettled: streaming.filter((stretch) => !isStalled(stretch)).length >= SETTLED_STRETCHES && spread <= SETTLED_SPREAD && !drifts(rates),
    setupSeconds: ((streaming[0]?.from ?? first.at) - first.at) / 1000,
    stalls: stallsOf(streaming, isStalled),
    byFraction,
  }
}

interface Stretch {
  readonly from: number
  readonly seconds: number
  readonly rate: number
}

function inOrder(samples: readonly TransferSample[]): readonly TransferSample[] {
  const sorted = [...samples]
    .filter(({ at, bytes }) => Number.isFinite(at) && Number.isFinite(bytes) && bytes >= 0)
    .sort((a, b) => a.at - b.at)
  const kept: TransferSample[] = []
  for (const sample of sorted) {
    const before = kept.at(-1)
    if (before?.at === sample.at) kept.pop()
    // It began again, or a reading was wrong: what was counted beyond it did not happen.
    while ((kept.at(-1)?.bytes ?? 0) > sample.bytes) kept.pop()
    kept.push(sample)
  }
  return kept
}

const stretchesOf = (readings: readonly TransferSample[]): readonly Stretch[] =>
  readings.slice(1).map((to, index) => {
    const from = readings[index] ?? to
    const seconds = Math.max(1e-3, (to.at - from.at) / 1000)
    return { from: from.at, seconds, rate: (to.bytes - from.bytes) / seconds }
  })

/** Bytes over seconds, later stretches counting more; stalls and bursts count as they came, since they will come again. */
function levelOf(stretches: readonly Stretch[]): number {
  const halfLife = Math.max(HALF_LIFE_LEAST, stretches.length * HALF_LIFE_SHARE)
  let [bytes, seconds] = [0, 0]
  for (const [index, stretch] of stretches.entries()) {
    const weight = 0.5 ** ((stretches.length - 1 - index) / halfLife)
    bytes += weight * stretch.rate * stretch.seconds
    seconds += weight * stretch.seconds
  }
  return Math.max(1, bytes / seconds)
}

/** How far the rate wanders: the spread of the logarithms of the rates of blocks as long as each other. */
function blocksOf(stretches: readonly Stretch[]): { readonly rates: readonly number[]; readonly spread: number; readonly seconds: number } {
  const streamed = stretches.reduce((sum, { seconds }) => sum + seconds, 0)
  const rates = blockRates(stretches, streamed / BLOCKS).filter((rate) => rate > 0)
  const logs = rates.map(Math.log)
  const mean = logs.reduce((sum, log) => sum + log, 0) / Math.max(1, logs.length)
  const spread = Math.sqrt(logs.reduce((sum, log) => sum + (log - mean) ** 2, 0) / Math.max(1, logs.length - 1))
  return { rates, spread, seconds: streamed / BLOCKS }
}

/** The mean rate of each block of so many seconds. */
function blockRates(stretches: readonly Stretch[], seconds: number): readonly number[] {
  const blocks: { bytes: number; seconds: number }[] = []
  let passed = 0
  for (const stretch of stretches) {
    const at = Math.min(BLOCKS - 1, Math.floor(passed / seconds))
    const block = (blocks[at] ??= { bytes: 0, seconds: 0 })
    block.bytes += stretch.rate * stretch.seconds
    block.seconds += stretch.seconds
    passed += stretch.seconds
  }
  return blocks.flatMap((block) => (block.seconds > 0 ? [block.bytes / block.seconds] : []))
}

function stallsOf(stretches: readonly Stretch[], isStalled: (stretch: Stretch) => boolean): TransferProgress['stalls'] {
  const stalls: { from: number; seconds: number }[] = []
  let isOpen = false
  for (const stretch of stretches) {
    if (!isStalled(stretch)) {
      isOpen = false
      continue
    }
    const current = stalls.at(-1)
    if (isOpen && current) current.seconds += stretch.seconds
    else stalls.push({ from: stretch.from, seconds: stretch.seconds })
    isOpen = true
  }
  return stalls
}

/** Whether the rate still goes one way: the later half of what was streamed differs from the earlier by more than wandering explains. */
function drifts(rates: readonly number[]): boolean {
  const half = Math.floor(rates.length / 2)
  const [early, late] = [median(rates.slice(0, half)) ?? 1, median(rates.slice(-half)) ?? 1]
  return Math.abs(Math.log(late / early)) > 0.3
}
