import fc from 'fast-check'
import { expect, it } from 'vitest'
import { bySeverity, compareNames, groupBy, inNameOrder, median } from './index.js'

it('names are in the order in which people count', () => {
  expect(inNameOrder([{ name: 'host-10' }, { name: 'Host-2' }, { name: 'anchor' }]).map(({ name }) => name)).toEqual([
    'anchor',
    'Host-2',
    'host-10',
  ])
  expect(compareNames('b', 'b')).toBe(0)
})

it('groups hold everything once, in the order in which it came', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 30 })), (numbers) => {
      const groups = groupBy(numbers, (n) => n % 3)
      expect([...groups].every(([key, members]) => members.every((n) => n % 3 === key))).toBe(true)
      for (const [key, members] of groups) expect(members).toEqual(numbers.filter((n) => n % 3 === key))
    }),
  )
})

it('the median is the value in the middle, or between the two there', () => {
  expect([median([]), median([4]), median([9, 1, 2]), median([1, 2, 3, 100])]).toEqual([undefined, 4, 2, 2.5])
})

it('what is worse comes first', () => {
  expect([{ severity: 'notice' }, { severity: 'error' }, { severity: 'warning' }].sort(bySeverity as never)).toEqual([
    { severity: 'error' },
    { severity: 'warning' },
    { severity: 'notice' },
  ])
})
