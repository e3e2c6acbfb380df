export { commandsOf, itemKindOf, whyNotInItem } from './body.js'
export { cannotBeUndone, cautionsOf } from './cautions.js'
export { departures, expectedOf, type Departure } from './expected.js'
export {
  aheadOf,
  differenceAfter,
  estateAfter,
  isAhead,
  isOpenPlan,
  isStale,
  itemsOf,
  projectPlan,
  type PlanProjection,
  type ProjectedItem,
} from './projection.js'
export { beginFollowed, endFollowed, failFollowed, sayDeparture } from './replan.js'
export { backOf, doneItems, requireDone, revertItem } from './revert.js'
export { leastRedundant, planFigures, type HostFigures, type PlanFigures, type StoreFigures } from './figures.js'
export { crowdedBy, writerOn, writtenBody, type ItemWriter } from './planned-keys.js'
export { itemChanged, planVerbs } from './verbs.js'
