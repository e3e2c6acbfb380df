export { generateMac, isLocallyAdministered } from './mac.js'
export { freeRuns, inPool, nextFree, poolHolding, preferredSubnet, prefixOf, takenRuns, type Run } from './next-free.js'
export { carriesVlan } from './vlans.js'
export {
  contains,
  familyOf,
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
export * from './reach/index.js'
export * from './names/index.js'
export {
  addressBlocks,
  addressCell,
  addressCells,
  cellStates,
  isDrawnByAddress,
  isPartOf,
  type AddressBlock,
  type AddressCell,
  type CellState,
} from './address-map.js'
export { macRows, type MacRow } from './macs.js'
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
export { readSeen, type SeenReading } from './read-seen.js'
