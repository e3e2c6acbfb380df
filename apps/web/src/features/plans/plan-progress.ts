import { isAhead, isStale, itemsOf, minutesOf, projectPlan, type Estate, type Item, type Plan, type PlanProjection } from '@insel/core'

/** How far a plan is: its items, how many are over, what comes next, how many are stale, and how long the rest should take. */
export interface PlanProgress {
  readonly items: number
  readonly over: number
  readonly next: Item | undefined
  readonly stale: number
  readonly minutesLeft: number
  /** Those still to be done, as they would go. */
  readonly places: PlanProjection['items']
}

export function progressOf(estate: Estate, plan: Plan): PlanProgress {
  const items = itemsOf(estate, plan.id)
  const ahead = items.filter(isAhead)
  const places = projectPlan(estate, plan.id).items
  return {
    items: items.length,
    over: items.filter(({ state }) => state === 'done' || state === 'skipped' || state === 'reverted').length,
    next: ahead[0],
    stale: places.filter(isStale).length,
    minutesLeft: ahead.reduce((sum, item) => sum + minutesOf(estate, item).value, 0),
    places,
  }
}
