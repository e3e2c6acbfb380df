import { measures, type Sample } from './sample.js'
import { percentile } from './statistics.js'
import { paceOf, trendOf } from './trend.js'
import { groupBy } from '../lists/index.js'

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
  /** Bytes a day, and its range of 95 in 100, null where days are too few for one; null with fewer than three days. */
  readonly perDay: { readonly value: number; readonly low: number | null; readonly high: number | null } | null
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
/** With fewer days of values than this no growth rate is given. */
export const GROWTH_DAYS_MIN = 3

/** What was observed of one guest or store on one day, in lists side by side: a quarter of a year is quick to go through so. */
export interface SampleDay {
  readonly day: string
  /** Seconds since the day began, UTC, rising. */
  readonly second: readonly number[]
  readonly cpuPercent: readonly (number | null)[]
  readonly memoryMiB: readonly (number | null)[]
  /** Bytes in use as last seen on that day. */
  readonly diskLast: number | null
}

const startOf = (day: string) => Date.parse(`${day}T00:00:00Z`)

/** Samples day by day, each day's in the order of their times. */
export function daysOf(samples: readonly Sample[]): readonly SampleDay[] {
  return [...groupBy(samples, ({ at }) => at.slice(0, 10))]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([day, list]) => {
      const start = startOf(day)
      const ordered = list.map((sample) => ({ sample, second: (Date.parse(sample.at) - start) / 1000 })).sort((a, b) => a.second - b.second)
      return {
        day,
        second: ordered.map(({ second }) => second),
        cpuPercent: ordered.map(({ sample }) => sample.cpuPercent ?? null),
        memoryMiB: ordered.map(({ sample }) => sample.memoryMiB ?? null),
        diskLast: ordered.reduce<number | null>((last, { sample }) => sample.diskBytes ?? last, null),
      }
    })
}

/**
 * Sums up samples over the last days before the last of them.
 *
 * @param samples of one guest or store, in any order
 * @returns undefined where there is nothing
 */
export const summarise = (samples: readonly Sample[], days: SummaryDays): Summary | undefined => summariseDays(daysOf(samples), days)

/**
 * Sums up the last days before the last observation. A day whose last observation is in the stretch counts for growth.
 *
 * @param list of one guest or store, in the order of the days
 * @returns undefined where there is nothing
 */
export function summariseDays(list: readonly SampleDay[], days: SummaryDays): Summary | undefined {
  const [newest] = list.slice(-1)
  if (newest === undefined) return undefined
  const last = startOf(newest.day) + (newest.second.at(-1) ?? 0) * 1000
  const since = last - days * DAY_MS
  const cpu: number[] = []
  const memory: number[] = []
  const disk: [day: number, bytes: number][] = []
  let first = last
  for (const one of list) {
    const start = startOf(one.day)
    if (start + DAY_MS <= since) continue
    for (const [index, second] of one.second.entries()) {
      const at = start + second * 1000
      if (at <= since) continue
      if (at < first) first = at
      const [load, used] = [one.cpuPercent[index], one.memoryMiB[index]]
      if (typeof load === 'number') cpu.push(load)
      if (typeof used === 'number') memory.push(used)
    }
    if (one.diskLast !== null && start + (one.second.at(-1) ?? 0) * 1000 > since) disk.push([start / DAY_MS, one.diskLast])
  }
  return {
    days,
    from: new Date(first).toISOString(),
    until: new Date(last).toISOString(),
    cpu: spreadOf(cpu),
    memory: spreadOf(memory),
    disk: growthOf(disk),
  }
}

function spreadOf(values: readonly number[]): Spread | null {
  const sorted = Float64Array.from(values).sort()
  const [p50, p95, peak] = [percentile(sorted, 0.5), percentile(sorted, 0.95), sorted.at(-1)]
  return p50 === undefined || p95 === undefined || peak === undefined ? null : { count: sorted.length, p50, p95, peak }
}

function growthOf(daily: readonly (readonly [day: number, bytes: number])[]): Growth | null {
  const last = daily.at(-1)
  if (!last) return null
  const trend = daily.length < GROWTH_DAYS_MIN ? undefined : trendOf(daily)
  return { last: last[1], perDay: trend ? paceOf(trend) : null }
}

/** Two samples of one time as one: what the later one measured counts, the rest stays. */
export function mergeSamples(a: Sample, b: Sample): Sample {
  return { at: a.at, ...Object.fromEntries(measures.map((measure) => [measure, b[measure] ?? a[measure] ?? null])) }
}
