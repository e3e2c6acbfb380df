import { apply, invert, type Command, type Item, type Plan } from '@insel/core'
import { idOf, smallEstate, testContext } from '@insel/core/testing'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { keyOfBasis, mayRecord, putShown, RECORDED, shownIn, whereTo, whyReadOnly, type Basis, type Shown } from './basis'

const power = (state: 'running' | 'stopped'): Command => ({ type: 'guest.power', guestId: idOf('playout'), state })
const past = (revision: number): Basis => ({
  on: 'asOf',
  revision,
  back: { added: {}, updated: {}, removed: {} },
  at: '2026-03-02T08:00:00.000Z',
})

describe('what is shown, in a page’s address', () => {
  const anyShown: fc.Arbitrary<Shown> = fc.oneof(
    fc.constant<Shown>({ on: 'recorded' }),
    fc.tuple(fc.uuid(), fc.uuid()).map(([planId, itemId]): Shown => ({ on: 'item', planId, itemId })),
    fc.integer({ min: 0, max: 999_999_999 }).map((revision): Shown => ({ on: 'asOf', revision })),
  )

  it('is read as it was put there, beside what else the address says', () =>
    fc.assert(
      fc.property(anyShown, anyShown, (before, shown) => {
        const params = new URLSearchParams('colour=state')
        putShown(params, before)
        putShown(params, shown)
        expect(shownIn(params)).toEqual(shown)
        expect(params.get('colour')).toBe('state')
      }),
    ))

  it('is the record where it says nothing, or nothing that can be read', () => {
    for (const text of ['', 'recorded', 'change-', 'change--1', 'change-1.5', 'change-9999999999', 'Plan', 'a~b'])
      expect(shownIn(new URLSearchParams({ basis: text }))).toEqual(RECORDED)
    expect(shownIn(new URLSearchParams())).toEqual(RECORDED)
    const params = new URLSearchParams('basis=plan')
    putShown(params, RECORDED)
    expect([...params.keys()]).toEqual([])
  })
})

describe('a basis', () => {
  const plan = { id: idOf('gannet'), name: 'Saturday' } as Plan
  const item = (id: string) => ({ on: 'item', plan, item: { id, title: 'More' } as Item, ahead: [] }) satisfies Basis

  it('knows whether one may change what one sees where it is shown', () => {
    expect([RECORDED, item('a'), past(3)].map(mayRecord)).toEqual([true, true, false])
    expect([RECORDED, item('a')].map(whyReadOnly)).toEqual([undefined, undefined])
    expect(whyReadOnly(past(3))).toContain('as of change 3')
  })

  it('of a plan takes what an item may hold; ticks, people and plans themselves go to the record', () => {
    const task = { type: 'plan.drop', planId: plan.id } as Command
    const whereOf = (...commands: Command[]) => [RECORDED, item('a')].map((basis) => whereTo(basis, commands))
    expect(whereOf(power('stopped'))).toEqual(['record', 'plan'])
    expect(whereOf(task, { type: 'person.add', record: { name: 'Tove' } })).toEqual(['record', 'record'])
    expect(whereOf(power('stopped'), task)).toEqual(['record', 'both'])
  })

  it('has a key of its own', () => {
    const bases: Basis[] = [RECORDED, item('a'), item('b'), past(3), past(4)]
    expect(new Set(bases.map(keyOfBasis)).size).toBe(bases.length)
  })

  it('of the past is the record with what came since taken out of it', () => {
    const before = smallEstate()
    const { estate, difference } = apply(before, power('stopped'), testContext(3))
    const shown = estate.with(invert(difference))
    expect(shown.toRecords()).toEqual(before.toRecords())
    expect(estate.find('guest', idOf('playout'))?.state).toBe('stopped')
  })
})
