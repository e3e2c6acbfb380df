import { describe, expect, it } from 'vitest'
import { formatInstant } from './time'

describe('times', () => {
  it.each([
    ['2027-03-09T22:00:00Z', 'UTC', 'Tue 2027-03-09 22:00'],
    // The European Union's summer time begins on the last Sunday in March at 01:00 UTC (directive 2000/84/EC).
    ['2027-03-28T00:59:00Z', 'Europe/Paris', 'Sun 2027-03-28 01:59'],
    ['2027-03-28T01:00:00Z', 'Europe/Paris', 'Sun 2027-03-28 03:00'],
  ])('%s in %s', (iso, zone, text) => expect(formatInstant(iso, zone)).toBe(text))
})
