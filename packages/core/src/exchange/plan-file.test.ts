import { readdirSync, readFileSync } from 'node:fs'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { Estate, isId, type Item, type Plan, type Records } from '../estate/index.js'
import { itemsOf, projectPlan } from '../plans/index.js'
import { anyCommand } from '../testing/any-command.js'
import { SCHEMA } from '../testing/kept-schema.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { runs } from '../testing/tier.js'
import { planFile, readPlanFile, type PlanFile, type PlanImport } from './index.js'

const PLAN = '018a0000-0000-7000-8000-000000000001'
const itemId = (number: number) => `018b0000-0000-7000-8000-${number.toString(16).padStart(12, '0')}`
const [A, B, C] = [itemId(1), itemId(2), itemId(3)]
const NOW = '2027-03-09T22:00:00.000Z'
const context = { ...testContext(900), personId: idOf('ola') }
const done = (estate: Estate, ...commands: Command[]) => applyAll(estate, commands, context).estate
const write = (id: string, title: string, commands: readonly Command[], more: object = {}): Command =>
  ({ type: 'item.write', id, planId: PLAN, title, kind: commands.length > 0 ? 'change' : 'task', commands, ...more }) as unknown as Command
const COPY = '018c0000-0000-7000-8000-000000000001'
const clone: Command = { type: 'guest.clone', id: COPY, guestId: idOf('template'), name: 'edge-1' }
const resize: Command = { type: 'guest.resize', guestId: idOf('news'), memoryMiB: 6144 }
const assign: Command = { type: 'address.assign', adapterId: idOf('newsAdapter'), kind: 'fixed' }

/** A plan that makes a copy, goes on with a disk of it, and gives an address. */
const withPlan = done(
  smallEstate(),
  { type: 'plan.add', record: { id: PLAN, name: 'Saturday', ownerId: idOf('ola'), note: 'quiet hours' } },
  write(A, 'Copy', [clone]),
  write(B, 'Tell the newsroom', [], { personId: idOf('ola'), minutes: 5 }),
  write(C, 'More of it', [resize, assign], { afterIds: [A, B] }),
)
const diskOfCopy = Object.values(projectAdded(withPlan)).find(({ kind }) => kind === 'disk')?.record.id ?? ''
const original = done(
  withPlan,
  write(itemId(4), 'Larger disk', [{ type: 'disk.update', id: diskOfCopy, changes: { sizeBytes: 50 * 2 ** 30 } }]),
)

function projectAdded(estate: Estate) {
  return projectPlan(estate, PLAN).difference.added
}

/** The same estate as somebody else has it: every id is another. */
function elsewhere(estate: Estate): Estate {
  const text = JSON.stringify(estate.toRecords())
  const other = new Map<string, string>()
  const newId = testContext(4000).newId
  return Estate.fromRecords(
    JSON.parse(
      text.replaceAll(/[\da-f]{8}-[\da-f]{4}-[\da-f]{4}-[\da-f]{4}-[\da-f]{12}/g, (id) => {
        const now = other.get(id) ?? newId()
        other.set(id, now)
        return now
      }),
    ) as Records,
  )
}

const fileOf = (estate: Estate): PlanFile => planFile(estate, estate.find('plan', PLAN) as Plan, NOW)
const textOf = (file: object) => JSON.stringify(file)
const read = (estate: Estate, file: object, chosen?: Record<string, string>): PlanImport => {
  const reading = readPlanFile(estate, textOf(file), context, chosen)
  if ('problems' in reading) throw new Error(reading.problems.join(' '))
  return reading
}
const problemsOf = (file: object | string): readonly string[] => {
  const reading = readPlanFile(original, typeof file === 'string' ? file : textOf(file), context)
  return 'problems' in reading ? reading.problems : []
}
const added = (estate: Estate, { commands }: PlanImport): { estate: Estate; plan: Plan; items: readonly Item[] } => {
  const after = done(estate, ...commands)
  const made = after.all('plan').find(({ id }) => !estate.find('plan', id)) as Plan
  return { estate: after, plan: made, items: itemsOf(after, made.id) }
}

