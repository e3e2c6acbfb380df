import { transferProgress, type TransferSample } from './progress.js'

/** What was thought of the end at one moment of a transfer. */
export interface EstimatePoint {
  readonly at: number
  /** Seconds left: the middle and the range of nine in ten; null while nothing moved. */
  readonly middle: number | null
  readonly low: number | null
  readonly high: number | null
  readonly isSettled: boolean
  /** What elapsed over fraction would have said, seconds left. */
  readonly byFraction: number | null
}

/** The most readings that are drawn: one for two or three pixels of the chart’s width, since more are not told apart. */
const DRAWN_MAX = 300
/** At so many moments it is worked out what was thought of the end. */
const MOMENTS = 60
/** An estimate is made from so many readings at most, thinned evenly in time. */
export const ESTIMATED_MAX = 1200

/**
 * As many of the readings as are wanted, evenly over the time: of each stretch of time the last one, and the first of all.
 *
 * @param samples in the order of their times
 */
export function thinned(samples: readonly TransferSample[], most: number): readonly TransferSample[] {
  const [first, last] = [samples[0], samples.at(-1)]
  if (samples.length <= most || !first || !last) return samples
  const width = Math.max(1, (last.at - first.at) / (most - 1))
  const kept: TransferSample[] = [first]
  let bucket = 0
  for (const sample of samples.slice(1)) {
    const at = Math.ceil((sample.at - first.at) / width)
    if (at === bucket && kept.length > 1) kept[kept.length - 1] = sample
    else kept.push(sample)
    bucket = at
  }
  return kept
}

/** How a transfer stands, and what is drawn of it. */
export interface ProgressView {
  readonly progress: ReturnType<typeof transferProgress>
  readonly points: readonly TransferSample[]
  readonly estimates: readonly EstimatePoint[]
}

/**
 * A transfer estimated and ready to be drawn, however many readings there are.
 *
 * @param total bytes that are to be moved
 * @param samples in the order of their times
 */
export function progressView(total: number, samples: readonly TransferSample[]): ProgressView {
  const estimated = thinned(samples, ESTIMATED_MAX)
  const points = thinned(estimated, DRAWN_MAX)
  const moments = thinned(points, MOMENTS)
  let upTo = 0
  const estimates = moments.map((moment): EstimatePoint => {
    while (upTo < points.length && (points[upTo]?.at ?? Infinity) <= moment.at) upTo++
    const { left, isSettled, byFraction } = transferProgress(total, points.slice(0, upTo))
    return {
      at: moment.at,
      middle: left?.middle ?? null,
      low: left?.low ?? null,
      high: left?.high ?? null,
      isSettled,
      byFraction: byFraction ?? null,
    }
  })
  return { progress: transferProgress(total, estimated), points, estimates }
}
