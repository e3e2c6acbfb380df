import { gzipSync } from 'node:zlib'
import {
  apply,
  applyAll,
  batchMinutes,
  batchStores,
  compose,
  composeBatch,
  differenceAfter,
  emptyDifference,
  Estate,
  failoverOutcomes,
  Findings,
  groupsOf,
  GroupTable,
  invert,
  makeIds,
  memoryBudget,
  ReachTable,
  kinds,
  carryOut,
  planFigures,
  planFile,
  projectPlan,
  readFields,
  readPlanFile,
  seededRandom,
  usualWish,
  type AnyRecord,
  type Command,
  type Plan,
  type RecordEntry,
} from '@insel/core'
import { generateRecords, TODAY } from '@insel/core/testing'

/** One measured figure against its budget, milliseconds unless the name says otherwise. */
export interface Measured {
  readonly what: string
  readonly value: number
  readonly budget: number
  readonly unit: 'ms' | 'MB' | 'x'
}

const size = { hosts: 200, guests: 5000, adapters: 10_000 }

function median(values: number[]): number {
  return values.sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN
}
function time(runs: number, work: (run: number) => void): number {
  work(0)
  return median(
    Array.from({ length: runs }, (_, run) => {
      const start = performance.now()
      work(run + 1)
      return performance.now() - start
    }),
  )
}

/** Measures the core on a generated estate of 200 hosts, 5,000 guests and 10,000 adapters. */
export function measureCore(): Measured[] {
  const records = generateRecords(size)
  const estate = Estate.fromRecords(records)
  const findings = Findings.of(estate, TODAY)
  let tick = Date.UTC(2027, 5, 1)
  const context = { newId: makeIds(() => tick++, seededRandom(2)), now: '2027-06-01T00:00:00Z', revision: 2 }
  const guests = records.guest
  const command = (run: number): Command => ({
    type: 'guest.resize',
    guestId: guests[(run * 37) % guests.length]?.id ?? '',
    memoryMiB: 2048 + 64 * (run % 60),
  })
  const clone = (run: number): Command => ({
    type: 'guest.clone',
    guestId: guests[(run * 37) % guests.length]?.id ?? '',
    name: `copy-${run}`,
  })
  return [
    { what: 'build the estate from records', value: time(9, () => Estate.fromRecords(records)), budget: 100, unit: 'ms' },
    {
      what: 'full findings pass',
      value: time(9, () => Findings.of(Estate.fromRecords(records), TODAY)) - time(9, () => Estate.fromRecords(records)),
      budget: 300,
      unit: 'ms',
    },
    { what: 'apply one command (resize)', value: time(200, (run) => apply(estate, command(run), context)), budget: 2, unit: 'ms' },
    { what: 'apply one command (clone)', value: time(200, (run) => apply(estate, clone(run), context)), budget: 2, unit: 'ms' },
    {
      what: 'apply 2,000 commands (clones) as one list',
      value: time(3, (run) =>
        applyAll(
          estate,
          Array.from({ length: 2000 }, (_, at) => ({ ...clone(at), name: `copy-${run}-${at}` }) as Command),
          context,
        ),
      ),
      budget: 600,
      unit: 'ms',
    },
    {
      what: 'findings after one command (resize)',
      value: median(
        Array.from({ length: 60 }, (_, run) => {
          const { estate: after, difference } = apply(estate, command(run), context)
          const start = performance.now()
          findings.after(after, difference).list()
          return performance.now() - start
        }),
      ),
      budget: 20,
      unit: 'ms',
    },
    {
      what: 'who reaches whom, all pairs of machines',
      value: time(5, () => ReachTable.of(Estate.fromRecords(records))) - time(5, () => Estate.fromRecords(records)),
      budget: 1000,
      unit: 'ms',
    },
    {
      what: 'who reaches whom, 41 groups against each other',
      value: time(3, () => {
        const fresh = Estate.fromRecords(records)
        const table = new GroupTable(fresh)
        const groups = groupsOf(fresh).filter(({ kind }) => kind === 'network' || kind === 'outside')
        for (const from of groups) for (const to of groups) table.reach(from, to)
      }),
      budget: 2500,
      unit: 'ms',
    },
    {
      what: 'records response, gzip',
      value: gzipSync(JSON.stringify({ revision: 1, records }), { level: 6 }).length / 1e6,
      budget: 1.5,
      unit: 'MB',
    },
  ]
}

