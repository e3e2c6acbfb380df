import { describe, expect, it } from 'vitest'
import { seededRandom } from '../estate/index.js'
import { runs } from '../testing/tier.js'
import { daysUntil, offAfter, paceOf, trendOf } from './index.js'

/** How a store fills, day by day: its true pace is 1 a day in each. */
const shapes = ['steady', 'noisy days', 'days like the day before', 'by luck each day', 'once a week'] as const
type Shape = (typeof shapes)[number]

function simulate(shape: Shape, days: number, seed: number): readonly number[] {
  const draw = seededRandom(seed)
  const random = () => draw(4).reduce((sum, byte) => sum * 256 + byte, 0) / 2 ** 32
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
  let [level, held] = [0, 0]
  return Array.from({ length: days }, (_, day) => {
    held = 0.8 * held + normal()
    if (shape === 'by luck each day') level += 1 + normal()
    else if (shape === 'once a week') level += day % 7 === 6 ? 7 + normal() : 0
    else level += 1
    return shape === 'noisy days' ? level + 3 * normal() : shape === 'days like the day before' ? level + 2 * held : level
  })
}

describe('how far off a trend may be', () => {
  const KNOWN = 42
  const MORE = 40

  /** Of how many series the day on which so much more is first reached lies in what was said from the first weeks. */
  function coverage(shape: Shape, count: number): number {
    let held = 0
    for (let seed = 1; seed <= count; seed++) {
      const values = simulate(shape, KNOWN + 400, seed)
      const known = values.slice(0, KNOWN).map((value, day) => [day, value] as const)
      const trend = trendOf(known)
      if (!trend?.spread) throw new Error('no range')
      const last = values[KNOWN - 1] ?? 0
      const truly = values.findIndex((value, day) => day >= KNOWN && value - last >= MORE) - (KNOWN - 1)
      const { soonest, latest } = daysUntil(trend, MORE)
      // A day is reached or not: what is said is rounded outwards to whole days.
      if (Math.floor(soonest ?? Infinity) <= truly && truly <= Math.ceil(latest ?? Infinity)) held++
    }
    return held / count
  }

  it('the day a store is full lies in the range about 95 times in 100, also where days depend on each other', () => {
    const table = shapes.map((shape) => ({ shape, coverage: coverage(shape, runs(200, 2000)) }))
    for (const row of table) console.log(`trend range, ${row.shape}: ${(row.coverage * 100).toFixed(1)} % of true days inside`)
    for (const row of table) expect([row.shape, row.coverage >= 0.9]).toEqual([row.shape, true])
    expect(table.reduce((sum, row) => sum + row.coverage, 0) / table.length).toBeGreaterThan(0.93)
  })

  it('and is narrow where nothing varies', () => {
    const trend = trendOf(simulate('steady', KNOWN, 5).map((value, day) => [day, value]))
    expect(trend && daysUntil(trend, MORE)).toEqual({ value: 40, soonest: expect.closeTo(40, 2), latest: expect.closeTo(40, 2) })
  })

  it('of three to five days nothing is said', () => {
    for (const days of [3, 4, 5]) {
      const trend = trendOf(simulate('noisy days', days, 5).map((value, day) => [day, value]))
      expect([trend?.spread, trend && paceOf(trend).low]).toEqual([undefined, null])
    }
    // Days that nobody looked at are no observations.
    expect(
      trendOf([
        [0, 1],
        [30, 31],
        [60, 61],
      ])?.spread,
    ).toBeUndefined()
  })

  it('grows with the days ahead', () => {
    const spread = trendOf(simulate('noisy days', KNOWN, 5).map((value, day) => [day, value]))?.spread
    if (!spread) throw new Error('no range')
    const offs = [1, 10, 100, 1000].map((days) => offAfter(spread, days))
    expect(offs).toEqual(offs.toSorted((a, b) => a - b))
  })
})
