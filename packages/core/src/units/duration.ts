/**
 * A length of time in the two largest units that matter.
 *
 * @param seconds length in seconds, not negative
 * @example formatDuration(7800) // '2 h 10 min'
 */
export function formatDuration(seconds: number): string {
  const whole = Math.round(seconds)
  if (whole < 60) return `${whole} s`
  const minutes = Math.floor(whole / 60)
  if (minutes < 60) return whole % 60 ? `${minutes} min ${whole % 60} s` : `${minutes} min`
  const hours = Math.floor(minutes / 60)
  if (hours < 24) return minutes % 60 ? `${hours} h ${minutes % 60} min` : `${hours} h`
  return hours % 24 ? `${Math.floor(hours / 24)} d ${hours % 24} h` : `${Math.floor(hours / 24)} d`
}

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
