import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Turns, type Serve } from './turns.js'

const LIMITS = { together: 3, names: 2, withinMs: 60_000 }
const fulfilled = <R>(value: R): PromiseSettledResult<R> => ({ status: 'fulfilled', value })

/** Turns whose serving ends when it is let go. */
function held(limits = LIMITS) {
  const begun: { name: string; wishes: readonly number[]; letGo: () => void }[] = []
  const serve: Serve<number, number> = (name, take) => {
    const wishes = take()
    return new Promise((resolve) => begun.push({ name, wishes, letGo: () => resolve(wishes.map(fulfilled)) }))
  }
  return { begun, turns: new Turns(serve, limits) }
}
const settle = () => new Promise((next) => setTimeout(next))

describe('turns', () => {
  it('of one name come one after the other, in the order they were asked for, however many are served and whatever fails', () =>
    fc.assert(
      fc.asyncProperty(
        fc.scheduler(),
        fc.array(fc.boolean(), { minLength: 1, maxLength: 14 }),
        fc.infiniteStream(fc.integer({ min: 1, max: LIMITS.together })),
        async (scheduler, fails, most) => {
          const seen: number[] = []
          let isOn = false
          const turns = new Turns<number, number>(async (_, take) => {
            const wishes = take()
            expect([isOn, wishes.length <= LIMITS.together]).toEqual([false, true])
            isOn = true
            await scheduler.schedule(Promise.resolve(), `turn of ${wishes.join(' ')}`)
            isOn = false
            const { value: served } = most.next() as { value: number }
            return wishes.slice(0, served).map((wish): PromiseSettledResult<number> => {
              seen.push(wish)
              return fails[wish] ? { status: 'rejected', reason: new Error(`bad ${wish}`) } : fulfilled(wish)
            })
          }, LIMITS)
          const settled = Promise.allSettled(fails.map((_, wish) => turns.take('estate', wish)))
          await scheduler.waitFor(settled)
          expect(seen).toEqual(fails.map((_, wish) => wish))
          expect((await settled).map((one) => (one.status === 'fulfilled' ? one.value : String(one.reason)))).toEqual(
            fails.map((isBad, wish) => (isBad ? `Error: bad ${wish}` : wish)),
          )
        },
      ),
      { numRuns: 60 },
    ))

  it('serve what came in meanwhile together, up to a limit', async () => {
    const { begun, turns } = held()
    const all = [0, 1, 2, 3, 4].map((wish) => turns.take('one', wish))
    await settle()
    for (let turn = 0; turn < 3; turn++) {
      begun[turn]?.letGo()
      await settle()
    }
    expect(begun.map(({ wishes }) => wishes)).toEqual([[0], [1, 2, 3], [4]])
    expect(await Promise.all(all)).toEqual([0, 1, 2, 3, 4])
  })

  it('of two names do not wait for each other; more names than may be served at once do', async () => {
    const { begun, turns } = held()
    const all = ['one', 'two', 'three'].map((name, wish) => turns.take(name, wish))
    await settle()
    expect(begun.map(({ name }) => name)).toEqual(['one', 'two'])
    begun[1]?.letGo()
    await settle()
    expect(begun.map(({ name }) => name)).toEqual(['one', 'two', 'three'])
    for (const { letGo } of begun) letGo()
    expect(await Promise.all(all)).toEqual([0, 1, 2])
  })

  it('take what waits when they say so, and what failed before that fails those who wait', async () => {
    let isFree: () => void = () => {}
    const turns = new Turns<number, number>(async (_, take) => {
      await new Promise<void>((resolve) => (isFree = resolve))
      return take().map(fulfilled)
    }, LIMITS)
    const all = [0, 1, 2].map((wish) => turns.take('one', wish))
    await settle()
    isFree()
    expect(await Promise.all(all)).toEqual([0, 1, 2])
    const locked = new Turns<number, number>(() => Promise.reject(new Error('no lock')), LIMITS)
    const results = await Promise.allSettled([0, 1, 2, 3].map((wish) => locked.take('one', wish)))
    expect(results.map(({ status }) => status)).toEqual(['rejected', 'rejected', 'rejected', 'rejected'])
  })

  it('that do not come in time are missed: never served, and nobody behind comes before its turn', async () => {
    const { begun, turns } = held({ ...LIMITS, withinMs: 40 })
    const first = turns.take('one', 0)
    const missed = turns.take('one', 1)
    await expect(missed).rejects.toThrow('their changes take longer than usual; nothing was changed')
    const last = turns.take('one', 2)
    begun[0]?.letGo()
    await settle()
    begun[1]?.letGo()
    expect(await Promise.all([first, last])).toEqual([0, 2])
    expect(begun.map(({ wishes }) => wishes)).toEqual([[0], [2]])
  })

  it('whose serving fails as a whole fail all that were served, and the next are served', async () => {
    let calls = 0
    const turns = new Turns<number, number>((_, take) => {
      const wishes = take()
      if (calls++ === 1) throw new Error('the database is gone')
      return Promise.resolve(wishes.map(fulfilled))
    }, LIMITS)
    const results = await Promise.allSettled([0, 1, 2, 3, 4].map((wish) => turns.take('one', wish)))
    expect(results.map(({ status }) => status)).toEqual(['fulfilled', 'rejected', 'rejected', 'rejected', 'fulfilled'])
  })
})
