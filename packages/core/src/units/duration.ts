/**
 * A length of time in the two largest units that matter, rounded to the smaller.
 *
 * @param seconds length in seconds, not negative
 * @example formatDuration(7830) // '2 h 11 min'
 */
export function formatDuration(seconds: number): string {
  const whole = Math.round(seconds)
  if (whole < 60) return `${whole} s`
  if (whole < 3600) return inTwo(whole, 60, 'min', 's')
  const minutes = Math.round(seconds / 60)
  if (minutes < 1440) return inTwo(minutes, 60, 'h', 'min')
  return inTwo(Math.round(seconds / 3600), 24, 'd', 'h')
}

const inTwo = (count: number, each: number, large: string, small: string): string =>
  `${Math.floor(count / each)} ${large}${count % each ? ` ${count % each} ${small}` : ''}`

/** By so much the clocks of two machines may differ, milliseconds. Common practice, no source. */
const CLOCKS_DIFFER_MS = 5 * 60_000

/**
 * What is wrong with a time at which something was read or measured; undefined where nothing is.
 *
 * @param at when, milliseconds since 1970
 * @param now milliseconds since 1970; by more than clocks differ, nothing is read later than this
 * @example timeReadProblem(Date.parse('2027-01-18T09:00:00Z'), Date.parse('2027-01-18T08:00:00Z')) // 'It is 1 h later than now. …'
 */
export function timeReadProblem(at: number, now: number): string | undefined {
  if (at > now + CLOCKS_DIFFER_MS)
    return `It is ${formatDuration((at - now) / 1000)} later than now. A time without a zone is UTC: give its zone, such as +01:00, or set the clock right.`
  return at < Date.UTC(2000, 0, 1) ? 'It is before the year 2000; check its time.' : undefined
}
