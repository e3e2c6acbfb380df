import { failoverReserve, memoryBudget, vcpuBudget } from '@insel/core'
import { describe, expect, it } from 'vitest'
import { generateEstate } from '@insel/core/testing'
import { coloursOf, colourings } from './colouring'
import { boardOrder, laneOf, scaleOf } from './lanes'

const estate = generateEstate({ hosts: 12, guests: 300, adapters: 500 })

describe('the board', () => {
  it('draws what the budgets say: blocks end to end, their sum the committed memory and the core load', () => {
    for (const host of estate.all('host')) {
      const lane = laneOf(estate, host)
      const budget = memoryBudget(estate, host)
      expect(lane.committedMiB).toBe(budget.committed.value)
      expect(lane.leftMiB).toBe(budget.left.value)
      expect(lane.loadCores).toBeCloseTo(vcpuBudget(estate, host).load.value)
      expect(lane.reserveMiB).toBe(failoverReserve(estate, host))
      let end = 0
      for (const block of lane.blocks) {
        expect(block.memoryFrom).toBe(end)
        end += block.memoryMiB
      }
      expect(end).toBe(lane.committedMiB)
    }
  })
  it('one scale holds every lane, with some six to ten marks', () => {
    const lanes = boardOrder(estate.all('host')).map((host) => laneOf(estate, host))
    const scale = scaleOf(lanes)
    for (const lane of lanes) {
      expect(lane.host.memoryMiB).toBeLessThanOrEqual(scale.memoryMiB)
      expect(Math.max(lane.cores, lane.loadCores)).toBeLessThanOrEqual(scale.cores)
    }
    expect(scale.ticks.length).toBeGreaterThanOrEqual(5)
    expect(scale.ticks.length).toBeLessThanOrEqual(11)
  })
  it.each(colourings)('coloured by %s every guest has a colour of the legend', (colouring) => {
    const colours = coloursOf(estate, colouring, 'light')
    const known = new Set(colours.legend.map((entry) => entry.colour))
    for (const guest of estate.all('guest')) expect(known.has(colours.of(guest))).toBe(true)
  })
})
