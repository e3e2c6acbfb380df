export {
  demandOf,
  fitOn,
  rankHosts,
  storeRooms,
  takeRoom,
  type Demand,
  type Fit,
  type FitLine,
  type StoreRoom,
  type Verdict,
} from './fit.js'
export { failoverOutcomes, type FailoverOutcome } from './failover.js'
export { countFailover, FailoverCounter, sayFailover, type FailoverCount } from './failover-count.js'
export { guestsWithoutCopy } from './data-lost.js'
export { ROOM_MAX, roomOn, type GuestSize, type HostRoom } from './room.js'
