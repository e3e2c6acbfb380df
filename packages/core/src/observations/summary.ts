import { measures, type Measure, type Sample } from './sample.js'
import { percentile, theilSen } from './statistics.js'

/** Stretches of time that are summed up, days up to the last observation. */
export const summaryDays = [7, 30, 90] as const
export type SummaryDays = (typeof summaryDays)[number]

/** How a measure was spread over a time. */
export interface Spread {
  readonly count: number
  readonly p50: number
  readonly p95: number
  readonly peak: number
}

/** How the bytes in use grew. */
export interface Growth {
  /** Bytes in use when last seen. */
  readonly last: number
  /** Bytes a day, and the range in which that lies with 95 % confidence; null with fewer than three days. */
  readonly perDay: { readonly value: number; readonly low: number; readonly high: number } | null
}

/** What was observed of one guest or store over a stretch of time. */
export interface Summary {
  readonly days: SummaryDays
  /** First and last observation in it, ISO 8601. */
  readonly from: string
  readonly until: string
  readonly cpu: Spread | null
  readonly memory: Spread | null
  readonly disk: Growth | null
}

const DAY_MS = 86_400_000
/** Days with a value below which no growth is told. */
export const GROWTH_DAYS_MIN = 3

/**
 * Sums up samples over the last days before the last of them.
 *
 * @param samples of one guest or store, in any order
 * @returns undefined where there is nothing
 */
export function summarise(samples: readonly Sample[], days: SummaryDays): Summary | undefined {
  const times = samples.map(({ at }) => Date.parse(at))
  const last = times.reduce((latest, time) => Math.max(latest, time), -Infinity)
  const since = last - days * DAY_MS
  const within = samples.filter((_, index) => (times[index] ?? 0) > since)
  if (within.length === 0) return undefined
  const first = within.reduce((earliest, { at }) => Math.min(earliest, Date.parse(at)), Infinity)
  return {
    days,
    from: new Date(first).toISOString(),
    until: new Date(last).toISOString(),
    cpu: spreadOf(within, 'cpuPercent'),
    memory: spreadOf(within, 'memoryMiB'),
    disk: growthOf(within),
  }
}

function spreadOf(samples: readonly Sample[], measure: Measure): Spread | null {
  const sorted = Float64Array.from(samples.flatMap((sample) => sample[measure] ?? [])).sort()
  const [p50, p95, peak] = [percentile(sorted, 0.5), percentile(sorted, 0.95), sorted.at(-1)]
  return p50 === undefined || p95 === undefined || peak === undefined ? null : { count: sorted.length, p50, p95, peak }
}

/** The last value of each day that has one, by whole days. */
export function dailyLast(samples: readonly Sample[], measure: Measure): readonly (readonly [day: string, value: number])[] {
  const days = new Map<string, readonly [at: string, value: number]>()
  for (const sample of samples) {
    const value = sample[measure]
    const day = sample.at.slice(0, 10)
    if (value === undefined || value === null) continue
    if ((days.get(day)?.[0] ?? '') <= sample.at) days.set(day, [sample.at, value])
  }
  return [...days].sort(([a], [b]) => (a < b ? -1 : 1)).map(([day, [, value]]) => [day, value])
}

function growthOf(samples: readonly Sample[]): Growth | null {
  const daily = dailyLast(samples, 'diskBytes')
  const last = daily.at(-1)
  if (!last) return null
  const slope = daily.length < GROWTH_DAYS_MIN ? undefined : theilSen(daily.map(([day, value]) => [Date.parse(day) / DAY_MS, value]))
  return { last: last[1], perDay: slope ? { value: slope.perX, low: slope.low, high: slope.high } : null }
}

/** Two samples of one time as one: what the later one measured counts, the rest stays. */
export function mergeSamples(a: Sample, b: Sample): Sample {
  return { at: a.at, ...Object.fromEntries(measures.map((measure) => [measure, b[measure] ?? a[measure] ?? null])) }
}
