import { expect, it } from 'vitest'
import { Restarts } from './restarts.js'

it('what ends now and then is started at once; what ends again and again is waited for, ever longer, and never given up', () => {
  const restarts = new Restarts()
  const waits: number[] = []
  let now = 0
  for (let turn = 0; turn < 14; turn++) {
    const wait = restarts.waitAfter(now)
    waits.push(wait / 1000)
    now += wait + 3000
  }
  expect(waits).toEqual([0, 0, 0, 0, 0, 1, 2, 4, 8, 16, 32, 60, 60, 60])
  expect(restarts.inRow).toBe(14)
  // After it ran well it is chance again.
  expect(restarts.waitAfter(now + 300_000)).toBe(0)
  const hourly = new Restarts()
  expect(Array.from({ length: 20 }, (_, hour) => hourly.waitAfter(hour * 3_600_000)).every((wait) => wait === 0)).toBe(true)
})
