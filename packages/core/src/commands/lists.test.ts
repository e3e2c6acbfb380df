import { runs } from '../testing/tier.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyCommand } from '../testing/any-command.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { apply, applyAll, checkDifference, checkWhole, project, withIds, type Command } from './index.js'
import {
  CommandError,
  compose,
  emptyDifference,
  Estate,
  isEmpty,
  kindNames,
  kinds,
  referencesOf,
  type Difference,
} from '../estate/index.js'

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
      { numRuns: runs(60, 600) },
    ))

  it('all or none, judged at its end: what is right one by one is right together, and what is taken is whole', () =>
    fc.assert(
      fc.property(lists, fc.integer({ min: 100, max: 999 }), (commands, seed) => {
        const expected = oneByOne(commands, seed)
        const isRefusedOneByOne = expected.steps.some((step) => typeof step === 'string')
        try {
          const all = applyAll(start, commands, testContext(seed))
          if (!isRefusedOneByOne) {
            expect(all.difference).toEqual(expected.difference)
            expect(all.estate.toRecords()).toEqual(expected.estate.toRecords())
          }
          checkWhole(all.estate, (field) => field)
          checkDifference(
            () => start,
            all.estate,
            all.difference,
            (field) => field,
          )
          expect(found(Estate.fromRecords(all.estate.toRecords()))).toEqual(found(all.estate))
        } catch (error) {
          if (!(error instanceof CommandError)) throw error
          // One by one, a record may come to contradict its surroundings by a change of those, and be changed after that.
          expect(isRefusedOneByOne || error.code === 'invalid').toBe(true)
          expect(error.problems.length).toBeGreaterThan(0)
          for (const { path } of error.problems) expect(path).toMatch(/^commands\.\d+(\.|$)/)
        }
      }),
      { numRuns: runs(50, 600) },
    ))

  it('is laid over an estate once; over another anew', () => {
    const commands: readonly Command[] = [{ type: 'guest.resize', guestId: idOf('news'), vcpu: 3 }]
    const projection = project(start, commands, testContext(2))
    expect(project(start, commands, testContext(3))).toBe(projection)
    expect(project(projection.estate, commands, testContext(3))).not.toBe(projection)
    expect(isEmpty(project(projection.estate, commands, testContext(3)).difference)).toBe(true)
  })
})

describe('commands that are only right together', () => {
  const error = (...commands: Command[]) => {
    try {
      applyAll(start, commands, testContext(5))
      return undefined
    } catch (thrown) {
      if (thrown instanceof CommandError) return { code: thrown.code, paths: thrown.problems.map(({ path }) => path) }
      throw thrown
    }
  }
  const rename = (guest: 'playout' | 'news', name: string): Command => ({ type: 'guest.update', id: idOf(guest), changes: { name } })

  it('two guests swap their names; alone each would take the name of the other', () => {
    const [playout, news] = ['playout', 'news'].map((guest) => start.find('guest', idOf(guest))?.name ?? '') as [string, string]
    const { estate } = applyAll(start, [rename('playout', news), rename('news', playout)], testContext(5))
    expect(estate.byKey('guest', { name: news })[0]?.id).toBe(idOf('playout'))
    expect(error(rename('news', 'other'), rename('playout', 'other'))).toEqual({
      code: 'not-unique',
      paths: ['commands.0.changes.name'],
    })
  })

  it('a record may be named before it is added, and removed before what refers to it', () => {
    const [disk, guest] = ['01890000-0000-7000-8000-00000000aaa1', '01890000-0000-7000-8000-00000000aaa2']
    const add: Command[] = [
      { type: 'disk.add', record: { id: disk, guestId: guest, sizeBytes: 1e9 } },
      { type: 'guest.add', record: { id: guest, name: 'late', vcpu: 1, memoryMiB: 512 } },
    ]
    const { estate } = applyAll(start, add, testContext(5))
    expect(estate.referring('disk', 'guestId', guest)).toHaveLength(1)
    const remove: Command[] = [
      { type: 'guest.remove', id: guest },
      { type: 'disk.remove', id: disk },
    ]
    expect(applyAll(estate, remove, testContext(6)).estate.toRecords()).toEqual(start.toRecords())
    expect(error(add[0] as Command)).toEqual({ code: 'dangling-reference', paths: ['commands.0.record.guestId'] })
  })

  it('what contradicts itself already can be edited and mended, and is not made worse', () => {
    const records = start.toRecords()
    const broken = Estate.fromRecords({
      ...records,
      guest: records.guest.map((guest) => (guest.id === idOf('news') ? { ...guest, vcpu: 4, sockets: 3 } : guest)),
    })
    const edited = applyAll(broken, [{ type: 'guest.update', id: idOf('news'), changes: { note: 'kept' } }], testContext(7))
    expect(edited.estate.find('guest', idOf('news'))).toMatchObject({ note: 'kept', sockets: 3 })
    const back = applyAll(edited.estate, [{ type: 'guest.update', id: idOf('news'), changes: { sockets: 2 } }], testContext(8)).estate
    expect(back.find('guest', idOf('news'))?.sockets).toBe(2)
    for (const changes of [{ sockets: 3 }, { secureBoot: true, firmware: 'BIOS' as const }])
      expect(() => applyAll(back, [{ type: 'guest.update', id: idOf('news'), changes }], testContext(9))).toThrow(CommandError)
  })
})

