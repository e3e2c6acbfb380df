import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type Fields, kinds } from '../estate/index.js'
import { readAmount } from './index.js'

const read = (text: string, unit: string) => {
  const reading = readAmount(text, unit)
  return reading.ok ? reading.value : reading.sentence
}

describe('numbers with their unit', () => {
  it.each([
    ['310', 'W', 310],
    ['310 W', 'W', 310],
    ['310w', 'W', 310],
    ['1.5 kW', 'W', 1500],
    ['2.1 GHz', 'MHz', 2100],
    ['2,45GHz', 'MHz', 2450],
    ['10G', 'Mbit/s', 10_000],
    ['2.5 Gbit/s', 'Mbit/s', 2500],
    ['25GbE', 'Mbit/s', 25_000],
    ['100 Mb/s', 'Mbit/s', 100],
    ['3200 MT/s', 'MT/s', 3200],
    ['60 days', 'days', 60],
    ['1 day', 'days', 1],
    ['2 weeks', 'days', 14],
    ['2 h', 'minutes', 120],
    ['5 min', 'seconds', 300],
    ['85 %', '%', 85],
    ['85%', '%', 85],
    ['4 cores', 'cores', 4],
    ['8 vCPU', 'vCPU', 8],
    ['8 192', 'W', 8192],
    ['-5 %', '%', -5],
    ['24', '', 24],
  ])('%s in %s', (text, unit, value) => expect(read(text, unit)).toBe(value))

  it.each([
    ['310 kg', 'W', '“kg” is not a unit that fits; this is counted in W.'],
    ['100 MB/s', 'Mbit/s', '“MB/s” is not a unit that fits; this is counted in Mbit/s.'],
    ['3 months', 'days', '“months” is not a unit that fits; this is counted in days.'],
    ['4 pieces', '', '“pieces” does not belong here; this is a number without a unit.'],
    ['much', 'W', '“much” is not a number.'],
    ['10 constructor', 'days', '“constructor” is not a unit that fits; this is counted in days.'],
  ])('%s in %s is asked back', (text, unit, sentence) => expect(read(text, unit)).toBe(sentence))

  it('every unit of a field reads itself, and any text is read or asked back', () => {
    const units = new Set(
      Object.values<{ readonly fields: Fields }>(kinds).flatMap(({ fields }) =>
        Object.values(fields).map((field) => ('unit' in field ? field.unit : '')),
      ),
    )
    for (const unit of units) expect([unit, read(`7 ${unit}`, unit)]).toEqual([unit, 7])
    fc.assert(fc.property(fc.string(), fc.constantFrom(...units), (text, unit) => void readAmount(text, unit)))
  })
})
