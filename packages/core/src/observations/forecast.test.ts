import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { forecastStore, type DailyBytes } from './index.js'

const day = (n: number) => new Date(Date.UTC(2026, 9, 20) + n * 86_400_000).toISOString().slice(0, 10)
const series = (days: readonly number[], of: (n: number) => number): DailyBytes => days.map((n) => [day(n), of(n)] as const)
const every = Array.from({ length: 30 }, (_, n) => n)
const forecastOf = (daily: readonly (readonly [string, DailyBytes])[], ...commands: Command[]) => {
  const estate = applyAll(smallEstate(), commands, testContext()).estate
  const store = estate.find('store', idOf('nvme1'))
  if (!store) throw new Error('no store')
  return forecastStore(estate, store, new Map(daily))
}

describe('what a store is made of', () => {
  it('a day on which one guest was not seen counts with its last before', () => {
    const { history } = forecastOf([
      [idOf('playout'), series([0, 1, 4], (n) => (10 + n) * GiB)],
      [idOf('template'), series([0, 2, 4], () => 5 * GiB)],
    ])
    expect(history.map(([at, bytes]) => [at, bytes / GiB])).toEqual([
      [day(0), 15],
      [day(1), 16],
      [day(2), 16],
      [day(4), 19],
    ])
  })

  it('a guest with disks on two stores is shared out by what was last seen of them', () => {
    const shared: Command = { type: 'store.update', id: idOf('nvme2'), changes: { hostId: null, kind: 'shared', site: 'studio' } }
    const second: Command = {
      type: 'disk.add',
      record: { guestId: idOf('playout'), position: 2, storeId: idOf('nvme2'), sizeBytes: 100 * GiB, usedBytes: 20 * GiB },
    }
    const { history } = forecastOf([[idOf('playout'), series(every, () => 200 * GiB)]], shared, second)
    // 80 of 100 GiB seen are here, so 160 of 200; the template’s 4 are as recorded.
    expect((history.at(-1)?.[1] ?? 0) / GiB).toBeCloseTo(164, 9)
  })

  it('a thick disk does not grow', () => {
    const thick: Command = { type: 'disk.update', id: idOf('templateDisk'), changes: { provisioning: 'thick' } }
    const { history } = forecastOf([[idOf('playout'), series(every, (n) => n * GiB)]], thick)
    expect((history[0]?.[1] ?? 0) / GiB).toBe(40)
  })

  it('two days tell no pace; a full store is full now', () => {
    expect(forecastOf([[idOf('playout'), series([0, 1], (n) => n * GiB)]]).trend).toBeUndefined()
    expect(forecastOf([[idOf('nvme1'), series(every, () => 1100 * GiB)]]).daysToFull?.value).toBe(0)
  })

  it('what shrinks is never full, and drives nothing', () => {
    const forecast = forecastOf([[idOf('playout'), series(every, (n) => (500 - n) * GiB)]])
    expect([forecast.daysToFull?.value, forecast.drivers]).toEqual([undefined, []])
  })

  it('the soonest day is never after the likeliest, nor that after the latest', () =>
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 5, noNaN: true }), { minLength: 3, maxLength: 60 }), (steps) => {
        let used = 100
        const grown = steps.map((step) => (used += step))
        const { daysToFull, trend } = forecastOf([[idOf('nvme1'), grown.map((gib, n) => [day(n), gib * GiB] as const)]])
        if (!trend?.spread) {
          expect([daysToFull?.soonest, daysToFull?.latest]).toEqual([undefined, undefined])
          return
        }
        const order = [daysToFull?.soonest, daysToFull?.value, daysToFull?.latest].map((days) => days ?? Infinity)
        expect(order).toEqual([...order].sort((a, b) => a - b))
      }),
    ))
})