const PLAN = '01900000-0000-7000-8000-000000000001'
const itemId = (index: number) => `01900000-0000-7000-8001-${index.toString(16).padStart(12, '0')}`
const ITEMS = 500

/** A plan of 500 items on the large estate: a resize, a clone, or a move each. */
export function measurePlans(): Measured[] {
  const records = generateRecords(size)
  const context = { newId: makeIds(() => Date.UTC(2027, 5, 1), seededRandom(3)), now: '2027-06-01T00:00:00Z', revision: 2 }
  const commandsOf = (index: number): readonly Command[] => {
    const guestId = records.guest[(index * 7) % records.guest.length]?.id ?? ''
    if (index % 3 === 0) return [{ type: 'guest.clone', id: itemId(index + 10_000), guestId, name: `planned-${index}` }]
    return [
      { type: 'guest.resize', guestId, memoryMiB: 4096 + 64 * (index % 40) },
      { type: 'guest.update', id: guestId, changes: { note: `planned ${index}` } },
    ]
  }
  const item = (index: number, commands = commandsOf(index)): [string, RecordEntry] => {
    const values = readFields(kinds.item.fields, {
      planId: PLAN,
      order: `a${index.toString(16).padStart(4, '0')}1`,
      title: `item ${index}`,
      commands,
    })
    return [itemId(index), { kind: 'item', record: { id: itemId(index), ...values } }]
  }
  const added = Object.fromEntries([
    [PLAN, { kind: 'plan', record: { id: PLAN, ...readFields(kinds.plan.fields, { name: 'Large' }) } }] as [string, RecordEntry],
    ...Array.from({ length: ITEMS }, (_, index) => item(index)),
  ])
  const fresh = () => Estate.fromRecords(records).with({ added, updated: {}, removed: {} })
  const first = Array.from({ length: 4 }, fresh)
  const estate = fresh()
  projectPlan(estate, PLAN)
  const last = estate.find('item', itemId(ITEMS - 1))
  const write = (id: string): Command => ({
    type: 'item.write',
    id,
    planId: PLAN,
    title: 'one more',
    commands: [{ type: 'guest.resize', guestId: records.guest[1]?.id ?? '', memoryMiB: 8192 }],
  })
  const written = apply(estate, write(itemId(5000)), context).estate
  const findings = Findings.of(estate, '2027-06-01').settled()
  const shown = Array.from({ length: 8 }, (_, index) => {
    const difference = differenceAfter(estate, PLAN, itemId(200 + index))
    return { difference, findings: findings.after(estate.with(difference), difference) }
  })
  const shownAfter = (index: number) => shown[index - 200] ?? { difference: emptyDifference, findings }
  return [
    {
      what: 'plan of 500 items projected, large estate',
      value: time(3, (run) => projectPlan(first[run] ?? estate, PLAN)),
      budget: 1000,
      unit: 'ms',
    },
    {
      what: 'the same after a change of its last item',
      value: time(9, (run) => {
        const to = { ...last, commands: commandsOf(ITEMS + 2 + run) } as AnyRecord
        const update = { kind: 'item' as const, from: last as AnyRecord, to }
        projectPlan(estate.with({ added: {}, updated: { [itemId(ITEMS - 1)]: update }, removed: {} }), PLAN)
      }),
      budget: 50,
      unit: 'ms',
    },
    {
      what: 'figures, findings and N+1 after an item of it, coming from the one before',
      value: time(5, (run) => {
        const [before, now] = [shownAfter(200 + run), differenceAfter(estate, PLAN, itemId(201 + run))]
        const after = estate.with(now)
        before.findings.after(after, compose(invert(before.difference), now)).list()
        for (const host of after.all('host')) memoryBudget(after, host)
        failoverOutcomes(after, 0)
      }),
      budget: 100,
      unit: 'ms',
    },
    {
      what: 'figures after each of its items',
      value: time(1, () => carryOut(planFigures, estate, PLAN)),
      budget: 10_000,
      unit: 'ms',
    },
    {
      what: 'the plan as a file, and that read',
      value: time(1, () => readPlanFile(estate, JSON.stringify(planFile(estate, estate.find('plan', PLAN) as Plan, context.now)), context)),
      budget: 5000,
      unit: 'ms',
    },
    {
      what: 'an item written at its end',
      value: time(5, (run) => apply(estate, write(itemId(6000 + run)), context)),
      budget: 200,
      unit: 'ms',
    },
    {
      what: 'its first item carried out',
      value: time(5, () => apply(written, { type: 'item.carryOut', itemId: itemId(0) }, context)),
      budget: 50,
      unit: 'ms',
    },
  ]
}

