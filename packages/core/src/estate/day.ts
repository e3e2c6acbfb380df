import type { Estate } from './estate.js'

/** A format takes longer to make than to use; there are no more of them than zones. */
const formats = new Map<string, Intl.DateTimeFormat>()

/** What the clocks and calendars of a zone show at an instant, part by part. */
function partsIn(timeZone: string, instant: string): Readonly<Record<string, string>> {
  let format = formats.get(timeZone)
  if (!format) {
    format = new Intl.DateTimeFormat('en-GB', {
      timeZone,
      weekday: 'short',
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    })
    formats.set(timeZone, format)
  }
  return Object.fromEntries(format.formatToParts(new Date(instant)).map(({ type, value }) => [type, value]))
}

/** Clocks of all zones have stood a multiple of so much apart since 1980. @source the time-zone data of IANA, held against it in the test */
const QUARTER_MS = 900_000
const SINCE_1980 = Date.parse('1980-01-01')
/** The day of each zone that was asked for last: nearly always, it is today that is asked for. */
const lastDay = new Map<string, { readonly quarter: number; readonly day: string }>()

/**
 * The day it is in an estate's time zone.
 *
 * @param now an instant, ISO 8601
 * @returns `YYYY-MM-DD`
 * @example dayIn('Pacific/Auckland', '2027-01-18T12:30:00Z') // '2027-01-19'
 */
export function dayIn(timeZone: string, now: string): string {
  const at = Date.parse(now)
  const quarter = Math.floor(at / QUARTER_MS)
  const last = lastDay.get(timeZone)
  if (last?.quarter === quarter) return last.day
  const day = dayOfParts(partsIn(timeZone, now))
  if (at >= SINCE_1980) lastDay.set(timeZone, { quarter, day })
  return day
}

const dayOfParts = (part: Readonly<Record<string, string>>): string =>
  `${(part['year'] ?? '').padStart(4, '0')}-${part['month'] ?? ''}-${part['day'] ?? ''}`

/**
 * A time as people plan with it: weekday, ISO date, minutes, in the estate's zone.
 *
 * @param instant ISO 8601
 * @example formatInstant('2027-03-09T22:00:00Z', 'UTC') // 'Tue 2027-03-09 22:00'
 */
export function formatInstant(instant: string, timeZone: string): string {
  const part = partsIn(timeZone, instant)
  return `${part['weekday'] ?? ''} ${dayOfParts(part)} ${part['hour'] ?? ''}:${part['minute'] ?? ''}`
}

/** The time zone in which the people of an estate plan. */
export const timeZoneOf = (estate: Estate): string => estate.all('estate')[0]?.timeZone ?? 'UTC'

/** The day it is in the estate, `YYYY-MM-DD`. */
export const dayOf = (estate: Estate, now: string): string => dayIn(timeZoneOf(estate), now)

/**
 * Days from one day to another; negative when the other is earlier.
 *
 * @example daysBetween('2027-01-18', '2027-02-01') // 14
 */
export const daysBetween = (from: string, to: string): number => Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000)

/** A day so many days later, `YYYY-MM-DD`. */
export const dayAfter = (day: string, days: number): string => new Date(Date.parse(day) + days * 86_400_000).toISOString().slice(0, 10)
