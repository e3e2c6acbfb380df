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
export { readSeen, type SeenReading } from './read-seen.js'
