import tQuantile from '@stdlib/stats-base-dists-t-quantile'
import { theilSen } from './statistics.js'

/** How far what comes may be off a trend: 95 times in 100 not further. */
export interface TrendSpread {
  /** Variance that each day adds: what goes up and down for days together is counted as such. */
  readonly perDay: number
  /** Variance of the pace itself, known only from so many days. */
  readonly pace: number
  /** Variance of the last value around its line. */
  readonly level: number
  /** How many standard deviations hold 95 times in 100, by how little is known of them. */
  readonly deviations: number
}

/** A pace through daily values. */
export interface Trend {
  /** Change of the value in a day. */
  readonly perDay: number
  /** Undefined where there are too few days for a range that means anything. */
  readonly spread: TrendSpread | undefined
}

/** Stretches of days that have to follow each other before their differences say how far off they are. */
const STRETCHES_MIN = 5
/** The longest stretch, days: what a week repeats stays inside one. */
const STRETCH_MAX = 7

/**
 * The pace of a series of daily values, and how far the days to come may be off it. Days follow each other: what was high today is rarely
 * low tomorrow, and a range that takes them for independent is far too narrow. The variance is that of whole stretches of days.
 *
 * @param points day and value, in the order of days; days between two are taken to lie on the line between them
 * @see Sen 1968 for the pace; Carlstein 1986, Ann. Stat. 14, 1171-1179, for the variance by stretches that do not overlap
 * @example trendOf([[0, 1], [1, 3], [2, 5]])?.perDay // 2
 */
export function trendOf(points: readonly (readonly [day: number, value: number])[]): Trend | undefined {
  const slope = theilSen(points)
  if (!slope) return undefined
  const daily = everyDay(points)
  const steps = daily.length - 1
  const stretch = Math.max(1, Math.min(STRETCH_MAX, Math.floor(steps / (STRETCHES_MIN + 1))))
  const count = Math.floor(steps / stretch)
  if (count < STRETCHES_MIN || points.length <= STRETCHES_MIN) return { perDay: slope.perX, spread: undefined }
  const change = (every: number, index: number) => {
    const end = daily.length - 1 - index * every
    return (daily[end] ?? 0) - (daily[end - every] ?? 0)
  }
  const perDay = variance(Array.from({ length: count }, (_, index) => change(stretch, index))) / stretch
  return {
    perDay: slope.perX,
    spread: {
      perDay,
      pace: perDay / steps,
      level: variance(Array.from({ length: steps }, (_, index) => change(1, index))) / 2,
      deviations: tQuantile(0.975, count - 1),
    },
  }
}

/**
 * The pace with its range of 95 in 100; without ends where too little is known.
 *
 * @example paceOf({ perDay: 2, spread: undefined }) // { value: 2, low: null, high: null }
 */
export function paceOf({ perDay, spread }: Trend): { readonly value: number; readonly low: number | null; readonly high: number | null } {
  const off = spread && spread.deviations * Math.sqrt(spread.pace)
  return { value: perDay, low: off === undefined ? null : perDay - off, high: off === undefined ? null : perDay + off }
}

/**
 * How far off a value may be, so many days after the last: 95 times in 100 not further.
 *
 * @example offAfter({ perDay: 1, pace: 0.01, level: 0, deviations: 2 }, 100) // 28.28…
 */
export const offAfter = ({ perDay, pace, level, deviations }: TrendSpread, days: number): number =>
  deviations * Math.sqrt(level + perDay * days + pace * days ** 2)

/** Further ahead nothing is said, days: a hundred years. */
const AHEAD_MAX = 36_500

/**
 * The days until so much more is reached, at the pace, and the soonest and latest of 95 in 100.
 *
 * @param more how much is left; nothing or less is reached now
 * @returns undefined where it is not reached within a hundred years, or too little is known
 * @example daysUntil({ perDay: 2, spread: undefined }, 100).value // 50
 */
export function daysUntil(
  { perDay, spread }: Trend,
  more: number,
): { readonly value: number | undefined; readonly soonest: number | undefined; readonly latest: number | undefined } {
  if (more <= 0) return { value: 0, soonest: 0, latest: 0 }
  const value = more / AHEAD_MAX < perDay ? more / perDay : undefined
  if (!spread) return { value, soonest: undefined, latest: undefined }
  // Found by halving, so within a thousandth: never beyond the likeliest for that.
  return {
    value,
    soonest: notAfter(
      value,
      firstDay((days) => perDay * days + offAfter(spread, days) >= more),
    ),
    latest: firstDay((days) => perDay * days - offAfter(spread, days) >= more),
  }
}

const notAfter = (limit: number | undefined, days: number | undefined) =>
  limit === undefined || days === undefined ? days : Math.min(limit, days)

/** The first of days after which something holds that goes on holding; to a thousandth of a day. */
function firstDay(holds: (days: number) => boolean): number | undefined {
  if (!holds(AHEAD_MAX)) return undefined
  let [before, after] = [0, AHEAD_MAX]
  while (after - before > 0.001) {
    const middle = (before + after) / 2
    if (holds(middle)) after = middle
    else before = middle
  }
  return after
}

/** A value for every day from the first to the last. */
function everyDay(points: readonly (readonly [day: number, value: number])[]): readonly number[] {
  const values: number[] = []
  for (const [index, [day, value]] of points.entries()) {
    const before = points[index - 1]
    const gap = before ? day - before[0] : 1
    for (let step = 1; step <= gap; step++) values.push(before ? before[1] + ((value - before[1]) * step) / gap : value)
  }
  return values
}

function variance(values: readonly number[]): number {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length
  return values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (values.length - 1)
}
