export { learnedRate, PRIOR_COUNT, rateOf, type LearnedRate } from './learned-rate.js'
export { liveCopy, type LiveCopy, type LiveWant } from './pre-copy.js'
export { transferProgress, type TransferProgress, type TransferSample } from './progress.js'
export { readProgress, readProgressText, type ProgressLine } from './read-progress.js'
export { fairShares, type Flow } from './sharing.js'
export {
  GIGABIT_LINK_BYTES_PER_SECOND,
  leastTarget,
  moveTime,
  ownRates,
  sayRate,
  type MoveMethod,
  type MoveTime,
  type RateLimit,
} from './transfer-time.js'
