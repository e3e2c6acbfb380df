import { execFileSync } from 'node:child_process'
import { NIL, v5 } from 'uuid'
import { describe, expect, it } from 'vitest'
import { byOrder, derivedId, isId, makeIds, orderBetween, orderKey, ordersBetween, readField, seededRandom } from './index.js'

describe('an id that follows from two others', () => {
  const newId = makeIds(() => 1_700_000_000_000, seededRandom(1))
  const [copy, other, disk] = [newId(), newId(), newId()]

  // RFC 9562, appendix A.4: the UUIDv5 of www.example.com in the namespace of DNS names.
  it('is made of a name-based UUID as the standard has it', () =>
    expect(v5('www.example.com', '6ba7b810-9dad-11d1-80b4-00c04fd430c8')).toBe('2ed6657d-e927-568b-95e1-2665a8aea6a2'))

  // Python's uuid module is the reference for the hash in it.
  it('has the hash of a name-based UUID, whatever was made before it', () => {
    const pairs = [copy, other, copy].flatMap((madeFor) => [disk, '10.61.30.47', 'Jörg’s ünit'].map((of) => [madeFor, of] as const))
    const program = 'import json,sys,uuid\nprint(json.dumps([str(uuid.uuid5(uuid.UUID(a),b)) for a,b in json.load(sys.stdin)]))'
    const hashes = JSON.parse(execFileSync('python3', ['-c', program], { input: JSON.stringify(pairs), encoding: 'utf8' })) as string[]
    expect(pairs.map(([madeFor, of]) => derivedId(madeFor, of))).toEqual(
      pairs.map(([madeFor], index) => `${madeFor.slice(0, 13)}-8${hashes[index]?.slice(15) ?? ''}`),
    )
  })

  it('is the same each time, and another for another record, another pattern, and the two the other way round', () => {
    expect(derivedId(copy, disk)).toBe(derivedId(copy, disk))
    expect(new Set([derivedId(copy, disk), derivedId(other, disk), derivedId(copy, other), derivedId(disk, copy)]).size).toBe(4)
    expect(derivedId(NIL, 'a')).not.toBe(derivedId(NIL, 'b'))
  })

  // RFC 9562, sections 4.1, 4.2 and 5.8: variant 10, version 8.
  it('is a UUIDv8 that sorts by the time of the first', () => {
    const id = derivedId(copy, disk)
    expect(isId(id)).toBe(true)
    expect(id).toMatch(/^018bcfe5-6800-8[0-9a-f]{3}-[89ab]/)
    const later = makeIds(() => 1_800_000_000_000, seededRandom(2))()
    expect(derivedId(later, disk) > id).toBe(true)
  })
})

describe('keys of an order', () => {
  it('one between two others, at the ends, and between two that are the same', () => {
    const list = [...ordersBetween(null, null, 50)]
    expect([...list].sort()).toEqual(list)
    const between = orderBetween(list[3] ?? null, list[4] ?? null)
    expect(between > (list[3] ?? '') && between < (list[4] ?? '')).toBe(true)
    expect(orderBetween(null, list[0] ?? null) < (list[0] ?? '')).toBe(true)
    expect(orderBetween(list[49] ?? null, null) > (list[49] ?? '')).toBe(true)
    expect(orderBetween('a5', 'a5') > 'a5').toBe(true)
    const things = [
      { id: 'b', order: 'a1' },
      { id: 'a', order: 'a1' },
      { id: 'c', order: 'a0' },
    ]
    expect(things.sort(byOrder).map(({ id }) => id)).toEqual(['c', 'a', 'b'])
  })
  it('a thousand things dragged to the same place have keys that are still told apart', () => {
    let first = 'a0'
    for (let drag = 0; drag < 1000; drag++) {
      const next = orderBetween(first, 'a1')
      expect(next > first && next < 'a1').toBe(true)
      first = next
    }
    expect(readField(orderKey(), first)).toEqual({ ok: true, value: first })
  })
})
