import { describe, expect, it } from 'vitest'
import { smallEstate } from '../testing/index.js'
import { carryOut, inTurns, type Task } from './index.js'

describe('a task', () => {
  let ended = 0
  /** Counts to a number, and says so after each. */
  const counting: Task<number, number, string> = {
    *run(estate, upTo) {
      try {
        for (let at = 1; at <= upTo; at++) yield at
        return `${upTo} in ${estate.count('host')} hosts`
      } finally {
        ended++
      }
    },
  }
  const estate = smallEstate()
  const said = `5 in ${estate.count('host')} hosts`

  it('is done in one go', () => expect(carryOut(counting, estate, 5)).toBe(said))

  it('gives the same turn by turn, tells how far it is before each pause, and lets others have theirs', async () => {
    const order: (number | string)[] = []
    let steps = 0
    const done = inTurns(counting, estate, 5, {
      isOver: () => ++steps % 2 === 0,
      tell: (at) => order.push(at),
      pause: async () => {
        order.push('pause')
        await Promise.resolve()
      },
    })
    order.push('others')
    expect(await done).toBe(said)
    expect(order).toEqual([2, 'pause', 'others', 4, 'pause'])
  })

  it('stops once nobody waits for it, and is cleared away', async () => {
    const before = ended
    let pauses = 0
    const done = await inTurns(counting, estate, 1000, {
      isOver: () => true,
      pause: () => Promise.resolve(),
      isWanted: () => ++pauses < 3,
    })
    expect([done, pauses, ended - before]).toEqual([undefined, 3, 1])
  })
})
