import { GiB, TiB } from '@insel/core'
import { expect, it } from 'vitest'
import { axisDurations, byteAxis } from './axis-units'

it.each([
  [4000, [600, 1200, 4000], ['10 min', '20 min', '67 min']],
  [12_000, [0, 4020, 7920], ['0 h', '1.1 h', '2.2 h']],
  [259_200, [43_200, 259_200], ['0.5 d', '3 d']],
])('an axis up to %d s is in one unit', (longest, values, shown) => expect(values.map(axisDurations(longest))).toEqual(shown))

it.each([
  [1.9 * GiB, 'MiB'],
  [2 * GiB, 'GiB'],
  [2 * TiB, 'TiB'],
])('an axis up to %d bytes is in %s', (most, unit) => expect(byteAxis(most).unit).toBe(unit))
