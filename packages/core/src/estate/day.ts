import type { Estate } from './estate.js'

/** A format takes longer to make than to use; there are no more of them than zones. */
const formats = new Map<string, Intl.DateTimeFormat>()

function dayFormat(timeZone: string): Intl.DateTimeFormat {
  const known = formats.get(timeZone)
  if (known) return known
  const made = new Intl.DateTimeFormat('en-CA', { timeZone, year: 'numeric', month: '2-digit', day: '2-digit' })
  formats.set(timeZone, made)
  return made
}

/**
 * The day it is in an estate's time zone.
 *
 * @param now an instant, ISO 8601
 * @returns `YYYY-MM-DD`
 * @example dayIn('Pacific/Auckland', '2027-01-18T12:30:00Z') // '2027-01-19'
 */
export function dayIn(timeZone: string, now: string): string {
  const parts = dayFormat(timeZone).formatToParts(new Date(now))
  const part = (type: string) => parts.find((one) => one.type === type)?.value ?? ''
  return `${part('year').padStart(4, '0')}-${part('month')}-${part('day')}`
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