describe('a plan as a file', () => {
  it('names what it does not make, and from what the rest follows', () => {
    const file = fileOf(original)
    expect(Object.values(file.records)).toEqual(
      expect.arrayContaining([
        { kind: 'guest', name: 'newsroom' },
        { kind: 'guest', name: 'tpl-server' },
        { kind: 'person', name: 'Ola Berg' },
        { kind: 'disk', name: 'disk 1 (system) of tpl-server' },
      ]),
    )
    expect(Object.keys(file.records)).not.toContain(COPY)
    expect(file.derived[diskOfCopy]).toMatchObject({ for: COPY })
  })

  it('does the same in another estate, with ids and MACs of its own', () => {
    const there = elsewhere(smallEstate())
    const reading = read(there, fileOf(original))
    expect(reading.items.map(({ why }) => why)).toEqual([null, null, null, null])
    const { estate, plan: made, items } = added(there, reading)
    expect(made).toMatchObject({ name: 'Saturday', note: 'quiet hours', state: 'draft', ownerId: there.all('person')[0]?.id })
    expect(items.map(({ title, minutes }) => [title, minutes])).toEqual([
      ['Copy', null],
      ['Tell the newsroom', 5],
      ['More of it', null],
      ['Larger disk', null],
    ])
    expect(items[2]?.afterIds).toEqual([items[0]?.id, items[1]?.id])
    const { difference, items: places } = projectPlan(estate, made.id)
    expect(places.every(({ outcome, departures }) => outcome.ok && departures.length === 0)).toBe(true)
    const copy = Object.values(difference.added).find(({ kind }) => kind === 'guest')?.record
    expect(copy).toMatchObject({ name: 'edge-1' })
    const disk = Object.values(difference.added).find(({ kind }) => kind === 'disk')?.record
    expect(disk).toMatchObject({ guestId: copy?.id, sizeBytes: 50 * 2 ** 30 })
    const macs = (from: typeof difference.added) =>
      Object.values(from).flatMap(({ kind, record }) => (kind === 'adapter' ? [(record as { mac: string }).mac] : []))
    expect(macs(difference.added)).toHaveLength(1)
    expect(macs(difference.added)).not.toEqual(macs(projectAdded(original)))
    const used = new Set(Object.keys(projectAdded(original)))
    expect(Object.keys(difference.added).filter((id) => used.has(id))).toEqual([])
  })

  it('beside the plan it is of, takes other addresses, and says what is taken by name', () => {
    const reading = read(original, fileOf(original))
    expect(reading.items.map(({ why, hasOtherAddresses }) => [why, hasOtherAddresses])).toEqual([
      ['Name edge-1 is planned already in “Saturday”, item “Copy”; choose another.', false],
      [null, false],
      [null, true],
      [expect.stringMatching(/^There is no disk with the id /), false],
    ])
    const { plan: made, items } = added(original, reading)
    expect(made.name).toBe('Saturday 2')
    expect(items[0]).toMatchObject({ kind: 'task', title: 'Copy', note: expect.stringContaining('Not taken from the file: Name edge-1') })
    expect(items.map(({ order }) => order)).toEqual([...items.map(({ order }) => order)].sort())
  })

  it('lists what is not found, and takes what a person chooses for it', () => {
    const without = done(elsewhere(smallEstate()), {
      type: 'guest.update',
      id: elsewhere(smallEstate())
        .all('guest')
        .find(({ name }) => name === 'newsroom')?.id,
      changes: { name: 'desk' },
    } as Command)
    const file = fileOf(original)
    const reading = read(without, file)
    expect(reading.items[2]?.why).toBe('It names guest “newsroom” and 1 more, not found here.')
    expect(reading.names.filter(({ here }) => here === null).map(({ name }) => name)).toEqual(['newsroom', 'adapter 1 of newsroom'])
    const desk = without.all('guest').find(({ name }) => name === 'desk')?.id ?? ''
    const adapter = without.referring('adapter', 'guestId', desk)[0]?.id ?? ''
    const chosen = Object.fromEntries(
      reading.names.filter(({ here }) => here === null).map(({ id, kind }) => [id, kind === 'guest' ? desk : adapter]),
    )
    expect(read(without, file, chosen).items[2]?.why).toBeNull()
    expect(read(without, file, { ...chosen, [reading.names[0]?.id ?? '']: 'nobody' }).items[2]?.why).toBeNull()
  })

  it('keeps items that are over, to be done again', () => {
    const over = done(original, { type: 'item.carryOut', itemId: A }, { type: 'item.skip', itemId: B, reason: 'known' })
    const file = fileOf(over)
    expect(file.items.map(({ state }) => state)).toEqual(['done', 'skipped', 'open', 'open'])
    expect(file.derived[diskOfCopy]).toMatchObject({ for: COPY })
    const { items } = added(elsewhere(smallEstate()), read(elsewhere(smallEstate()), file))
    expect(items.map(({ state, kind }) => [state, kind])).toEqual([
      ['open', 'change'],
      ['open', 'task'],
      ['open', 'change'],
      ['open', 'change'],
    ])
  })

  it('of any commands does the same where it is read as where it was written', () => {
    fc.assert(
      fc.property(fc.array(fc.array(anyCommand, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 4 }), (bodies) => {
        let estate = done(smallEstate(), { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } })
        bodies.forEach((commands, index) => {
          try {
            estate = done(estate, write(itemId(index), `Item ${index}`, commands))
          } catch {
            // What cannot be planned is not in the file.
          }
        })
        const items = itemsOf(estate, PLAN)
        if (items.length === 0) return
        const there = elsewhere(smallEstate())
        const reading = read(there, fileOf(estate))
        expect(reading.items.map(({ why }) => why)).toEqual(items.map(() => null))
        const after = added(there, reading)
        expect(shape(projectPlan(after.estate, after.plan.id).difference)).toEqual(shape(projectPlan(estate, PLAN).difference))
      }),
      { numRuns: runs(40, 1000) },
    )
  })
})

