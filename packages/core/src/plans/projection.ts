import { attempt, type CommandContext, type StepOutcome } from '../commands/index.js'
import {
  byOrder,
  derivedId,
  DifferenceSum,
  emptyDifference,
  kindNames,
  type Difference,
  type Estate,
  type EstateBuilder,
  type Item,
  type Plan,
  type StoredCommand,
} from '../estate/index.js'
import { commandsOf } from './body.js'
import { departures, expectedOf, type Departure } from './expected.js'

/** An item as the plan is now: what it would do, and whether that is what it was written for. */
export interface ProjectedItem {
  readonly item: Item
  /** What it would do after those before it, or why it cannot be applied. */
  readonly outcome: StepOutcome
  /** In what that departs from what it was written for; it is stale where it does. */
  readonly departures: readonly Departure[]
}

/** The items of a plan that are still to be done, laid over the record in their order. */
export interface PlanProjection {
  readonly items: readonly ProjectedItem[]
  /** What all of them do together. */
  readonly difference: Difference
}

/** Whether an item is still to be done, so that it has its part in what is ahead. */
export const isAhead = ({ state }: Pick<Item, 'state'>): boolean => state === 'open' || state === 'under way'

/** The items of a plan in their order. */
export const itemsOf = (estate: Estate, planId: string): readonly Item[] => [...estate.referring('item', 'planId', planId)].sort(byOrder)

/** The items of a plan that are still to be done, in their order. */
export const aheadOf = (estate: Estate, planId: string): readonly Item[] => itemsOf(estate, planId).filter(isAhead)

/** Those of them up to one; all where it is left out, or is not among them. */
function aheadUpTo(estate: Estate, planId: string, upTo: string | undefined): readonly Item[] {
  const all = aheadOf(estate, planId)
  const last = upTo === undefined ? -1 : all.findIndex(({ id }) => id === upTo)
  return last < 0 ? all : all.slice(0, last + 1)
}

/** Whether a plan is still worked on: its items may come to be done. */
export const isOpenPlan = ({ state }: Pick<Plan, 'state'>): boolean => state !== 'done' && state !== 'dropped'

/** Everything that commands in items read: an edit of a plan leaves what was worked out as it is. */
const READ = kindNames.filter((kind) => kind !== 'plan' && kind !== 'item' && kind !== 'acceptance')

/** What one item does after those before it, and what is known of those after it. */
interface Place {
  readonly outcome: StepOutcome
  readonly next: WeakMap<readonly StoredCommand[], Place>
}

const rootOf = (estate: Estate): { readonly estate: Estate; readonly next: Place['next'] } => ({ estate, next: new WeakMap() })

/** Times in what is ahead mean nothing: they are those at which it is done. */
const AHEAD = '1970-01-01T00:00:00.000Z'

/** Ids are in the commands; one that is missing all the same follows from the item, so that it is the same each time. */
export function contextOf(itemId: string): CommandContext {
  let made = 0
  return { now: AHEAD, revision: 1, newId: () => derivedId(itemId, `made ${++made}`) }
}

/**
 * Lays items over an estate, one after the other. One that cannot be applied does nothing, and the rest goes on. What the items before a
 * changed one do is not worked out again.
 *
 * @param items in their order
 */
export function outcomesOf(estate: Estate, items: readonly Item[]): readonly StepOutcome[] {
  const root = estate.derive(READ, rootOf)
  const outcomes: StepOutcome[] = []
  let { next } = root
  let builder: EstateBuilder | undefined
  for (const item of items) {
    let place = next.get(item.commands)
    if (!place) {
      builder ??= after(root.estate, outcomes)
      place = { outcome: attempt(builder, commandsOf(item), contextOf(item.id)), next: new WeakMap() }
      next.set(item.commands, place)
    } else if (builder && place.outcome.ok) builder.take(place.outcome.difference)
    outcomes.push(place.outcome)
    next = place.next
  }
  return outcomes
}

/** An estate with what items do, as far as they can be applied. */
export function after(estate: Estate, outcomes: readonly StepOutcome[]): EstateBuilder {
  const builder = estate.edit()
  builder.take(sumOf(outcomes))
  return builder
}

const sumOf = (outcomes: readonly StepOutcome[]): Difference => {
  const sum = new DifferenceSum()
  for (const outcome of outcomes) if (outcome.ok) sum.add(outcome.difference)
  return sum.difference()
}

/**
 * A plan as it would go from the record as it is now: what each item still to be done would do, or why it cannot, and where that is not
 * what it was written for.
 *
 * @param upTo the last item to look at; all of them where it is left out
 * @example projectPlan(estate, plan.id).items[3].outcome // { ok: false, refusal: … }
 */
export function projectPlan(estate: Estate, planId: string, upTo?: string): PlanProjection {
  const items = aheadUpTo(estate, planId, upTo)
  const outcomes = outcomesOf(estate, items)
  return {
    items: items.map((item, index) => {
      const outcome = outcomes[index] ?? NOTHING
      const expected = expectedOf(item)
      return { item, outcome, departures: outcome.ok && expected ? departures(expected, outcome.difference) : [] }
    }),
    difference: sumOf(outcomes),
  }
}
const NOTHING: StepOutcome = { ok: true, difference: emptyDifference }

/** What the items of a plan do together, up to one of them. Memoised by what the items do. */
export const differenceAfter = (estate: Estate, planId: string, upTo?: string): Difference =>
  sumOf(outcomesOf(estate, aheadUpTo(estate, planId, upTo)))

/** The estate as it would be after the items of a plan, up to one of them. */
export const estateAfter = (estate: Estate, planId: string, upTo?: string): Estate => estate.with(differenceAfter(estate, planId, upTo))

/** Whether an item would do something else than what it was written for, or nothing at all. */
export const isStale = ({ outcome, departures: found }: ProjectedItem): boolean => !outcome.ok || found.length > 0
