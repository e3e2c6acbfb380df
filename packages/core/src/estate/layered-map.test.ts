import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { LayeredMap, type Layer } from './layered-map.js'

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

  it('open, it holds the same after the same edits, leaves what is below it alone, and goes back step by step', () =>
    fc.assert(
      fc.property(edits, edits, (rounds, above) => {
        const sorted = (layer: Layer<number>) => layer.values().sort((a, b) => a - b)
        const below = LayeredMap.of(new Map(Array.from({ length: 300 }, (_, index) => [String(index), index])))
        const open = below.open()
        let model = below
        for (const round of rounds) {
          for (const [key, value] of round) open.set(key, value)
          model = model.edit(new Map(round))
        }
        expect([open.size, sorted(open), sorted(open.close())]).toEqual([model.size, sorted(model), sorted(model)])
        expect(sorted(below)).toHaveLength(300)
        // One above it writes to itself alone, and what is undone was never there.
        const upper = open.open()
        const undo = above.flat().map(([key, value]) => upper.set(key, value))
        const after = model.edit(new Map(above.flat()))
        expect([upper.size, sorted(upper), sorted(upper.close())]).toEqual([after.size, sorted(after), sorted(after)])
        for (const [key] of above.flat()) expect([upper.get(key), upper.has(key)]).toEqual([after.get(key), after.has(key)])
        expect(sorted(open)).toEqual(sorted(model))
        for (const back of undo.reverse()) back()
        expect([upper.size, sorted(upper)]).toEqual([model.size, sorted(model)])
      }),
      { numRuns: 60 },
    ))
})
