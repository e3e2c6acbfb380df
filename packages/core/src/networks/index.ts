export { generateMac, isLocallyAdministered } from './mac.js'
export {
  fixedInPool,
  freeRuns,
  inPool,
  nextFree,
  poolHolding,
  preferredSubnet,
  preferredSubnetFor,
  prefixOf,
  subnetHolding,
} from './next-free.js'
export { endOf, isOfMachine } from './subnet-ends.js'
export { carriesVlan } from './vlans.js'
export {
  compareIps,
  contains,
  familyOf,
  halvesOf,
  holds,
  ipFromNumber,
  ipToNumber,
  isLinkLocal,
  isNearGateway,
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
