export {
  coreLoad,
  failoverReserve,
  guestCost,
  guestOverhead,
  guestShare,
  hostCapacity,
  leftBeside,
  leftToPromise,
  lessHeld,
  logicalCpus,
  promisable,
  standingBytes,
  storeSpace,
  takenBytes,
  vcpuPerCore,
  type HostCapacity,
  type Share,
  type StoreSpace,
} from './capacity.js'
export { memoryBudget, type MemoryBudget } from './memory-budget.js'
export { DAYS_PER_MONTH, fullOn, storeBudget, storeGrowth, type StoreBudget, type StoreGrowth } from './store-budget.js'
export { vcpuBudget, type VcpuBudget } from './vcpu-budget.js'
export {
  arrivingDisks,
  changesOf,
  filledDisks,
  heldOnHost,
  heldOnStore,
  isBeforeCutOver,
  isOpenMove,
  madeOf,
  openMoves,
  type HostHold,
  type MoveMade,
  type StoreHold,
} from './holds.js'
