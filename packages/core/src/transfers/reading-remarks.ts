import { counted, formatBytes, formatDuration } from '../units/index.js'
import type { TransferSample } from './progress.js'

/** A reading is told from one of before by so many usual intervals. Common practice, no source. */
const INTERVALS = 3
/** Clocks of two machines differ, and who presses “copying” does so a moment late. Common practice, no source. */
const GRACE_MS = 120_000
/** What is copied does not become less; a tool that counts again what changed meanwhile says a little less. Common practice, no source. */
const FALLS_BELOW = 0.9
/** What changed meanwhile is copied again, and counted with the rest. Common practice, no source. */
const BEYOND_WHOLE = 1.1

/**
 * What is odd about readings that come in: they are from before the copying began, or older than the newest that is known by more than the
 * time between readings explains, or they say that less is copied than was before, or more than there is. They are of another run, or their
 * clock is wrong, or their unit.
 *
 * @param samples `at` in milliseconds since 1970
 * @param known the latest readings there are: when the first and the last of so many were, and how much the last had moved
 * @param totalBytes how much is to be copied
 * @returns a sentence each
 */
export function readingRemarks(
  samples: readonly TransferSample[],
  {
    begunAt,
    known,
    totalBytes,
  }: {
    readonly begunAt: string | null
    readonly known: { readonly first: number; readonly last: number; readonly count: number; readonly bytes: number } | undefined
    readonly totalBytes: number
  },
): readonly string[] {
  const begun = begunAt === null ? undefined : Date.parse(begunAt)
  const early = begun === undefined ? 0 : samples.filter(({ at }) => at < begun - GRACE_MS).length
  const newest = samples.reduce((latest, { at }) => Math.max(latest, at), -Infinity)
  const interval = known && known.count > 1 ? (known.last - known.first) / (known.count - 1) : 0
  const behind = known ? known.last - newest : 0
  const most = samples.reduce((largest, { bytes }) => Math.max(largest, bytes), 0)
  const fall = firstFall([
    ...(known ? [{ at: known.last, bytes: known.bytes }] : []),
    ...samples.filter(({ at }) => !known || at > known.last).toSorted((one, other) => one.at - other.at),
  ])
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
    ...(fall
      ? [
          `A reading of ${formatBytes(fall.to)} follows one of ${formatBytes(fall.from)}: if the copy was begun again, forget the readings of the run before; if it was read wrong, forget them and send the right ones.`,
        ]
      : []),
    ...(most > totalBytes * BEYOND_WHOLE
      ? [
          `A reading of ${formatBytes(most)} is more than the ${formatBytes(totalBytes)} that are to be copied: look whether its unit and the run are the right ones.`,
        ]
      : []),
  ]
}

/** The first reading that says clearly less than the one before it. */
function firstFall(samples: readonly TransferSample[]): { readonly from: number; readonly to: number } | undefined {
  const index = samples.findIndex(({ bytes }, place) => bytes < (samples[place - 1]?.bytes ?? 0) * FALLS_BELOW)
  const [from, to] = [samples[index - 1], samples[index]]
  return from && to ? { from: from.bytes, to: to.bytes } : undefined
}
