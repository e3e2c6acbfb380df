export { addressVerbs } from './address-verbs.js'
export { subnetVerbs } from './subnet-verbs.js'
export {
  addressBlocks,
  addressCells,
  isDrawnByAddress,
  usedBlocks,
  type AddressBlock,
  type AddressCell,
  type CellState,
  type Ground,
} from './address-map.js'
export { differingCells, differingIps } from './differing-addresses.js'
export { macRows, type MacRow } from './macs.js'
export { readSeen, type SeenReading } from './read-seen.js'
export { longestGap, placeNames, rulerLines, type NamePlace, type RulerLine, type RulerSpan } from './ruler.js'
export { rewire, SWAP_BACK, wrongWires, type WrongWire } from './wrong-wires.js'
