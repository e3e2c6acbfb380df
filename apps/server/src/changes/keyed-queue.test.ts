import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { KeyedQueue, TurnMissedError } from './keyed-queue.js'

const LONG_MS = 60_000

describe('turns', () => {
  it('of one name come one after the other, in the order they were asked for, whatever each takes', () =>
    fc.assert(
      fc.asyncProperty(fc.scheduler(), fc.array(fc.boolean(), { minLength: 1, maxLength: 12 }), async (scheduler, fails) => {
        const turns = new KeyedQueue()
        const seen: string[] = []
        const results = fails.map((isBad, index) =>
          turns.take(
            'estate',
            async () => {
              seen.push(`begin ${index}`)
              await scheduler.schedule(Promise.resolve(), `work ${index}`)
              seen.push(`end ${index}`)
              if (isBad) throw new Error(`bad ${index}`)
              return index
            },
            LONG_MS,
          ),
        )
        const settled = Promise.allSettled(results)
        await scheduler.waitFor(settled)
        expect(seen).toEqual(fails.flatMap((_, index) => [`begin ${index}`, `end ${index}`]))
        expect((await settled).map(({ status }) => status)).toEqual(fails.map((isBad) => (isBad ? 'rejected' : 'fulfilled')))
      }),
      { numRuns: 60 },
    ))

  it('of two names do not wait for each other', async () => {
    const turns = new KeyedQueue()
    const release: (() => void)[] = []
    const held = turns.take('one', () => new Promise<undefined>((resolve) => release.push(() => resolve(undefined))), LONG_MS)
    expect(await turns.take('two', () => Promise.resolve('through'), LONG_MS)).toBe('through')
    release[0]?.()
    await held
  })

  it('that do not come in time are missed: never run, and nobody behind comes before its turn', async () => {
    const turns = new KeyedQueue()
    const seen: string[] = []
    let release = () => {}
    const first = turns.take('one', () => new Promise<void>((resolve) => (release = resolve)), LONG_MS)
    const missed = turns.take('one', () => Promise.resolve(seen.push('missed')), 1)
    const last = turns.take('one', () => Promise.resolve(seen.push('last')), LONG_MS)
    await expect(missed).rejects.toThrow(TurnMissedError)
    expect(seen).toEqual([])
    release()
    await Promise.all([first, last])
    expect(seen).toEqual(['last'])
  })
})
