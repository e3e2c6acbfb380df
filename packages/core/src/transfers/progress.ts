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
  /** Seconds that the latest readings are usually apart. */
  readonly usualSeconds: number | undefined
}

/** Less than this share of the usual rate is standing still. Common practice, no source. */
const STALLED = 0.05
/** Later readings count more: one counts half as much once a third of what was streamed came after it, or this many readings. */
const HALF_LIFE_SHARE = 1 / 3
const HALF_LIFE_LEAST = 20
/** So many stretches that moved are asked for before it is settled, and after a step once more. */
const SETTLED_STRETCHES = 12
/** So little spread of the rates of its blocks. */
const SETTLED_SPREAD = 0.35
/** And a range that ends at most so much later than its middle, of the natural logarithm. */
const SETTLED_HALF = 0.7
/** What was streamed is parted in so many blocks, by whose rates one sees how far the rate wanders. */
const BLOCKS = 10
/** Student's t for a range of nine in ten, with as many degrees of freedom as blocks less one: NIST e-Handbook of statistical methods, 1.3.6.7.2. */
const T90 = 1.833
/** Rates wander: what is ahead differs more from what was than independent blocks would. By simulation. */
const WANDERING = 1.5
/** How far a rate may yet step or drift that held until now, of the natural logarithm, while much is ahead. By simulation. */
const UNFORESEEN = 0.3

/**
 * How long a running transfer still takes: set-up is told apart from streaming, and standing still from moving. The rate is what moved over
 * the time it took since it last stepped, later readings counting more; stalls come as often and last as long as they did. The range is
 * from how far the rate wandered, how stalls fall, and how far it may yet step, by how much is ahead against what was seen. Readings may
 * come out of order, twice, or go backwards: they are put in order, and what went backwards begins again from there.
 *
 * @param total bytes that are to be moved
 * @param samples readings in any order
 */
export function transferProgress(total: number, samples: readonly TransferSample[]): TransferProgress {
  const readings = inOrder(samples)
  const [first, last] = [readings[0], readings.at(-1)]
  const none = { bytesPerSecond: undefined, left: undefined, isSettled: false, setupSeconds: 0, stalls: [] }
  if (!first || !last || readings.length < 2) return { ...none, byFraction: undefined, usualSeconds: undefined }
  const stretches = stretchesOf(readings)
  const begun = stretches.findIndex(({ rate }) => rate > 0)
  const elapsed = (last.at - first.at) / 1000
  const fraction = last.bytes / total
  const byFraction = fraction > 0 ? Math.max(0, elapsed / fraction - elapsed) : undefined
  const usualSeconds = median(stretches.slice(-HALF_LIFE_LEAST).map(({ seconds }) => seconds))
  if (begun < 0) return { ...none, setupSeconds: elapsed, byFraction, usualSeconds }
  const streaming = stretches.slice(begun)
  const usual = median(streaming.filter(({ rate }) => rate > 0).map(({ rate }) => rate)) ?? 0
  const isStalled = ({ rate }: Stretch) => rate < usual * STALLED
  const moving = sinceItStepped(streaming.filter((stretch) => !isStalled(stretch)))
  const stalls = stallsOf(streaming, isStalled)
  const rate = levelOf(moving)
  const movingLeft = Math.max(0, total - last.bytes) / rate
  const stalling = stallsAhead(streaming, stalls, movingLeft)
  const middle = movingLeft + stalling.seconds
  const { rates, spread, seconds: blockSeconds } = blocksOf(moving)
  const count = Math.max(1, rates.length)
  const wander = WANDERING * Math.hypot(spread * Math.sqrt(1 / count + blockSeconds / Math.max(blockSeconds / 2, movingLeft)), 0.02)
  const seen = blockSeconds * BLOCKS
  const unforeseen = UNFORESEEN * Math.sqrt(movingLeft / (movingLeft + seen))
  const half = T90 * Math.hypot(wander, unforeseen, middle > 0 ? stalling.spread / middle : 0)
  const isStanding = stalls.some(({ from, seconds, isOpen }) => isOpen && seconds > longestBefore(stalls, from))
  return {
    bytesPerSecond: rate,
    left: { low: middle * Math.exp(-half), middle, high: middle * Math.exp(half) },
    isSettled: moving.length >= SETTLED_STRETCHES && spread <= SETTLED_SPREAD && half <= SETTLED_HALF && !isStanding && !drifts(rates),
    setupSeconds: ((streaming[0]?.from ?? first.at) - first.at) / 1000,
    stalls: stalls.map(({ from, seconds }) => ({ from, seconds })),
    byFraction,
    usualSeconds,
  }
}

