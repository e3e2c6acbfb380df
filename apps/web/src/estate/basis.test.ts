import { apply, invert, type Command } from '@insel/core'
import { idOf, smallEstate, testContext } from '@insel/core/testing'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { asOf, keyOfBasis, mayRecord, putShown, RECORDED, shownIn, whyReadOnly, type Basis, type Shown } from './basis'

const power = (state: 'running' | 'stopped'): Command => ({ type: 'guest.power', guestId: idOf('playout'), state })
const past = (revision: number): Basis => ({ on: 'asOf', revision, back: { added: {}, updated: {}, removed: {} } })

describe('what is shown, in a page’s address', () => {
  const anyShown: fc.Arbitrary<Shown> = fc.oneof(
    fc.constant<Shown>({ on: 'recorded' }),
    fc.constant<Shown>({ on: 'plan' }),
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
  it('knows whether one may change what one sees where it is shown', () => {
    const plan: Basis = { on: 'plan', commands: [power('stopped')] }
    expect([RECORDED, plan, past(3)].map(mayRecord)).toEqual([true, false, false])
    expect([RECORDED, plan].map(whyReadOnly)).toEqual([undefined, undefined])
    expect(whyReadOnly(past(3))).toContain('as of change 3')
  })

  it('has a key of its own, the same for the same', () => {
    const bases: Basis[] = [
      RECORDED,
      { on: 'plan', commands: [power('stopped')] },
      { on: 'plan', commands: [power('running')] },
      past(3),
      past(4),
    ]
    expect(new Set(bases.map(keyOfBasis)).size).toBe(bases.length)
    expect(keyOfBasis({ on: 'plan', commands: [power('stopped')] })).toBe(keyOfBasis(bases[1] ?? RECORDED))
  })

  it('of the past is the record with what came since taken out of it', () => {
    const before = smallEstate()
    const { estate, difference } = apply(before, power('stopped'), testContext(3))
    const shown = asOf(estate, { on: 'asOf', revision: 1, back: invert(difference) })
    expect(shown.toRecords()).toEqual(before.toRecords())
    expect(estate.find('guest', idOf('playout'))?.state).toBe('stopped')
  })
})
