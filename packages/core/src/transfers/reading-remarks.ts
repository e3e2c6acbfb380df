import { counted, formatDuration } from '../units/index.js'

/** A reading is told from one of before by so many usual intervals. Common practice, no source. */
const INTERVALS = 3
/** Clocks of two machines differ, and who presses “copying” does so a moment late. Common practice, no source. */
const GRACE_MS = 120_000

/**
 * What is odd about the times of readings that come in: they are from before the copying began, or older than the newest that is known by
 * more than the time between readings explains. They are of another run, or their clock is wrong.
 *
 * @param times milliseconds since 1970
 * @param known the latest readings there are: the first and the last of so many
 * @returns a sentence each
 */
export function readingRemarks(
  times: readonly number[],
  {
    begunAt,
    known,
  }: {
    readonly begunAt: string | null
    readonly known: { readonly first: number; readonly last: number; readonly count: number } | undefined
  },
): readonly string[] {
  const begun = begunAt === null ? undefined : Date.parse(begunAt)
  const early = begun === undefined ? 0 : times.filter((at) => at < begun - GRACE_MS).length
  const newest = times.reduce((latest, at) => Math.max(latest, at), -Infinity)
  const interval = known && known.count > 1 ? (known.last - known.first) / (known.count - 1) : 0
  const behind = known ? known.last - newest : 0
  return [
    ...(early > 0
      ? [
          `${counted(early, 'reading')} ${early === 1 ? 'is' : 'are'} from before the copying began; if ${early === 1 ? 'it is' : 'they are'} of another run, forget the readings and send those of this one.`,
        ]
      : []),
    ...(behind > Math.max(GRACE_MS, INTERVALS * interval)
      ? [
          `The newest of these is ${formatDuration(behind / 1000)} older than the newest known: look whether its clock and the run are the right ones.`,
        ]
      : []),
  ]
}
