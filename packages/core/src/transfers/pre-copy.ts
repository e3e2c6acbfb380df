/** A live move: memory is sent while the guest runs, then what it wrote meanwhile, and so on. */
export interface LiveWant {
  readonly memoryBytes: number
  /** What the link gives it, bytes a second. */
  readonly bytesPerSecond: number
  /** What the guest writes to pages that were sent, bytes a second. */
  readonly dirtyPerSecond: number
  /** The longest pause that is allowed at the end, seconds. */
  readonly pauseSeconds: number
}

/** How a live move goes, or why it never ends. */
export type LiveCopy =
  | {
      readonly converges: true
      /** Rounds before the last part, which is sent while the guest stands still. */
      readonly rounds: number
      readonly bytes: number
      readonly seconds: number
      readonly pauseSeconds: number
    }
  | { readonly converges: false; readonly sentence: string }

/**
 * The rounds of a live move. With memory M, rate B and dirty rate D below B, after n rounds there were sent M (1 - (D/B)^(n+1)) / (1 - D/B)
 * bytes in all, and the last part stood for M (D/B)^n / B seconds. From memory: the usual model of pre-copy, a geometric series.
 *
 * @example liveCopy({ memoryBytes: 8e9, bytesPerSecond: 1e9, dirtyPerSecond: 1e8, pauseSeconds: 0.1 }) // { converges: true, rounds: 2, … }
 */
export function liveCopy({ memoryBytes, bytesPerSecond, dirtyPerSecond, pauseSeconds }: LiveWant): LiveCopy {
  const ratio = dirtyPerSecond / bytesPerSecond
  const wholePause = memoryBytes / bytesPerSecond
  if (wholePause <= pauseSeconds) return { converges: true, rounds: 0, bytes: memoryBytes, seconds: wholePause, pauseSeconds: wholePause }
  if (ratio >= 1)
    return {
      converges: false,
      sentence:
        'It never ends: the guest writes memory as fast as the link carries it, or faster. Move it when it has less to do, over a faster link, or switched off.',
    }
  const rounds = ratio === 0 ? 1 : Math.max(1, Math.ceil(Math.log(pauseSeconds / wholePause) / Math.log(ratio)))
  const bytes = (memoryBytes * (1 - ratio ** (rounds + 1))) / (1 - ratio)
  return { converges: true, rounds, bytes, seconds: bytes / bytesPerSecond, pauseSeconds: (memoryBytes * ratio ** rounds) / bytesPerSecond }
}
