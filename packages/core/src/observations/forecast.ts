import type { Command } from '../commands/index.js'
import { daysBetween, type Disk, type Estate, type Guest, type Store } from '../estate/index.js'
import { standingBytes, storeBudget, takenBytes } from '../capacity/index.js'
import { GROWTH_DAYS_MIN } from './summary.js'
import { daysUntil, type Trend, trendOf } from './trend.js'

/** Bytes in use on the last observation of each day, of one guest or store: `YYYY-MM-DD` and bytes. */
export type DailyBytes = readonly (readonly [day: string, bytes: number])[]

/** A guest that makes a store grow. */
export interface Driver {
  readonly guest: Guest
  /** Bytes a day. */
  readonly perDay: number
}

/** How a store filled, and when it will be full. */
export interface Forecast {
  /** Bytes in use by day: observed of the store itself, or put together from its guests. */
  readonly history: DailyBytes
  readonly from: 'the store' | 'its guests' | 'nothing'
  /** Days with an observation. */
  readonly observedDays: number
  /** Bytes a day, and how far what comes may be off it; undefined with too few days. */
  readonly trend: Trend | undefined
  /** Days from the last observation until it is full at that pace, and the soonest and latest of 95 in 100; undefined: not, or not known. */
  readonly daysToFull:
    { readonly value: number | undefined; readonly soonest: number | undefined; readonly latest: number | undefined } | undefined
  /** Who drives it, the quickest first. */
  readonly drivers: readonly Driver[]
  /** Bytes in use when every thin disk has filled to its size. */
  readonly allFilledBytes: number
}

const DAY_MS = 86_400_000
const dayNumber = (day: string) => Math.round(Date.parse(day) / DAY_MS)
const dayText = (number: number) => new Date(number * DAY_MS).toISOString().slice(0, 10)

/**
 * What a guest's thin disks take on a store of what it has in use: its use is known of the guest, not of each disk, and is
 * shared out by what was last seen of each, or else by size.
 */
function shareOn(disks: readonly Disk[], storeId: string): number {
  const thin = disks.filter(({ provisioning }) => provisioning === 'thin')
  const weight = (list: readonly Disk[]) => {
    const seen = list.reduce((sum, disk) => sum + takenBytes(disk), 0)
    return thin.some((disk) => takenBytes(disk) > 0) ? seen : list.reduce((sum, disk) => sum + disk.sizeBytes, 0)
  }
  const all = weight(thin)
  return all === 0 ? 0 : weight(thin.filter((disk) => disk.storeId === storeId)) / all
}

/**
 * How a store fills: from observations of the store itself where there are enough, otherwise from those of its guests.
 *
 * @param daily observations by the id of a guest or store
 * @returns the history, the pace with its spread, the days to full, and which guests drive it
 */
export function forecastStore(estate: Estate, store: Store, daily: ReadonlyMap<string, DailyBytes>): Forecast {
  const disks = estate.referring('disk', 'storeId', store.id)
  const guests = [...new Set(disks.map(({ guestId }) => guestId))].flatMap((id) => estate.find('guest', id) ?? [])
  const parts = guests.map((guest) => {
    const share = shareOn(estate.referring('disk', 'guestId', guest.id), store.id)
    return { guest, series: (daily.get(guest.id) ?? []).map(([day, bytes]) => [day, bytes * share] as const) }
  })
  const own = daily.get(store.id) ?? []
  const isOwn = own.length >= GROWTH_DAYS_MIN
  const history = isOwn ? own : sumOfSeries(store, estate, disks, parts)
  const trendIn = (series: DailyBytes) =>
    series.length < GROWTH_DAYS_MIN ? undefined : trendOf(series.map(([day, bytes]) => [dayNumber(day), bytes]))
  const trend = trendIn(history)
  const used = history.at(-1)?.[1] ?? storeBudget(estate, store).used.value
  return {
    history,
    from: isOwn ? 'the store' : history.length > 0 ? 'its guests' : 'nothing',
    observedDays: history.length,
    trend,
    daysToFull: trend && daysUntil(trend, store.capacityBytes - used),
    drivers: parts
      .flatMap(({ guest, series }) => {
        const pace = trendIn(series)?.perDay ?? 0
        return pace > 0 ? [{ guest, perDay: pace }] : []
      })
      .sort((a, b) => b.perDay - a.perDay),
    allFilledBytes: storeBudget(estate, store).promised.value,
  }
}

/**
 * Days from a day on until a store is full, and the soonest and latest of 95 in 100; 0 where that day is over. What is not observed any more
 * is taken to go on as it did.
 *
 * @example daysToFullFrom(forecast, '2026-12-02')?.value // 52.9
 */
export function daysToFullFrom({ daysToFull, history }: Forecast, today: string): Forecast['daysToFull'] {
  const last = history.at(-1)?.[0]
  if (!daysToFull || last === undefined) return daysToFull
  const since = daysBetween(last, today)
  const from = (days: number | undefined) => (days === undefined ? undefined : Math.max(0, days - since))
  return { value: from(daysToFull.value), soonest: from(daysToFull.soonest), latest: from(daysToFull.latest) }
}

/** The guests' series added day by day; a guest without a value on a day counts with its last before, or its first after. */
function sumOfSeries(
  store: Store,
  estate: Estate,
  disks: readonly Disk[],
  parts: readonly { readonly guest: Guest; readonly series: DailyBytes }[],
): DailyBytes {
  const observed = parts.filter(({ series }) => series.length > 0)
  if (observed.length === 0) return []
  const numbers = observed.flatMap(({ series }) => series.map(([day]) => dayNumber(day)))
  const [first, last] = [Math.min(...numbers), Math.max(...numbers)]
  const watched = new Set(observed.map(({ guest }) => guest.id))
  // Thick disks, and guests nobody observes, are as recorded.
  const constant = disks
    .filter((disk) => disk.provisioning === 'thick' || !watched.has(disk.guestId))
    .reduce((sum, disk) => sum + takenBytes(disk), standingBytes(estate, store))
  const totals = new Float64Array(last - first + 1).fill(constant)
  const days = new Set(numbers)
  for (const { series } of observed) {
    let at = 0
    let value = series[0]?.[1] ?? 0
    for (let day = first; day <= last; day++) {
      while (at < series.length && dayNumber(series[at]?.[0] ?? '') <= day) value = series[at++]?.[1] ?? value
      totals[day - first] = (totals[day - first] ?? 0) + value
    }
  }
  return [...totals].flatMap((bytes, index) => (days.has(first + index) ? [[dayText(first + index), bytes] as const] : []))
}

/** Share of what is in use by which the record may be off before it is worth correcting. */
const SLACK = 0.01

/**
 * The command that records what was seen of a store itself: what it has in use beyond its disks and images is its other use.
 *
 * @returns undefined where nothing was seen of the store itself, or that is already recorded, to a hundredth
 */
export function storeUseCommand(estate: Estate, store: Store, { history, from }: Forecast): Command | undefined {
  const last = history.at(-1)
  if (from !== 'the store' || !last) return undefined
  const beside = storeBudget(estate, store).used.value - (store.otherBytes ?? 0)
  const otherBytes = Math.max(0, Math.round(last[1] - beside))
  return Math.abs(otherBytes - (store.otherBytes ?? 0)) <= last[1] * SLACK
    ? undefined
    : { type: 'store.update', id: store.id, changes: { otherBytes } }
}
