export { learnedShare, PRIOR_COUNT, shareOf, type LearnedShare } from './learned-share.js'
export {
  copiedFor,
  GIGABIT_LINK_BYTES_PER_SECOND,
  movePort,
  ownCopies,
  ownShares,
  type OwnCopy,
  type Path,
  type RateLimit,
} from './limits.js'
export { liveCopy, type LiveCopy, type LiveWant } from './pre-copy.js'
export { transferProgress, type TransferProgress, type TransferSample } from './progress.js'
export { ESTIMATED_MAX, progressView, thinned, type EstimatePoint, type ProgressView } from './progress-chart.js'
export { readProgress, readProgressText, sayDoubt, type NumberDoubt, type ProgressLine, type ProgressReading } from './read-progress.js'
export { transferStanding, type TransferStanding } from './standing.js'
export { readingRemarks } from './reading-remarks.js'
export { fairShares, type Flow } from './sharing.js'
export { calibration, leastTarget, moveTime, sayRate, type Calibration, type MoveTime, type MoveWant } from './transfer-time.js'