/** A difference without ids and MACs, which are others each time, and without times. */
const shape = ({ added: made, updated, removed }: ReturnType<typeof projectPlan>['difference']) =>
  ([...Object.values(made), ...Object.values(updated).map(({ kind, to }) => ({ kind, record: to })), ...Object.values(removed)] as const)
    .map(({ kind, record }) =>
      JSON.stringify([kind, Object.entries(record).filter(([field, value]) => field !== 'mac' && !isId(value) && !hasIds(value))]),
    )
    .sort()
const hasIds = (value: unknown): boolean => typeof value === 'object' && value !== null

describe('a file that is wrong', () => {
  const file = fileOf(original)
  const withItem = (more: object) => ({ ...file, items: [...file.items, { id: itemId(9), title: 'Another', ...more }] })
  const whyOf = (more: object) => read(original, withItem(more)).items.at(-1)?.why

  it.each([
    ['no JSON', 'plan', /^This is not JSON: /],
    ['another file', { format: 'insel-estate' }, /^This is not a plan’s file/],
    ['a newer file', { ...file, version: 2 }, /^The file is of version 2; this Insel reads version 1\.$/],
    ['no plan', { ...file, plan: [] }, /holds no “plan” with a name/],
    ['no items', { ...file, items: [] }, /holds no “items”/],
    ['items that are none', { ...file, items: [4] }, /^items\.0 is an item/],
    ['5,000 items', { ...file, items: Array.from({ length: 5000 }, () => file.items[0]) }, /holds 5000 items; .* at most 2000/],
    ['a nameless plan', { ...file, plan: { ...file.plan, name: '' } }, /Name/],
    [
      'a circle of items',
      { ...file, items: file.items.map((item, at) => ({ ...item, afterIds: [file.items[(at + 1) % 4]?.id] })) },
      /^These would wait for each other: /,
    ],
    ['nesting without end', `{"format":"insel-plan","x":${'['.repeat(5000)}${']'.repeat(5000)}}`, /nests deeper/],
  ])('%s is refused in a sentence', (_, given, sentence) => {
    const [first] = problemsOf(given)
    expect(first).toMatch(sentence)
  })

  it.each([
    ['an unknown command', { commands: [{ type: 'guest.explode' }] }, /unknown command “guest\.explode”/],
    ['a command about plans', { commands: [{ type: 'plan.drop', planId: PLAN }] }, /An item cannot hold “plan\.drop”/],
    ['a plan in a plan', { commands: [{ type: 'plan.write', name: 'x', items: [] }] }, /An item cannot hold “plan\.write”/],
    ['a removed record', { commands: [{ type: 'guest.remove', id: itemId(77) }] }, /There is no guest with the id/],
    ['a field nobody knows', { commands: [resize], colour: 'red' }, /An item has no field “colour”/],
    ['commands that are none', { commands: ['rm'] }, /it is not a command/],
    ['a change without commands', { kind: 'change' }, /needs at least one command/],
    ['a kind that is none', { kind: 'party', commands: [resize] }, /Kind/],
  ])('%s becomes a task that says why, and the rest is taken', (_, more, sentence) => {
    expect(whyOf(more)).toMatch(sentence)
    const { items } = added(original, read(original, withItem(more)))
    expect(items.at(-1)).toMatchObject({ kind: 'task', title: 'Another', note: expect.stringMatching(sentence) })
  })

  it('a title that is none is called by its place', () => {
    const { items } = added(original, read(original, withItem({ title: ['x'], commands: [resize] })))
    expect(items.at(-1)).toMatchObject({ kind: 'task', title: 'Item 5 of the file' })
  })

  it('ids that exist here are never taken for new ones', () => {
    const taken = idOf('playout')
    const reading = read(original, withItem({ commands: [{ type: 'guest.clone', id: taken, guestId: idOf('template'), name: 'edge-7' }] }))
    expect(reading.items.at(-1)?.why).toBeNull()
    const { estate, plan: made } = added(original, reading)
    expect(projectPlan(estate, made.id).difference.added[taken]).toBeUndefined()
  })

  it('items with one id are two', () => {
    const reading = read(original, { ...file, items: [file.items[1], file.items[1], { ...file.items[2], afterIds: [B] }] })
    const { items } = added(original, reading)
    expect([items.length, items[2]?.afterIds]).toEqual([3, [items[0]?.id]])
  })

  it('a derived id that follows from itself has an end', () => {
    const [id, other] = [itemId(50), itemId(51)]
    const circle = { [id]: { for: other, of: 'x' }, [other]: { for: id, of: 'x' } }
    const reading = read(original, { ...withItem({ commands: [{ type: 'disk.remove', id }] }), derived: circle })
    expect(reading.items.at(-1)?.why).toMatch(/not found here/)
  })
})

it('a file that an Insel of an earlier schema wrote is read, and the newest as it is written today', async () => {
  await expect(`${JSON.stringify(fileOf(original))}\n`).toMatchFileSnapshot(`kept/plan-${SCHEMA}.json`)
  const kept = readdirSync(new URL('kept/', import.meta.url)).filter((name) => name.startsWith('plan-'))
  for (const name of kept) {
    const file = JSON.parse(readFileSync(new URL(`kept/${name}`, import.meta.url), 'utf8')) as PlanFile
    expect(read(elsewhere(smallEstate()), file).items.map(({ why }) => why)).toEqual([null, null, null, null])
  }
})
