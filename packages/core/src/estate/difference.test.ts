import { runs } from '../testing/tier.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { anyCommand } from '../testing/any-command.js'
import { apply, applyAll, type Command } from '../commands/index.js'
import {
  CommandError,
  compose,
  emptyDifference,
  Estate,
  differenceInCurrentForm,
  differing,
  invert,
  isEmpty,
  type Difference,
} from './index.js'

const start = smallEstate()

/** Applies those of some commands that the estate takes, and gives the differences one by one. */
function run(estate: Estate, commands: readonly Command[]): { estate: Estate; differences: Difference[]; estates: Estate[] } {
  const context = testContext(99)
  const differences: Difference[] = []
  const estates: Estate[] = []
  for (const command of commands)
    try {
      const applied = apply(estate, command, context)
      estate = applied.estate
      differences.push(applied.difference)
      estates.push(estate)
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
    }
  return { estate, differences, estates }
}
const commandLists = fc.array(anyCommand, { minLength: 1, maxLength: 12 })

describe('a difference', () => {
  it('of a record from before a field was there is brought to today’s form', () => {
    const { network } = smallEstate().toRecords()
    const [record] = network
    if (!record) throw new Error('no network')
    const { searchDomain: _, mtu: _mtu, ...older } = record
    const logged: Difference = { added: {}, updated: {}, removed: { [record.id]: { kind: 'network', record: older as never } } }
    expect(differenceInCurrentForm(logged).removed[record.id]?.record).toEqual({ ...record, mtu: 1500, searchDomain: null })
  })
  it('inverts: applied and taken back leaves the records as they were', () =>
    fc.assert(
      fc.property(commandLists, (commands) => {
        const { estate, differences } = run(start, commands)
        const back = differences.reduceRight((at, difference) => at.with(invert(difference)), estate)
        expect(back.toRecords()).toEqual(start.toRecords())
      }),
      { numRuns: runs(60, 600) },
    ))

  it('composes: one difference does what several do one after the other', () =>
    fc.assert(
      fc.property(commandLists, (commands) => {
        const { estate, differences } = run(start, commands)
        const whole = differences.reduce(compose, emptyDifference)
        expect(start.with(whole).toRecords()).toEqual(estate.toRecords())
        expect(isEmpty(compose(whole, invert(whole)))).toBe(true)
      }),
      { numRuns: runs(60, 600) },
    ))

  it('composes in any grouping', () =>
    fc.assert(
      fc.property(commandLists, fc.nat(11), (commands, cut) => {
        const { differences } = run(start, commands)
        const left = differences.slice(0, cut).reduce(compose, emptyDifference)
        const right = differences.slice(cut).reduce(compose, emptyDifference)
        expect(compose(left, right)).toEqual(differences.reduce(compose, emptyDifference))
      }),
      { numRuns: runs(40, 400) },
    ))

  it('leaves the estate it was applied to as it was, and its indexes equal to freshly built ones', () =>
    fc.assert(
      fc.property(commandLists, (commands) => {
        const before = JSON.stringify(start.toRecords())
        const { estate } = run(start, commands)
        expect(JSON.stringify(start.toRecords())).toBe(before)
        const fresh = Estate.fromRecords(estate.toRecords())
        for (const guest of fresh.all('guest')) {
          const names = (list: readonly { id: string }[]) => list.map((r) => r.id).sort()
          expect(names(estate.referring('disk', 'guestId', guest.id))).toEqual(names(fresh.referring('disk', 'guestId', guest.id)))
          expect(names(estate.byKey('guest', { name: guest.name }))).toEqual(names(fresh.byKey('guest', { name: guest.name })))
        }
      }),
      { numRuns: 60 },
    ))
})

describe('what differs', () => {
  const of = (command: Command) => {
    const { estate, difference } = apply(start, command, testContext(8))
    return differing(start, estate, difference)
  }

  it('is a thing whose part is otherwise, with the thing that is in turn a part of', () => {
    const found = of({ type: 'disk.update', id: idOf('playoutDisk'), changes: { usedBytes: 1 } })
    expect([found.get(idOf('playoutDisk')), found.get(idOf('playout')), found.get(idOf('news'))]).toEqual(['changed', 'changed', undefined])
    const assigned = of({ type: 'address.assign', adapterId: idOf('newsAdapter'), kind: 'fixed' })
    expect([assigned.get(idOf('newsAdapter')), assigned.get(idOf('news'))]).toEqual(['changed', 'changed'])
  })

  it('is new where it was not there, with all its parts, and changed where a part went', () => {
    const copy = '018c0000-0000-7000-8000-000000000001'
    const found = of({ type: 'guest.clone', id: copy, guestId: idOf('template'), name: 'edge-1' })
    expect([...found.values()].filter((how) => how === 'new')).toHaveLength(3)
    expect([found.get(copy), found.get(idOf('template'))]).toEqual(['new', undefined])
    expect(of({ type: 'disk.remove', id: idOf('playoutDisk') }).get(idOf('playout'))).toBe('changed')
  })
})

describe('a list of commands', () => {
  it('is applied all or none, and says at which one it stopped', () => {
    const commands: Command[] = [
      { type: 'guest.power', guestId: idOf('playout'), state: 'stopped' },
      { type: 'guest.power', guestId: idOf('playout'), state: 'stopped' },
    ]
    expect(() => applyAll(start, commands, testContext())).toThrow(CommandError)
    try {
      applyAll(start, commands, testContext())
    } catch (error) {
      expect(error).toMatchObject({ code: 'wrong-state', problems: [{ path: 'commands.1.state' }] })
    }
    expect(start.find('guest', idOf('playout'))?.state).toBe('running')
  })
})
