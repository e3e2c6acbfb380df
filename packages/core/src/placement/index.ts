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
export {
  countFailover,
  FailoverCounter,
  failoverOutcomes,
  guestsWithoutCopy,
  sayFailover,
  type FailoverCount,
  type FailoverOutcome,
} from './failover.js'
export { ROOM_MAX, roomOn, type GuestSize, type HostRoom } from './room.js'
