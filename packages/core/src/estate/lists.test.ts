import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyCommand } from '../testing/any-command.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import {
  apply,
  applyAll,
  CommandError,
  compose,
  emptyDifference,
  Estate,
  isEmpty,
  kindNames,
  kinds,
  project,
  referencesOf,
  type Command,
  type Difference,
} from './index.js'

const start = smallEstate()
const lists = fc.array(anyCommand, { maxLength: 14 })

/** Command by command, each upon the value that the one before gave: what lists have to agree with. */
function oneByOne(commands: readonly Command[], seed: number) {
  const context = testContext(seed)
  let estate = start
  let difference = emptyDifference
  const steps = commands.map((command): Difference | string => {
    try {
      const after = apply(estate, command, context)
      estate = after.estate
      difference = compose(difference, after.difference)
      return after.difference
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
      return error.message
    }
  })
  return { estate, difference, steps }
}

/** Everything that can be found in an estate: by id, by reference, by key. */
function found(estate: Estate) {
  const ids = kindNames.flatMap((kind) => estate.all(kind).map(({ id }) => id))
  return {
    records: estate.toRecords(),
    counts: kindNames.map((kind) => [kind, estate.count(kind)]),
    kinds: Object.fromEntries(ids.sort().map((id) => [id, estate.kindOf(id)])),
    referring: kindNames
      .flatMap((kind) =>
        referencesOf(kind).flatMap(({ field, to }) =>
          estate.all(to).flatMap(({ id }) => {
            const referring = estate.referring(kind, field as never, id).map((record) => record.id)
            return referring.length > 0 ? [`${kind}.${field} ${id} ${referring.sort().join()}`] : []
          }),
        ),
      )
      .sort(),
    keys: kindNames
      .flatMap((kind) =>
        kinds[kind].keys.flatMap(({ fields }) =>
          estate.all(kind).map((record) => {
            const values = record as unknown as Record<string, unknown>
            const same = estate.byKey(kind, Object.fromEntries(fields.map((field) => [field, values[field]])))
            return `${kind} ${fields.join()} ${record.id} ${same
              .map(({ id }) => id)
              .sort()
              .join()}`
          }),
        ),
      )
      .sort(),
  }
}

describe('a list of commands', () => {
  it('gives step by step what its commands give one by one, those that are refused among them', () =>
    fc.assert(
      fc.property(lists, fc.integer({ min: 100, max: 999 }), (commands, seed) => {
        const expected = oneByOne(commands, seed)
        const projection = project(start, [...commands], testContext(seed))
        expect(projection.steps.map((step) => (step.ok ? step.difference : step.refusal.message))).toEqual(expected.steps)
        expect(projection.difference).toEqual(expected.difference)
        expect(found(projection.estate)).toEqual(found(expected.estate))
        // The estate it began with is as it was, and what is worked out once stays.
        expect(start.toRecords()).toEqual(smallEstate().toRecords())
        expect(found(Estate.fromRecords(projection.estate.toRecords()))).toEqual(found(projection.estate))
      }),
      { numRuns: 250 },
    ))

  it('all or none: the first that is refused is named by its place', () =>
    fc.assert(
      fc.property(lists, fc.integer({ min: 100, max: 999 }), (commands, seed) => {
        const expected = oneByOne(commands, seed)
        const first = expected.steps.findIndex((step) => typeof step === 'string')
        try {
          const all = applyAll(start, commands, testContext(seed))
          expect([first, all.difference]).toEqual([-1, expected.difference])
          expect(all.estate.toRecords()).toEqual(expected.estate.toRecords())
        } catch (error) {
          if (!(error instanceof CommandError)) throw error
          expect(error.message).toBe(expected.steps[first])
          for (const { path } of error.problems) expect(path).toMatch(new RegExp(`^commands\\.${first}(\\.|$)`))
        }
      }),
      { numRuns: 150 },
    ))

  it('is laid over an estate once; over another anew', () => {
    const commands: readonly Command[] = [{ type: 'guest.resize', guestId: idOf('news'), vcpu: 3 }]
    const projection = project(start, commands, testContext(2))
    expect(project(start, commands, testContext(3))).toBe(projection)
    expect(project(projection.estate, commands, testContext(3))).not.toBe(projection)
    expect(isEmpty(project(projection.estate, commands, testContext(3)).difference)).toBe(true)
  })
})

describe('an estate that is being changed', () => {
  it('goes back to a mark as if nothing had been', () =>
    fc.assert(
      fc.property(lists, lists, fc.integer({ min: 100, max: 999 }), (before, after, seed) => {
        const [first, then] = [oneByOne(before, seed), oneByOne([...before, ...after], seed)]
        const edit = start.edit()
        for (const step of first.steps) if (typeof step !== 'string') edit.take(step)
        const mark = edit.mark()
        for (const step of then.steps.slice(before.length)) if (typeof step !== 'string') edit.take(step)
        edit.rollBack(mark)
        expect(found(edit.estate)).toEqual(found(first.estate))
        expect(found(edit.finish())).toEqual(found(first.estate))
      }),
      { numRuns: 100 },
    ))

  it('what is kept by a table is looked up anew after each change of that table, and of that alone', () => {
    const edit = start.edit()
    const [guests, adapters] = [edit.estate.tableOf('guest'), edit.estate.tableOf('adapter')]
    expect([guests, adapters]).toEqual([start.tableOf('guest'), start.tableOf('adapter')])
    const { difference } = apply(start, { type: 'guest.resize', guestId: idOf('news'), vcpu: 4 }, testContext())
    const once = edit.take(difference)
    expect(once.tableOf('guest')).not.toBe(guests)
    expect(once.tableOf('adapter')).toBe(adapters)
    const back = apply(edit.finish(), { type: 'guest.resize', guestId: idOf('news'), vcpu: 5 }, testContext(2))
    expect(edit.take(back.difference).tableOf('guest')).not.toBe(once.tableOf('guest'))
  })
})