/** How long it stood still at the longest before an instant. */
const longestBefore = (stalls: readonly Stall[], from: number): number =>
  stalls.reduce((longest, stall) => (stall.from < from ? Math.max(longest, stall.seconds) : longest), 0)

/**
 * The standing still that is to be expected in some seconds of moving, and its spread: stalls come as a Poisson process, at the pace and
 * of the lengths that were seen. The variance of a compound Poisson sum is the count's mean by the mean square of a length, to which comes
 * how little a few stalls say of their pace. Ross, Introduction to Probability Models, section 5.4.2.
 */
function stallsAhead(
  streaming: readonly Stretch[],
  stalls: readonly Stall[],
  movingLeft: number,
): { readonly seconds: number; readonly spread: number } {
  const stood = stalls.reduce((sum, { seconds }) => sum + seconds, 0)
  const moved = streaming.reduce((sum, { seconds }) => sum + seconds, 0) - stood
  if (stalls.length === 0 || moved <= 0) return { seconds: 0, spread: 0 }
  const count = (stalls.length / moved) * movingLeft
  const square = stalls.reduce((sum, { seconds }) => sum + seconds ** 2, 0) / stalls.length
  const seconds = (stood / moved) * movingLeft
  return { seconds, spread: Math.sqrt(count * square + seconds ** 2 / stalls.length) }
}

/** The last so many stretches are held against those before them, twice as many at the most. */
const STEP_WINDOWS = [5, 8]
/** A step is at least so large, of the natural logarithm. */
const STEP_LEAST = 0.25
/** And so many standard errors: one in some thousands by chance. */
const STEP_ERRORS = 4

/** The stretches since the rate last stepped: the medians on both sides of an instant lie further apart than the readings scatter. */
function sinceItStepped(moving: readonly Stretch[]): readonly Stretch[] {
  const logs = moving.map(({ rate }) => Math.log(rate))
  // Differences of neighbours scatter by the noise alone, whatever steps there are: 1.4826 × their median is √2 standard deviations.
  const noise = Math.max(0.02, ((median(logs.slice(1).map((log, at) => Math.abs(log - (logs[at] ?? log)))) ?? 0) * 1.4826) / Math.SQRT2)
  const sums = [0]
  for (const log of logs) sums.push((sums.at(-1) ?? 0) + log)
  const meanOf = (from: number, to: number) => ((sums[to] ?? 0) - (sums[from] ?? 0)) / (to - from)
  let start = 0
  for (let end = 1; end <= logs.length; end++)
    for (const window of STEP_WINDOWS) {
      const [from, at] = [Math.max(start, end - 3 * window), end - window]
      // Medians take time: they are looked at where the means lie apart, too.
      if (at - from < window || Math.abs(meanOf(at, end) - meanOf(from, at)) < STEP_LEAST / 2) continue
      const step = Math.abs((median(logs.slice(at, end)) ?? 0) - (median(logs.slice(from, at)) ?? 0))
      // The standard error of a median is 1.253 times that of a mean.
      const error = 1.253 * noise * Math.sqrt(1 / window + 1 / (at - from))
      if (step > STEP_LEAST && step > STEP_ERRORS * error) start = at
    }
  return moving.slice(start)
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

/** Bytes over seconds, later stretches counting more; bursts count as they came, since they will come again. */
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

interface Stall {
  readonly from: number
  readonly seconds: number
  /** Whether it has not ended. */
  readonly isOpen: boolean
}

function stallsOf(stretches: readonly Stretch[], isStalled: (stretch: Stretch) => boolean): readonly Stall[] {
  const stalls: { from: number; seconds: number; isOpen: boolean }[] = []
  for (const stretch of stretches) {
    const current = stalls.at(-1)
    if (!isStalled(stretch)) {
      if (current) current.isOpen = false
    } else if (current?.isOpen) current.seconds += stretch.seconds
    else stalls.push({ from: stretch.from, seconds: stretch.seconds, isOpen: true })
  }
  return stalls
}

/** Whether the rate still goes one way: the later half of what was streamed differs from the earlier by more than wandering explains. */
function drifts(rates: readonly number[]): boolean {
  const half = Math.floor(rates.length / 2)
  const [early, late] = [median(rates.slice(0, half)) ?? 1, median(rates.slice(-half)) ?? 1]
  return Math.abs(Math.log(late / early)) > 0.3
}
