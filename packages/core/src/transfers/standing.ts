import type { TransferProgress, TransferSample } from './progress.js'

/** How a transfer stands at a moment, which may be long after its last reading. */
export interface TransferStanding {
  /** Seconds since the last reading. */
  readonly ageSeconds: number
  /** Whether that is longer than readings usually are apart, so that nobody knows any more how it goes. */
  readonly isOld: boolean
  /** Seconds that are left from now on: never less than none. */
  readonly left: { readonly low: number; readonly middle: number; readonly high: number } | undefined
  /** Whether it should have ended by now, nine times in ten, and no reading says that it did. */
  readonly isOverdue: boolean
}

/** A reading is old past so many of the usual intervals. */
const INTERVALS_OLD = 2
/** And never before, seconds: the page itself looks every quarter of a minute. */
const OLD_LEAST = 30

/**
 * What is known of a transfer now: its estimate is as of its last reading, and that may be old.
 *
 * @param last the last reading
 * @param now milliseconds since 1970
 * @example transferStanding(progress, { at: now - 3_600_000, bytes: 5e9 }, now).isOld // true, where readings come every minute
 */
export function transferStanding(
  { left, usualSeconds }: Pick<TransferProgress, 'left' | 'usualSeconds'>,
  last: TransferSample,
  now: number,
): TransferStanding {
  const ageSeconds = Math.max(0, (now - last.at) / 1000)
  const rest = (seconds: number) => Math.max(0, seconds - ageSeconds)
  return {
    ageSeconds,
    isOld: usualSeconds !== undefined && ageSeconds > Math.max(OLD_LEAST, INTERVALS_OLD * usualSeconds),
    left: left && { low: rest(left.low), middle: rest(left.middle), high: rest(left.high) },
    isOverdue: left !== undefined && ageSeconds > left.high,
  }
}
