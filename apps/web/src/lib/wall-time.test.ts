import { formatInstant } from '@insel/core'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { instantAt, wallTime } from './wall-time'

const zones = ['UTC', 'Europe/Berlin', 'America/St_Johns', 'Pacific/Auckland', 'Asia/Kathmandu']
/** Whole minutes between 2020 and 2040. */
const minutes = fc.integer({ min: 26_297_280, max: 36_816_480 }).map((count) => new Date(count * 60_000).toISOString())

describe('what the clocks of a zone show', () => {
  // The platform's own calendar (ECMA-402, with the IANA time zone database) says the same by another way.
  it('is as the platform formats it', () =>
    fc.assert(
      fc.property(minutes, fc.constantFrom(...zones), (instant, zone) => {
        expect(formatInstant(instant, zone).slice(4)).toBe(wallTime(instant, zone).replace('T', ' '))
      }),
    ))

  it('is that of the instant it is read as', () =>
    fc.assert(
      fc.property(minutes, fc.constantFrom(...zones), (instant, zone) => {
        const wall = wallTime(instant, zone)
        const read = instantAt(wall, zone) ?? ''
        // The hour that comes twice in autumn is one of the two.
        expect([wallTime(read, zone), Math.abs(Date.parse(read) - Date.parse(instant)) <= 3_600_000]).toEqual([wall, true])
      }),
    ))

  it('is known where clocks change', () => {
    // Europe/Berlin, 2027-03-28: 02:00 CET becomes 03:00 CEST (Directive 2000/84/EC: last Sunday of March, 01:00 UTC).
    expect(instantAt('2027-03-28T01:59', 'Europe/Berlin')).toBe('2027-03-28T00:59:00.000Z')
    expect(instantAt('2027-03-28T03:00', 'Europe/Berlin')).toBe('2027-03-28T01:00:00.000Z')
    expect(instantAt('', 'UTC')).toBeUndefined()
    expect(instantAt('soon', 'UTC')).toBeUndefined()
  })
})
