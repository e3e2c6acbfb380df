import { TZDateMini } from '@date-fns/tz'

const two = (number: number) => String(number).padStart(2, '0')

/**
 * What the clocks of a zone show at an instant, as an input of date and time has it.
 *
 * @example wallTime('2027-01-18T09:00:00.000Z', 'Europe/Berlin') // '2027-01-18T10:00'
 */
export function wallTime(instant: string, zone: string): string {
  const at = new TZDateMini(instant, zone)
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T${two(at.getHours())}:${two(at.getMinutes())}`
}

const WALL = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)/

/**
 * The instant at which the clocks of a zone show something; a time that they skip is the one after.
 *
 * @returns undefined where it is no date and time
 * @example instantAt('2027-01-18T10:00', 'Europe/Berlin') // '2027-01-18T09:00:00.000Z'
 */
export function instantAt(wall: string, zone: string): string | undefined {
  const [, year, month, day, hour, minute] = (WALL.exec(wall) ?? []).map(Number)
  if (year === undefined || month === undefined || day === undefined || hour === undefined || minute === undefined) return undefined
  if (hour > 23 || minute > 59) return undefined
  return new Date(new TZDateMini(year, month - 1, day, hour, minute, 0, 0, zone).getTime()).toISOString()
}