/** How the core's work grows with an estate: milliseconds. */
export interface Growth {
  readonly guests: number
  /** JSON.parse of the same records: what a machine needs to look at each once. */
  readonly parse: number
  readonly build: number
  /** The full findings pass without the failover packing. */
  readonly findings: number
  readonly packing: number
  /** Findings after one resize, the packing included. */
  readonly afterOne: number
}

/** Measures the core on estates of growing size, with 25 guests on a host. */
export function measureGrowth(sizes: readonly number[] = [500, 2000, 5000, 20_000, 50_000]): Growth[] {
  return sizes.map((guests) => {
    const records = generateRecords({ hosts: guests / 25, guests, adapters: guests * 2 })
    const text = JSON.stringify(records)
    const runs = guests > 10_000 ? 3 : 7
    const estate = Estate.fromRecords(records)
    const build = time(runs, () => Estate.fromRecords(records))
    const findings = Findings.of(estate, TODAY)
    findings.list()
    const packing = time(runs, () => failoverOutcomes(Estate.fromRecords(records), 4)) - build
    const full = time(runs, () => Findings.of(Estate.fromRecords(records), TODAY)) - build
    const context = { newId: makeIds(() => 0, seededRandom(2)), now: '2027-06-01T00:00:00Z', revision: 2 }
    const afterOne = time(runs * 3, (run) => {
      const guestId = records.guest[(run * 37) % guests]?.id ?? ''
      const { estate: after, difference } = apply(estate, { type: 'guest.resize', guestId, memoryMiB: 2048 + 64 * run }, context)
      findings.after(after, difference).list()
    })
    return { guests, parse: time(runs, () => void JSON.parse(text)), build, findings: full - packing, packing, afterOne }
  })
}

/** A batch of 200 copies on the large estate: composed with what it costs, and composed again for a key in one of its rows. */
export function measureBatch(): Measured[] {
  const estate = Estate.fromRecords(generateRecords(size))
  const [template] = estate.all('guest')
  if (!template) throw new Error('the generated estate has no guest')
  const ids = Array.from({ length: 200 }, (_, row) => `018c0000-0000-7000-8000-${row.toString(16).padStart(12, '0')}`)
  const wish = { ...usualWish(estate, template, true), names: 'copy-{001..200}', addressing: 'next free, fixed' as const }
  const compose = (name: string) => composeBatch(estate, wish, (row) => ids[row] ?? '', new Map([[100, { name }]]))
  return [
    {
      what: '200 copies composed, with what they cost',
      value: time(9, (run) => {
        const { rows, stores } = compose(`first-${run}`)
        batchStores(estate, template, rows, stores)
        batchMinutes(estate, template, rows, 'isolated first boot')
      }),
      budget: 1000,
      unit: 'ms',
    },
    { what: 'a key in a row of 200 copies, composed', value: time(9, (run) => void compose(`key-${run}`)), budget: 100, unit: 'ms' },
  ]
}
