import { execFileSync } from 'node:child_process'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { smallEstate } from '../testing/small-estate.js'
import { dayAfter, dayIn, dayOf, daysBetween, formatInstant } from './day.js'

const days = fc.date({ min: new Date('1971-01-01'), max: new Date('2199-12-31'), noInvalidDate: true })

describe('days', () => {
  it.each([
    ['Pacific/Auckland', '2027-01-18T12:30:00Z', '2027-01-19'],
    ['Europe/London', '2027-06-30T23:30:00Z', '2027-07-01'],
    ['America/St_Johns', '2027-01-01T03:29:00Z', '2026-12-31'],
    ['UTC', '2028-02-29T23:59:59Z', '2028-02-29'],
  ])('in %s at %s it is %s', (zone, now, day) => expect(dayIn(zone, now)).toBe(day))

  it.each([
    ['2027-03-09T22:00:00Z', 'UTC', 'Tue 2027-03-09 22:00'],
    // The European Union's summer time begins on the last Sunday in March at 01:00 UTC (directive 2000/84/EC).
    ['2027-03-28T00:59:00Z', 'Europe/Paris', 'Sun 2027-03-28 01:59'],
    ['2027-03-28T01:00:00Z', 'Europe/Paris', 'Sun 2027-03-28 03:00'],
  ])('%s in %s is %s', (instant, zone, text) => expect(formatInstant(instant, zone)).toBe(text))

  // Python's zoneinfo reads the system's time-zone data; Node brings its own. They agree on these zones for these years.
  it('is what Python says, over many zones and instants', () => {
    const cases = ['Europe/London', 'Europe/Oslo', 'America/New_York', 'Asia/Kathmandu', 'Australia/Lord_Howe', 'UTC'].flatMap((zone) =>
      [1_700_000_000, 1_743_300_000, 1_761_440_400, 1_798_761_599, 1_830_297_600].map((second) => [zone, second] as const),
    )
    const program = `import json,sys
from datetime import datetime, timezone
from zoneinfo import ZoneInfo, available_timezones
cases=json.load(sys.stdin)
known=available_timezones()
print(json.dumps([datetime.fromtimestamp(s, timezone.utc).astimezone(ZoneInfo(z)).strftime('%a %Y-%m-%d %H:%M') if z in known else None for z,s in cases]))`
    const said = JSON.parse(execFileSync('python3', ['-c', program], { input: JSON.stringify(cases), encoding: 'utf8' })) as (
      string | null
    )[]
    expect(said).toHaveLength(cases.length)
    cases.forEach(([zone, second], index) => {
      const instant = new Date(second * 1000).toISOString()
      if (!said[index]) return
      expect(formatInstant(instant, zone), `${zone} at ${second}`).toBe(said[index])
      expect(dayIn(zone, instant), `${zone} at ${second}`).toBe(said[index].slice(4, 14))
    })
  })

  // The system's time-zone data (IANA), read by Python: a day is kept for a quarter of an hour, and no day may begin within one.
  it('begins at a quarter of an hour in every zone since 1980', () => {
    const program = `import json
from datetime import datetime, timezone
from zoneinfo import ZoneInfo, available_timezones
days=[datetime(year,month,day,tzinfo=timezone.utc) for year in range(1980,2038) for month in (1,4,7,10) for day in (1,15)]
odd=[z for z in available_timezones() for d in days if d.astimezone(ZoneInfo(z)).utcoffset().total_seconds()%900]
print(json.dumps([len(available_timezones()),sorted(set(odd))]))`
    const [zones, odd] = JSON.parse(execFileSync('python3', ['-c', program], { encoding: 'utf8' })) as [number, string[]]
    expect(zones).toBeGreaterThan(400)
    expect(odd).toEqual([])
  })

  it('is the same in whatever order it is asked for, to the second before midnight', () => {
    const zone = 'Asia/Kathmandu'
    const midnight = Date.parse('2027-01-18T18:15:00Z')
    const at = (seconds: number) => dayIn(zone, new Date(midnight + seconds * 1000).toISOString())
    for (const seconds of [-1, 0, -900, 899, 1, -86_400, -1])
      expect([seconds, at(seconds)]).toEqual([seconds, seconds < 0 ? '2027-01-18' : '2027-01-19'])
  })

  it('between and after are each other’s inverse', () =>
    fc.assert(
      fc.property(days, fc.integer({ min: -3000, max: 3000 }), (date, count) => {
        const day = date.toISOString().slice(0, 10)
        expect(daysBetween(day, dayAfter(day, count))).toBe(count)
      }),
    ))

  it('an estate’s day is that of its zone', () => expect(dayOf(smallEstate(), '2027-01-18T23:59:00Z')).toBe('2027-01-18'))
})
