import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { LayeredMap } from './layered-map.js'

const edits = fc.array(
  fc.array(fc.tuple(fc.integer({ min: 0, max: 700 }).map(String), fc.option(fc.nat(), { nil: undefined })), { maxLength: 90 }),
  { maxLength: 16 },
)

describe('the layered map', () => {
  it('holds what an ordinary map holds after the same edits, and every earlier one stays as it was', () =>
    fc.assert(
      fc.property(edits, (rounds) => {
        const model = new Map<string, number>(Array.from({ length: 300 }, (_, index) => [String(index), index]))
        let map = LayeredMap.of(new Map(model))
        const earlier: { map: LayeredMap<number>; entries: string }[] = []
        const entriesOf = (one: LayeredMap<number>) => JSON.stringify(one.values().sort((a, b) => a - b))
        for (const round of rounds) {
          earlier.push({ map, entries: entriesOf(map) })
          map = map.edit(new Map(round))
          for (const [key, value] of new Map(round))
            if (value === undefined) model.delete(key)
            else model.set(key, value)
          expect(map.size).toBe(model.size)
          for (const [key] of round) expect(map.get(key)).toBe(model.get(key))
          expect(map.values().sort((a, b) => a - b)).toEqual([...model.values()].sort((a, b) => a - b))
        }
        for (const { map: before, entries } of earlier) expect(entriesOf(before)).toBe(entries)
      }),
      { numRuns: 60 },
    ))

  it('an edit of nothing is the same map, and a key can come back', () => {
    const map = LayeredMap.of(new Map([['a', 1]]))
    expect(map.edit(new Map())).toBe(map)
    const without = map.edit(new Map([['a', undefined]]))
    expect([without.has('a'), without.size, without.get('a')]).toEqual([false, 0, undefined])
    expect(without.edit(new Map([['a', 2]])).get('a')).toBe(2)
  })
})
