/** The instant it is, by the browser’s clock. */
export const now = (): string => new Date().toISOString()

const formats = new Map<string, Intl.DateTimeFormat>()

/**
 * A time as people plan with it: weekday, ISO date, minutes, in the estate's zone.
 *
 * @example formatInstant('2027-03-09T22:00:00Z', 'UTC') // 'Tue 2027-03-09 22:00'
 */
export function formatInstant(iso: string, timeZone: string): string {
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
  const part = Object.fromEntries(format.formatToParts(new Date(iso)).map(({ type, value }) => [type, value]))
  return `${part['weekday']} ${part['year']}-${part['month']}-${part['day']} ${part['hour']}:${part['minute']}`
}
