export { demandOf, fitOn, rankHosts, type Demand, type Fit, type FitLine, type Verdict } from './fit.js'
export { FailoverCounter, failoverOutcomes, guestsWithoutCopy, type FailoverOutcome } from './failover.js'
export { ROOM_MAX, roomOn, type GuestSize, type HostRoom } from './room.js'
