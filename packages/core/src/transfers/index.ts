export { learnedRate, PRIOR_COUNT, rateOf, type LearnedRate } from './learned-rate.js'
export { liveCopy, type LiveCopy, type LiveWant } from './pre-copy.js'
export { transferProgress, type TransferProgress, type TransferSample } from './progress.js'
export { ESTIMATED_MAX, progressView, thinned, type EstimatePoint, type ProgressView } from './progress-chart.js'
export { readProgress, readProgressText, type ProgressLine, type ProgressReading } from './read-progress.js'
export { fairShares, type Flow } from './sharing.js'
export { methodFacts, type MethodFacts, type MoveMethod } from './methods.js'
export {
  calibration,
  copiedFor,
  GIGABIT_LINK_BYTES_PER_SECOND,
  leastTarget,
  moveTime,
  ownRates,
  sayRate,
  type Calibration,
  type MoveTime,
  type MoveWant,
  type RateLimit,
} from './transfer-time.js'