describe('ids that are known before they are made', () => {
  const copies: readonly Command[] = ['a', 'b', 'c'].map((name) => ({ type: 'guest.clone', guestId: idOf('template'), name }))

  it('a list with its ids gives the same records wherever it is applied, and whatever is left out of it', () => {
    const fixed = withIds(copies, testContext(11).newId)
    expect(withIds(fixed, testContext(12).newId)).toBe(fixed)
    const here = applyAll(start, fixed, testContext(13))
    expect(applyAll(start, fixed, testContext(14)).difference).toEqual(here.difference)
    expect(project(start, [...fixed], testContext(15)).difference).toEqual(here.difference)
    const without = applyAll(start, fixed.slice(1), testContext(16)).difference
    expect(here.difference.added).toMatchObject(without.added)
    const ids = Object.keys(here.difference.added)
    expect(new Set(ids).size).toBe(ids.length)
  })

  it('whoever asks may give an id to each disk and adapter, a MAC, an address', () => {
    const [copy, disk, adapter] = [1, 2, 3].map((n) => `01890000-0000-7000-8000-00000000bbb${n}`) as [string, string, string]
    const { estate } = applyAll(
      start,
      [
        {
          type: 'guest.clone',
          guestId: idOf('playout'),
          id: copy,
          name: 'copy',
          ids: { [idOf('playoutDisk')]: disk, [idOf('playoutAdapter')]: adapter },
          macs: { [idOf('playoutAdapter')]: '02-1A-4B-00-0F-FF' },
          addresses: { [idOf('playoutAdapter')]: '10.61.40.9' },
        },
      ],
      testContext(17),
    )
    expect(estate.find('disk', disk)?.guestId).toBe(copy)
    expect(estate.find('adapter', adapter)).toMatchObject({ guestId: copy, mac: '02:1a:4b:00:0f:ff' })
    expect(estate.referring('address', 'adapterId', adapter)).toMatchObject([{ ip: '10.61.40.9', kind: 'fixed' }])
    const refusal = (macs: Record<string, string>) => () =>
      applyAll(start, [{ type: 'guest.clone', guestId: idOf('playout'), name: 'copy', macs }], testContext(18))
    expect(refusal({ [idOf('newsAdapter')]: '02:1a:4b:00:0f:ff' })).toThrow('is no adapter of playout-1')
    expect(refusal({ [idOf('playoutAdapter')]: '02:1a:4b:00:00:01' })).toThrow('is already used by adapter 1 of playout-1')
    expect(refusal({ [idOf('playoutAdapter')]: 'none' })).toThrow('twelve hexadecimal digits')
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
      { numRuns: runs(30, 300) },
    ))

  it('what is kept by a table is looked up again after each change of that table, and of that alone', () => {
    const edit = start.edit()
    const [guests, adapters] = [edit.estate.tableOf('guest'), edit.estate.tableOf('adapter')]
    expect([guests, adapters]).toEqual([start.tableOf('guest'), start.tableOf('adapter')])
    const { difference } = apply(start, { type: 'guest.resize', guestId: idOf('news'), vcpu: 4 }, testContext())
    edit.take(difference)
    const once = edit.estate.tableOf('guest')
    expect(once).not.toBe(guests)
    expect(edit.estate.tableOf('adapter')).toBe(adapters)
    const back = apply(edit.finish(), { type: 'guest.resize', guestId: idOf('news'), vcpu: 5 }, testContext(2))
    edit.take(back.difference)
    expect(edit.estate.tableOf('guest')).not.toBe(once)
  })
})

describe('what is worked out from an estate', () => {
  const names = (estate: Estate) => ({ names: estate.all('guest').map(({ name }) => name) })
  const hosts = (estate: Estate, id: string) => ({ host: estate.find('guest', id)?.hostId })
  const resize: Command = { type: 'host.update', id: idOf('gannet'), changes: { note: 'rack 2' } }
  const rename: Command = { type: 'guest.update', id: idOf('news'), changes: { name: 'desk' } }

  it('is kept until a record of its kinds changes, in every estate that has the same', () => {
    const known = start.derive(['guest'], names)
    expect(start.derive(['guest'], names)).toBe(known)
    expect(apply(start, resize, testContext()).estate.derive(['guest'], names)).toBe(known)
    const renamed = apply(start, rename, testContext()).estate
    expect(renamed.derive(['guest'], names).names).toContain('desk')
    expect(start.derive(['guest'], names)).toBe(known)
    expect(start.deriveFor(['guest'], idOf('news'), hosts)).toBe(start.deriveFor(['guest'], idOf('news'), hosts))
    expect(start.deriveFor(['guest'], idOf('news'), hosts)).not.toBe(start.deriveFor(['guest'], idOf('playout'), hosts))
    expect(start.derive(['guest', 'host'], names)).not.toBe(known)
  })
  it('does not read what it does not say it reads: what it gives is never behind', () => {
    expect(() => start.derive(['host'], names)).toThrow('add it to the kinds of derive')
    expect(() => start.derive(['host'], (estate: Estate) => estate.derive(['host', 'guest'], names))).toThrow('of the kind “guest”')
  })
  it('while an estate is changed, it is as of that moment', () => {
    const edit = start.edit()
    const before = edit.estate.derive(['guest'], names).names
    edit.take(apply(start, rename, testContext()).difference)
    expect(edit.estate.derive(['guest'], names).names).not.toEqual(before)
  })
})
