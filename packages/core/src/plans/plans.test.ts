import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, applyAll, attempt, project, type Command, type CommandContext } from '../commands/index.js'
import { CommandError, invert, kinds, type Difference, type Estate, type Field, type Item, type Kind } from '../estate/index.js'
import { anyCommand } from '../testing/any-command.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { carryOut } from '../tasks/index.js'
import { minutesOf } from '../durations/index.js'
import { processorMs } from '../testing/processor-time.js'
import { runs } from '../testing/tier.js'
import { memoryBudget, storeBudget, vcpuBudget } from '../capacity/index.js'
import { countFailover, failoverOutcomes, guestsWithoutCopy } from '../placement/index.js'
import {
  cannotBeUndone,
  cautionsOf,
  commandsOf,
  crowdedBy,
  departures,
  estateAfter,
  isStale,
  itemsOf,
  leastRedundant,
  planFigures,
  projectPlan,
  revertItem,
  whyNotInItem,
} from './index.js'

const PLAN = '018a0000-0000-7000-8000-000000000001'
const OTHER = '018a0000-0000-7000-8000-000000000002'
const itemId = (number: number) => `018b0000-0000-7000-8000-${number.toString(16).padStart(12, '0')}`

/** The small estate with two plans, and a person who works. */
const start = applyAll(
  smallEstate(),
  [
    { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
    { type: 'plan.add', record: { id: OTHER, name: 'Sunday' } },
  ],
  testContext(),
).estate

let seed = 500
const context = (): CommandContext => ({ ...testContext(++seed), personId: idOf('ola') })
const done = (estate: Estate, ...commands: Command[]) => applyAll(estate, commands, context()).estate
const write = (id: string, title: string, commands: readonly Command[], more: object = {}): Command => ({
  type: 'item.write',
  id,
  planId: PLAN,
  title,
  kind: commands.length > 0 ? 'change' : 'task',
  commands,
  ...more,
})
const refusalOf = (estate: Estate, ...commands: Command[]): string => {
  try {
    done(estate, ...commands)
    return ''
  } catch (error) {
    if (error instanceof CommandError) return `${error.code} ${error.problems[0]?.path ?? ''}: ${error.message}`
    throw error
  }
}
const resize = (guest: string, memoryMiB: number): Command => ({ type: 'guest.resize', guestId: idOf(guest), memoryMiB })
const clone = (name: string): Command => ({ type: 'guest.clone', guestId: idOf('template'), name })
const staleIn = (estate: Estate, plan = PLAN) =>
  projectPlan(estate, plan)
    .items.filter(isStale)
    .map(({ item }) => item.id)
const [A, B, C] = [itemId(1), itemId(2), itemId(3)]

describe('an item', () => {
  it('fixes what it makes when it is written: ids, MACs, addresses', () => {
    const estate = done(
      start,
      write(A, 'Copy', [clone('edge-1')]),
      write(B, 'Address', [{ type: 'address.assign', adapterId: idOf('newsAdapter'), kind: 'fixed' }]),
    )
    const [copy] = commandsOf(estate.find('item', A) as never)
    const [assign] = commandsOf(estate.find('item', B) as never)
    expect(copy).toMatchObject({ id: expect.any(String), macs: { [idOf('templateAdapter')]: expect.stringMatching(/^02:/) } })
    expect(assign).toMatchObject({ id: expect.any(String), ip: expect.stringMatching(/^10\./), subnetId: idOf('officeNet') })
    const twice = [estateAfter(estate, PLAN), estateAfter(done(estate, { type: 'plan.update', id: PLAN, changes: { note: 'x' } }), PLAN)]
    expect(twice[0]?.all('guest')).toEqual(twice[1]?.all('guest'))
    expect(twice[0]?.all('adapter')).toEqual(twice[1]?.all('adapter'))
  })

  it('does not take what another open plan would make: it takes the next, or says whose it is', () => {
    const assign: Command = { type: 'address.assign', adapterId: idOf('newsAdapter'), kind: 'fixed' }
    const estate = done(start, write(A, 'Copies', [clone('edge-1'), assign]), write(B, 'Address', [assign], { planId: OTHER }))
    const [ip, other] = [A, B].map((id) => (commandsOf(estate.find('item', id) as never).at(-1) as { ip?: string }).ip)
    expect(ip).not.toBe(other)
    expect(refusalOf(estate, write(C, 'Copy', [clone('edge-1')], { planId: OTHER }))).toBe(
      'not-unique commands.0.commands.0.name: Name edge-1 is planned already in “Saturday”, item “Copies”; choose another.',
    )
  })

  it('is not in the way of others once its plan was dropped', () => {
    const dropped = done(start, write(A, 'Copies', [clone('edge-1')]), { type: 'plan.drop', planId: PLAN })
    const free = done(dropped, write(C, 'Copy', [clone('edge-1')], { planId: OTHER }))
    expect(commandsOf(free.find('item', C) as never)).toMatchObject([{ type: 'guest.clone', name: 'edge-1' }])
  })

  it.each([
    [{ type: 'plan.drop', planId: PLAN }, 'plans do not change plans'],
    [{ type: 'item.skip', itemId: A, reason: 'x' }, 'plans do not change plans'],
    [{ type: 'person.add', record: { name: 'Eve' } }, 'people are recorded when they happen'],
    [{ type: 'migration.add', record: { guestId: idOf('news'), toHostId: idOf('tern') } }, 'migrations are recorded when they happen'],
  ] as const)('holds no %o', (command, why) => {
    expect(whyNotInItem(command as Command)).toContain(why)
    expect(refusalOf(start, write(A, 'No', [command as Command]))).toContain(why)
  })

  it('is not written, changed or removed past its verbs', () => {
    const estate = done(start, write(A, 'More memory', [resize('news', 6144)]))
    expect(refusalOf(estate, { type: 'item.add', record: { planId: PLAN, order: 'a0', title: 'x' } } as never)).toContain('unknown-command')
    expect(refusalOf(estate, { type: 'item.update', id: A, changes: { state: 'done' } } as never)).toContain('State follows from')
    expect(refusalOf(estate, { type: 'plan.update', id: PLAN, changes: { state: 'agreed' } } as never)).toContain(
      'follows from what is done',
    )
    expect(done(estate, { type: 'item.update', id: A, changes: { title: 'Even more' } }).find('item', A)?.title).toBe('Even more')
  })

  it('waits for others, and for itself never', () => {
    const estate = done(start, write(A, 'First', []), write(B, 'Second', [resize('news', 6144)], { afterIds: [A] }))
    expect(refusalOf(estate, { type: 'item.carryOut', itemId: B })).toContain('“Second” comes after “First”, which is open.')
    expect(refusalOf(estate, { type: 'item.update', id: A, changes: { afterIds: [B] } })).toContain(
      'wait for each other: “First”, “Second”',
    )
    expect(done(estate, { type: 'item.carryOut', itemId: A }, { type: 'item.carryOut', itemId: B }).find('plan', PLAN)?.state).toBe('done')
  })

  it('is carried out once; who comes late is told who did it', () => {
    const estate = done(start, write(A, 'More memory', [resize('news', 6144)]), { type: 'item.begin', itemId: A })
    expect([estate.find('plan', PLAN)?.state, estate.find('item', A)?.personId]).toEqual(['under way', idOf('ola')])
    const after = done(estate, { type: 'item.carryOut', itemId: A, minutes: 7 })
    expect(after.find('guest', idOf('news'))?.memoryMiB).toBe(6144)
    expect(after.find('item', A)).toMatchObject({ state: 'done', doneById: idOf('ola'), minutesTaken: 7, doneRevision: expect.any(Number) })
    expect(refusalOf(after, { type: 'item.carryOut', itemId: A })).toMatch(
      /^changed-since commands.0.itemId: “More memory” is done already, by Ola Berg, as change \d+/,
    )
  })

  it('is stale when something else changed what it is about, and says what, from, to', () => {
    const estate = done(start, write(A, 'More memory', [resize('news', 6144)]))
    const changed = done(estate, resize('news', 5120))
    expect(staleIn(changed)).toEqual([A])
    expect(staleIn(done(estate, { type: 'guest.update', id: idOf('news'), changes: { note: 'asked for' } }))).toEqual([])
    expect(refusalOf(changed, { type: 'item.carryOut', itemId: A })).toContain(
      'Memory of guest newsroom: 4 GiB when the item was written, 5 GiB now. Keep it as it is now, rewrite it, or drop it.',
    )
    expect(staleIn(done(changed, { type: 'item.keep', itemId: A }))).toEqual([])
    expect(staleIn(done(changed, { type: 'item.rewrite', itemId: A, commands: [resize('news', 7168)] }))).toEqual([])
    const meant = done(changed, { type: 'item.carryOut', itemId: A, isMeant: true })
    expect(meant.find('guest', idOf('news'))?.memoryMiB).toBe(6144)
    const gone = done(estate, { type: 'guest.remove', id: idOf('news'), withReferring: true })
    expect(refusalOf(gone, { type: 'item.carryOut', itemId: A })).toContain('“More memory” cannot be applied: There is no guest')
  })

  it('is ordered, split, joined and dropped without making others stale', () => {
    const copy = done(
      start,
      write(A, 'Copies', [clone('edge-1'), clone('edge-2')]),
      write(B, 'More', [resize('news', 6144)]),
      write(C, 'Less', [resize('news', 4608)]),
    )
    const split = done(copy, { type: 'item.split', itemId: A, id: itemId(9), at: 1 })
    expect(itemsOf(split, PLAN).map(({ title }) => title)).toEqual(['Copies', 'Copies, part 2', 'More', 'Less'])
    expect(split.find('item', itemId(9))?.afterIds).toEqual([A])
    const joined = done(split, { type: 'item.join', itemId: A })
    expect(itemsOf(joined, PLAN).map(({ title, commands }) => [title, commands.length])).toEqual([
      ['Copies', 2],
      ['More', 1],
      ['Less', 1],
    ])
    const ordered = done(joined, { type: 'item.order', itemId: C, beforeId: A })
    expect(itemsOf(ordered, PLAN).map(({ title }) => title)).toEqual(['Less', 'Copies', 'More'])
    const dropped = done(ordered, { type: 'item.drop', itemId: C })
    expect([split, joined, ordered, dropped].map((estate) => staleIn(estate))).toEqual([[], [], [], []])
    expect(refusalOf(copy, { type: 'item.split', itemId: B, at: 1 })).toContain('has 1 command')
    expect(refusalOf(copy, { type: 'item.join', itemId: C })).toContain('Nothing comes after “Less”')
  })

  it('that failed or was skipped says why, makes nothing after it stale, and can be opened again', () => {
    const estate = done(start, write(A, 'More', [resize('news', 6144)]), write(B, 'Even more', [resize('news', 7168)]))
    const failed = done(estate, { type: 'item.fail', itemId: A, reason: 'the module does not fit', minutes: 20 })
    expect(failed.find('item', A)).toMatchObject({ state: 'failed', reason: 'the module does not fit', minutesTaken: 20 })
    expect(staleIn(failed)).toEqual([])
    const again = done(failed, { type: 'item.reopen', itemId: A })
    expect([again.find('item', A)?.state, staleIn(again)]).toEqual(['open', []])
    expect(refusalOf(done(again, { type: 'item.carryOut', itemId: A }), { type: 'item.reopen', itemId: A })).toContain('is done')
  })
})

describe('items written in one list', () => {
  const body = (index: number): readonly Command[] =>
    index % 4 === 3 ? [] : [index % 4 === 2 ? resize('playout', 4096 + 64 * index) : clone(`copy-${index}`)]
  const list = (count: number) => Array.from({ length: count }, (_, index) => write(itemId(index + 1), `item ${index}`, body(index)))

  it('are what they are written one by one, also with something else between them', () => {
    const between: Command = { type: 'guest.update', id: idOf('playout'), changes: { note: 'meanwhile' } }
    const other: Command = { ...write(itemId(90), 'elsewhere', [clone('copy-elsewhere')]), planId: OTHER } as Command
    const commands = [...list(6), between, ...list(9).slice(6), other, ...list(14).slice(9)]
    // The same ids for what is made, however the commands are cut into lists.
    const ids = testContext(7)
    const same = { ...ids, personId: idOf('ola') }
    const together = applyAll(start, commands, same).estate
    const again = { ...testContext(7), personId: idOf('ola') }
    const apart = commands.reduce((estate, command) => applyAll(estate, [command], again).estate, start)
    expect(together.toRecords()).toEqual(apart.toRecords())
    expect(projectPlan(together, PLAN).items.filter(isStale)).toEqual([])
  })

  it('take time that grows with them: five hundred once took fifteen seconds', () => {
    const count = 600
    expect(processorMs(() => done(start, ...list(count)))).toBeLessThan(3000)
    expect(itemsOf(done(start, ...list(20)), PLAN)).toHaveLength(20)
  })

  it('that are put before others of a large plan so often that it would hold up everybody are refused', () => {
    const first = list(1)
    const before = list(400)
      .slice(1)
      .map((command) => ({ ...command, beforeId: itemId(1) }) as Command)
    expect(refusalOf(start, ...first, ...before)).toMatch(/^not-allowed .*edit large plans too often/)
    expect(refusalOf(start, ...first, ...before.slice(0, 30))).toBe('')
  })
})

describe('a plan', () => {
  it('is agreed to as it is; one that is changed is a draft again', () => {
    expect(refusalOf(start, { type: 'plan.agree', planId: PLAN })).toContain('has no item')
    const agreed = done(start, write(A, 'More', [resize('news', 6144)]), { type: 'plan.agree', planId: PLAN })
    expect(agreed.find('plan', PLAN)?.state).toBe('agreed')
    expect(done(agreed, write(B, 'Less', [resize('news', 4608)])).find('plan', PLAN)?.state).toBe('draft')
    const stale = done(agreed, { type: 'item.keep', itemId: A }, resize('news', 5120))
    expect(refusalOf(stale, { type: 'plan.agree', planId: PLAN })).toContain('has changed since it was written')
    const dropped = done(agreed, { type: 'plan.drop', planId: PLAN })
    expect(refusalOf(dropped, { type: 'item.carryOut', itemId: A })).toContain('“Saturday” was dropped')
    expect(done(dropped, { type: 'plan.reopen', planId: PLAN }).find('plan', PLAN)?.state).toBe('draft')
  })

  it('is a draft again when what was agreed to of an item changes, and stays agreed when who does it or a note does', () => {
    const agreed = done(start, write(A, 'More', [resize('news', 6144)]), write(B, 'Then', []), { type: 'plan.agree', planId: PLAN })
    const stateAfter = (changes: object) => done(agreed, { type: 'item.update', id: A, changes }).find('plan', PLAN)?.state
    const meant = [
      { title: 'Much more' },
      { afterIds: [B] },
      { decideBy: '2027-02-01T20:00:00.000Z' },
      { otherwise: 'Leave it' },
      { isFinal: true },
    ]
    expect(meant.map((changes) => [changes, stateAfter(changes)])).toEqual(meant.map((changes) => [changes, 'draft']))
    expect([stateAfter({ note: 'by the back door' }), stateAfter({ personId: idOf('ola') }), stateAfter({ minutes: 12 })]).toEqual([
      'agreed',
      'agreed',
      'agreed',
    ])
  })

  it('is over when every item is done, skipped or taken back, and under way while one failed or is open', () => {
    const two = done(start, write(A, 'More', [resize('news', 6144)]), write(B, 'Tell', []))
    const stateAfter = (...commands: Command[]) => done(two, ...commands).find('plan', PLAN)?.state
    const carryOut = (itemId: string): Command => ({ type: 'item.carryOut', itemId })
    expect(stateAfter(carryOut(A))).toBe('under way')
    expect(stateAfter(carryOut(A), { type: 'item.fail', itemId: B, reason: 'no answer' })).toBe('under way')
    expect(stateAfter(carryOut(A), { type: 'item.skip', itemId: B, reason: 'they know' })).toBe('done')
    const all = done(two, carryOut(B), carryOut(A))
    const item = all.find('item', A)
    const change = apply(done(two, carryOut(B)), carryOut(A), context()).difference
    expect(item?.state).toBe('done')
    const back = revertItem(all, A, change, context()).estate
    expect([back.find('item', A)?.state, back.find('plan', PLAN)?.state]).toEqual(['reverted', 'done'])
  })

  it('has to be agreed to before it is carried out, where the policies say so', () => {
    const estate = done(start, write(A, 'More', [resize('news', 6144)]), {
      type: 'policy.update',
      id: idOf('policy'),
      changes: { carryOutAgreedOnly: true },
    })
    expect(refusalOf(estate, { type: 'item.carryOut', itemId: A })).toContain('ask for an agreed plan')
    expect(done(estate, { type: 'plan.agree', planId: PLAN }, { type: 'item.carryOut', itemId: A }).find('plan', PLAN)?.state).toBe('done')
  })
})

/** Bodies of one to three commands that an item may hold. */
const bodies = fc.array(
  fc.array(
    anyCommand.filter((command) => whyNotInItem(command) === undefined),
    { minLength: 1, maxLength: 3 },
  ),
  { maxLength: 6 },
)

/** A plan with those items that can be written. */
function planned(estate: Estate, all: readonly (readonly Command[])[], planId = PLAN, firstId = 100): Estate {
  return all.reduce((on, body, index) => {
    try {
      return done(on, write(itemId(firstId + index), `item ${index}`, body, { planId }))
    } catch (error) {
      if (error instanceof CommandError) return on
      throw error
    }
  }, estate)
}

const isTime = (kind: Kind, name: string) => {
  const field = (kinds[kind].fields as Readonly<Record<string, Field>>)[name]
  return field?.type === 'text' && field.shape === 'instant'
}
/** What a difference does, a line for each value, in no order; times are left out. Written apart from what it is held against. */
function effectOf({ added, updated, removed }: Difference): readonly string[] {
  const lines = (how: string, kind: Kind, record: object) =>
    Object.entries(record).flatMap(([name, value]) => (isTime(kind, name) ? [] : [`${how} ${kind} ${name} ${JSON.stringify(value)}`]))
  return [
    ...Object.entries(added).flatMap(([id, { kind, record }]) => lines(`add ${id}`, kind, record)),
    ...Object.entries(removed).flatMap(([id, { kind, record }]) => lines(`remove ${id}`, kind, record)),
    ...Object.entries(updated).flatMap(([id, { kind, from, to }]) =>
      Object.entries(from).flatMap(([name, value]) => {
        const [before, after] = [JSON.stringify(value), JSON.stringify((to as unknown as Record<string, unknown>)[name])]
        return before === after || isTime(kind, name) ? [] : [`update ${id} ${name} ${before} ${after}`]
      }),
    ),
  ].sort()
}
/** Every record but plans and items, without times. */
const recordsOf = (estate: Estate) =>
  Object.fromEntries(
    Object.entries(estate.toRecords())
      .filter(([kind]) => kind !== 'plan' && kind !== 'item')
      .map(([kind, records]) => [
        kind,
        records.map((record) => Object.fromEntries(Object.entries(record).filter(([name]) => !isTime(kind as Kind, name)))),
      ]),
  )

describe('any plan', () => {
  it('projected twice, here or from records read again, gives the same; carried out item by item it gives what was projected', () =>
    fc.assert(
      fc.property(bodies, (all) => {
        const estate = planned(start, all)
        const projected = projectPlan(estate, PLAN)
        const again = (start.constructor as typeof Estate).fromRecords(JSON.parse(JSON.stringify(estate.toRecords())) as never)
        expect(projectPlan(again, PLAN).items.map(({ outcome }) => outcome)).toEqual(projected.items.map(({ outcome }) => outcome))
        let now = estate
        for (const { item } of projected.items) now = done(now, { type: 'item.carryOut', itemId: item.id })
        expect(recordsOf(now)).toEqual(recordsOf(estateAfter(estate, PLAN)))
        expect(now.find('plan', PLAN)?.state).toBe(projected.items.length > 0 ? 'done' : 'draft')
      }),
      { numRuns: runs(40, 400) },
    ))

  it('carried out and taken back, newest first, gives the records before', () =>
    fc.assert(
      fc.property(bodies, (all) => {
        const estate = planned(start, all)
        let now = estate
        const log: Difference[] = []
        for (const { id } of itemsOf(estate, PLAN)) {
          const { estate: after, difference } = apply(now, { type: 'item.carryOut', itemId: id }, context())
          now = after
          log.push(difference)
        }
        for (const difference of log.toReversed()) now = now.with(invert(difference))
        expect(now.toRecords()).toEqual(estate.toRecords())
      }),
      { numRuns: runs(20, 200) },
    ))

  it('misses no stale item and calls none stale for what the plan did itself, whatever is changed from outside', () =>
    fc.assert(
      fc.property(
        bodies,
        fc.array(anyCommand, { maxLength: 3 }),
        fc.array(fc.constantFrom('do', 'skip', 'fail', 'last first')),
        (all, outside, own) => {
          let estate = planned(start, all)
          // What the plan does to itself.
          for (const what of own) {
            const ahead = projectPlan(estate, PLAN).items.map(({ item }) => item)
            const item = what === 'last first' ? ahead.at(-1) : ahead[0]
            if (!item) break
            try {
              if (what === 'skip') estate = done(estate, { type: 'item.skip', itemId: item.id, reason: 'no' })
              else if (what === 'fail') estate = done(estate, { type: 'item.fail', itemId: item.id, reason: 'no' })
              else estate = done(estate, { type: 'item.carryOut', itemId: item.id })
            } catch (error) {
              // Out of order it may not go at all.
              if (!(error instanceof CommandError)) throw error
            }
          }
          expect(projectPlan(estate, PLAN).items.filter(({ outcome, departures }) => outcome.ok && departures.length > 0)).toEqual([])
          // What others do.
          const before = itemsOf(estate, PLAN).filter(({ state }) => state === 'open')
          const bodiesOf = (items: typeof before) => items.map(commandsOf)
          const builder = estate.edit()
          for (const command of outside) attempt(builder, command, context())
          const changed = builder.finish()
          const [was, is] = [estate, changed].map((on) => project(on, bodiesOf(before), testContext(7)).steps)
          const wanted = before
            .filter((_, index) => {
              const [a, b] = [was?.[index], is?.[index]]
              return !b?.ok || (a?.ok && effectOf(a.difference).join('\n') !== effectOf(b.difference).join('\n'))
            })
            .map(({ id }) => id)
          expect(staleIn(changed)).toEqual(wanted)
        },
      ),
      { numRuns: runs(100, 1000) },
    ))

  it('has the figures after each item that the estate after it has, worked out by themselves', () =>
    fc.assert(
      fc.property(bodies, (all) => {
        const estate = planned(start, all)
        const numbers = (on: Estate) => ({
          hosts: on.all('host').map((host) => [host.id, memoryBudget(on, host).left.value, vcpuBudget(on, host).left.value]),
          stores: on.all('store').map((store) => [store.id, storeBudget(on, store).used.value, storeBudget(on, store).promised.value]),
          failover: countFailover(
            failoverOutcomes(on).map(({ host, stranded }) => ({
              hasRoom: stranded.length === 0,
              hasData: guestsWithoutCopy(on, host).length === 0,
            })),
          ),
        })
        for (const { item, hosts, stores, failover } of carryOut(planFigures, estate, PLAN)) {
          const expected = numbers(item ? estateAfter(estate, PLAN, item.id) : estate)
          expect({
            hosts: [...hosts].map(([id, { memoryLeftMiB, coresLeft }]) => [id, memoryLeftMiB, coresLeft]),
            stores: [...stores].map(([id, { usedBytes, promisedBytes }]) => [id, usedBytes, promisedBytes]),
            failover,
          }).toEqual(expected)
        }
        const counts = carryOut(planFigures, estate, PLAN)
          .slice(1)
          .map(({ failover }) => failover.withBoth)
        expect(leastRedundant(carryOut(planFigures, estate, PLAN))?.failover.withBoth).toBe(
          counts.length > 0 ? Math.min(...counts) : undefined,
        )
      }),
      { numRuns: runs(30, 300) },
    ))

  it('beside another made at the same time: they are carried out in either order without a collision', () =>
    fc.assert(
      fc.property(fc.array(fc.constantFrom('edge-1', 'edge-2', 'edge-3', 'edge-4'), { maxLength: 6 }), fc.boolean(), (names, isTurned) => {
        const body = (name: string): readonly Command[] => [
          clone(name),
          { type: 'address.assign', adapterId: idOf('newsAdapter'), kind: 'fixed' },
        ]
        const half = Math.ceil(names.length / 2)
        const first = planned(start, names.slice(0, half).map(body), PLAN, 100)
        const both = planned(first, names.slice(half).map(body), OTHER, 200)
        let now = both
        for (const planId of isTurned ? [OTHER, PLAN] : [PLAN, OTHER])
          for (const { id } of itemsOf(both, planId)) now = done(now, { type: 'item.carryOut', itemId: id })
        expect(now.count('guest')).toBe(start.count('guest') + new Set(names).size)
        expect(new Set(now.all('adapter').map(({ mac }) => mac)).size).toBe(now.count('adapter'))
      }),
      { numRuns: runs(20, 200) },
    ))
})

describe('in what an item departs from what it was written for', () => {
  const difference = (...commands: Command[]) => applyAll(start, commands, testContext(9)).difference
  const grow = (memoryMiB: number) => difference(resize('news', memoryMiB))
  const added = (id: string, name: string) => difference({ type: 'guest.add', record: { id, name, vcpu: 1, memoryMiB: 512 } })

  it.each<[string, Difference, Difference, object[]]>([
    ['nothing', grow(5120), grow(5120), []],
    ['where it ends', grow(5120), grow(6144), [{ kind: 'guest', field: 'memoryMiB', how: 'to', expected: 5120, now: 6144 }]],
    [
      'what it does beside',
      grow(5120),
      difference(resize('news', 5120), { type: 'guest.update', id: idOf('news'), changes: { note: 'x' } }),
      [{ field: 'note', how: 'new', expected: null, now: 'x' }],
    ],
    [
      'what it does no more',
      difference(resize('news', 5120), { type: 'guest.update', id: idOf('news'), changes: { note: 'x' } }),
      grow(5120),
      [{ field: 'note', how: 'not any more', expected: 'x', now: null }],
    ],
    ['what comes', added(A, 'a'), added(A, 'b'), [{ id: A, kind: 'guest', field: 'name', how: 'to', expected: 'a', now: 'b' }]],
    [
      'another that comes',
      added(A, 'a'),
      added(B, 'a'),
      [
        { id: A, kind: 'guest', field: null, how: 'not any more', expected: 'added', now: null },
        { id: B, kind: 'guest', field: null, how: 'new', expected: null, now: 'added' },
      ],
    ],
  ])('%s', (_, expected, now, found) => expect(departures(expected, now)).toMatchObject(found))

  it('what open plans would make is in the way of what is made beside them', () => {
    const planned = done(
      start,
      write(A, 'One more', [{ type: 'guest.add', record: { id: itemId(900), name: 'late', vcpu: 1, memoryMiB: 512 } }]),
    )
    const named = (estate: Estate) => estate.byKey('guest', { name: 'late' }).map(({ id }) => id)
    expect([named(planned), named(crowdedBy(planned))]).toEqual([[], [itemId(900)]])
    const carried = done(planned, { type: 'item.carryOut', itemId: A })
    expect(crowdedBy(carried).count('guest')).toBe(carried.count('guest'))
  })
})

describe('how long an item should take', () => {
  const timed = (...minutes: readonly number[]) => {
    let estate = start
    for (const [index, taken] of minutes.entries()) {
      const id = itemId(100 + index)
      estate = done(estate, write(id, `Resize ${index}`, [resize('news', 4096 + 1024 * (index + 1))]))
      estate = done(estate, { type: 'item.carryOut', itemId: id, minutes: taken })
    }
    return done(estate, write(A, 'One more', [resize('playout', 10_240)]), write(B, 'Tell them', []))
  }
  const minutesIn = (estate: Estate, id: string) => minutesOf(estate, estate.find('item', id) as Item)

  it('is common practice until three own items of its sort were timed, then their median', () => {
    // Common practice gives a resize 5 minutes.
    expect(minutesIn(timed(10, 20), A)).toEqual({ value: 5, basis: 'common practice' })
    expect(minutesIn(timed(10, 20, 14), A)).toEqual({ value: 14, basis: 'own items', from: 3 })
    expect(minutesIn(timed(10, 20, 14, 0, 0), A)).toEqual({ value: 14, basis: 'own items', from: 3 })
    expect(minutesIn(timed(10, 20, 14, 16), A)).toEqual({ value: 15, basis: 'own items', from: 4 })
  })

  it('is of its own sort alone, and as entered where somebody said so', () => {
    const estate = timed(10, 20, 14)
    expect(minutesIn(estate, B)).toEqual({ value: 15, basis: 'common practice' })
    const entered = done(estate, { type: 'item.update', id: A, changes: { minutes: 7 } })
    expect(minutesIn(entered, A)).toEqual({ value: 7, basis: 'as entered' })
  })

  it('is never less than the estimate of a move, however quickly others were ticked off', () => {
    const moveTo = (host: 'fulmar' | 'gannet', store: 'nvme1' | 'nvme2') => ({
      type: 'guest.migrate' as const,
      guestId: idOf('playout'),
      toHostId: idOf(host),
      stores: { [idOf('playoutDisk')]: idOf(store) },
    })
    const [there, back] = [moveTo('fulmar', 'nvme2'), moveTo('gannet', 'nvme1')]
    const one = write(A, 'Migrate playout', [there])
    const before = minutesIn(done(start, one), A)
    expect(before.basis).toBe('the move’s estimate')
    let estate = start
    for (const [index, move] of [there, back, there, back].entries()) {
      const id = itemId(100 + index)
      estate = done(estate, write(id, `Migrate ${index}`, [move]), { type: 'item.carryOut', itemId: id, minutes: 1 })
    }
    expect(minutesIn(done(estate, one), A)).toEqual(before)
  })
})

describe('what is minded while an item is done', () => {
  const of = (...commands: Command[]) => {
    const { difference } = applyAll(start, commands, context())
    return { isFinal: cannotBeUndone({ isFinal: false }, difference), cautions: cautionsOf(difference).length }
  }
  it('is wiping where what holds data goes or gets smaller, and handling where a machine is opened', () => {
    expect(of({ type: 'disk.remove', id: idOf('newsDisk') })).toEqual({ isFinal: true, cautions: 1 })
    expect(of({ type: 'disk.update', id: idOf('newsDisk'), changes: { sizeBytes: 2 ** 30, usedBytes: 0 } })).toEqual({
      isFinal: true,
      cautions: 1,
    })
    expect(of(resize('news', 6144))).toEqual({ isFinal: false, cautions: 0 })
    expect(of({ type: 'module.add', record: { hostId: idOf('gannet'), slot: 3, sizeMiB: 16_384 } })).toEqual({
      isFinal: false,
      cautions: 1,
    })
    expect(cannotBeUndone({ isFinal: true }, undefined)).toBe(true)
  })
})

it('a plan that was agreed to is a draft again when an item of it is changed in what was agreed to', () => {
  const agreed = done(start, write(A, 'More', [resize('news', 6144)]), { type: 'plan.agree', planId: PLAN })
  const stateAfter = (changes: object) => done(agreed, { type: 'item.update', id: A, changes }).find('plan', PLAN)?.state
  expect([{ note: 'x' }, { minutes: 3 }, { personId: idOf('ola') }].map(stateAfter)).toEqual(['agreed', 'agreed', 'agreed'])
  expect([{ title: 'Much more' }, { otherwise: 'roll back' }, { isFinal: true }].map(stateAfter)).toEqual(['draft', 'draft', 'draft'])
})
