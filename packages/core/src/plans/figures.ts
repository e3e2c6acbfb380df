import { memoryBudget, storeBudget, vcpuBudget } from '../capacity/index.js'
import { emptyDifference, touchedRecords, type Difference, type Estate, type Guest, type Item, type Kind } from '../estate/index.js'
import type { Task } from '../tasks/index.js'
import { FailoverCounter, type FailoverCount } from '../placement/index.js'
import { projectPlan } from './projection.js'

/** What is left on a host. */
export interface HostFigures {
  readonly memoryLeftMiB: number
  readonly coresLeft: number
}

/** What is used on a store and promised of it, bytes. */
export interface StoreFigures {
  readonly usedBytes: number
  readonly promisedBytes: number
}

/** An estate in numbers at one moment of a plan. */
export interface PlanFigures {
  /** The item after which it is so; null before the first. */
  readonly item: Item | null
  readonly hosts: ReadonlyMap<string, HostFigures>
  readonly stores: ReadonlyMap<string, StoreFigures>
  readonly failover: FailoverCount
}

/** Kinds that everything is counted by. */
const COUNTED_BY: ReadonlySet<Kind> = new Set<Kind>(['policy', 'platform', 'image', 'system'])

/** Hosts and stores whose figures a difference may change; undefined where it may be all of them. */
function concerned(before: Estate, after: Estate, difference: Difference): { hosts: Set<string>; stores: Set<string> } | undefined {
  const hosts = new Set<string>()
  const stores = new Set<string>()
  const guestsOf = new Set<string>()
  for (const { kind, record } of touchedRecords(difference)) {
    if (COUNTED_BY.has(kind)) return undefined
    const { id, hostId, storeId, guestId } = record as {
      id: string
      hostId?: string | null
      storeId?: string | null
      guestId?: string | null
    }
    if (kind === 'host') hosts.add(id)
    if (kind === 'store') stores.add(id)
    if (kind === 'guest') guestsOf.add(id)
    if (hostId) hosts.add(hostId)
    if (storeId) stores.add(storeId)
    if (guestId) guestsOf.add(guestId)
  }
  for (const estate of [before, after])
    for (const id of guestsOf) {
      const guest: Guest | undefined = estate.find('guest', id)
      if (guest?.hostId) hosts.add(guest.hostId)
      for (const { storeId } of estate.referring('disk', 'guestId', id)) if (storeId) stores.add(storeId)
    }
  return { hosts, stores }
}

function figuresOf(
  estate: Estate,
  item: Item | null,
  failover: FailoverCount,
  known?: PlanFigures,
  only?: { hosts: Set<string>; stores: Set<string> },
): PlanFigures {
  return {
    item,
    hosts: new Map(
      estate.all('host').map((host) => {
        const old = only && !only.hosts.has(host.id) ? known?.hosts.get(host.id) : undefined
        return [host.id, old ?? { memoryLeftMiB: memoryBudget(estate, host).left.value, coresLeft: vcpuBudget(estate, host).left.value }]
      }),
    ),
    stores: new Map(
      estate.all('store').map((store) => {
        const old = only && !only.stores.has(store.id) ? known?.stores.get(store.id) : undefined
        if (old) return [store.id, old]
        const { used, promised } = storeBudget(estate, store)
        return [store.id, { usedBytes: used.value, promisedBytes: promised.value }]
      }),
    ),
    failover,
  }
}

/**
 * The figures of every host and store before a plan, and after each of its items that is still to be done; one that cannot be applied
 * changes none. Its progress is how many items are worked out.
 *
 * @example carryOut(planFigures, estate, plan.id)[0].failover
 */
export const planFigures: Task<string, number, readonly PlanFigures[]> = {
  *run(estate, planId) {
    let current = estate
    const counter = new FailoverCounter(estate)
    let figures = figuresOf(estate, null, counter.count())
    const all = [figures]
    yield 0
    for (const { item, outcome } of projectPlan(estate, planId).items) {
      const difference = outcome.ok ? outcome.difference : emptyDifference
      const after = current.with(difference)
      figures = figuresOf(after, item, counter.after(after, difference), figures, concerned(current, after, difference))
      current = after
      all.push(figures)
      yield all.length - 1
    }
    return all
  },
}

/** The moment of a plan at which the fewest hosts could fail without a loss, the first of them; undefined where it has no item. */
export function leastRedundant(all: readonly PlanFigures[]): PlanFigures | undefined {
  return all
    .slice(1)
    .reduce<PlanFigures | undefined>((least, one) => (least && least.failover.withBoth <= one.failover.withBoth ? least : one), undefined)
}
