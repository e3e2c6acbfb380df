export { generateMac, isLocallyAdministered } from './mac.js'
export { freeRuns, inPool, nextFree, poolHolding, preferredSubnet, prefixOf, takenRuns, type Run } from './next-free.js'
export { carriesVlan } from './vlans.js'
export {
  contains,
  familyOf,
  holds,
  ipFromNumber,
  ipToNumber,
  isPrivate,
  isWithin,
  overlaps,
  parsePrefix,
  prefixAround,
  siblingOf,
  usableCount,
  usableRange,
  type Family,
  type Prefix,
} from './prefix.js'
export {
  freeBlocks,
  lengthFor,
  nextPlace,
  placeAround,
  planBlock,
  type BlockPlan,
  type PlannedSegment,
  type SegmentWant,
} from './plan-block.js'
