import { overlaps, parsePrefix, prefixAround } from '@insel/core'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ipAt, placeOf, shortName, type Place } from './block-geometry'

const block = parsePrefix('10.61.0.0/16')
const anyPrefix = fc
  .tuple(fc.nat(65535), fc.integer({ min: 16, max: 30 }))
  .map(([at, bits]) => prefixAround(`10.61.${at >> 8}.${at & 255}`, bits))
const meet = (a: Place, b: Place) => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

describe('the drawing of a block', () => {
  it.each([
    ['10.61.0.0/16', '10.61.40.0/23', '.40'],
    ['10.61.64.0/20', '10.61.70.64/26', '.70.64'],
    ['10.0.0.0/8', '10.61.0.0/16', '.61'],
    ['10.61.40.0/24', '10.61.40.0/24', ''],
    ['2001:db8::/48', '2001:db8::/64', ''],
  ])('in %s, %s is %s for short', (within, prefix, short) => expect(shortName(parsePrefix(within), parsePrefix(prefix))).toBe(short))
  it('is to scale: a prefix has its share of the area', () =>
    fc.assert(
      fc.property(anyPrefix, (prefix) => {
        const { width, height } = placeOf(block, prefix)
        expect(width * height).toBeCloseTo(2 ** (block.bits - prefix.bits), 10)
      }),
    ))
  it('two prefixes meet in the drawing when they overlap, and only then', () =>
    fc.assert(
      fc.property(anyPrefix, anyPrefix, (a, b) => {
        expect(meet(placeOf(block, a), placeOf(block, b))).toBe(overlaps(a, b))
      }),
    ))
  it('a point of the drawing gives the prefix drawn there', () =>
    fc.assert(
      fc.property(anyPrefix, (prefix) => {
        const { x, y, width, height } = placeOf(block, prefix)
        expect(prefixAround(ipAt(block, x + width / 2, y + height / 2, prefix.bits), prefix.bits).text).toBe(prefix.text)
      }),
    ))
})
