import { formatDuration, migrationNames, transferStanding, type Estate, type Migration, formatInstant } from '@insel/core'
import type { TransferResponse } from '@insel/contract'
import { Link } from 'react-router'
import { usePaths } from '../../lib/paths'

/** What is moved to where, in words. */
export function moveTitle(estate: Estate, move: Migration): string {
  const { guest, to, becomes } = migrationNames(estate, move)
  const target = becomes ?? to
  return target === guest ? `${guest} to ${to}` : `${guest} to ${target}`
}

/** From where to where. */
export function FromTo({ estate, move }: { estate: Estate; move: Migration }) {
  const { from, to, becomes } = migrationNames(estate, move)
  const host = estate.find('host', move.toHostId)
  return (
    <>
      {from ?? 'physical machine'} → {becomes ? `${becomes}${host ? ` on ${host.name}` : ', physical'}` : to}
    </>
  )
}

/** A link to what is moved, or its name where it is removed. */
export function Machine({ estate, move }: { estate: Estate; move: Migration }) {
  const { to } = usePaths()
  const { guest } = migrationNames(estate, move)
  return move.guestId ? (
    <Link className="link" to={to(`guests/${move.guestId}`)}>
      {guest}
    </Link>
  ) : (
    <>
      {guest} <span className="text-faint font-normal">removed</span>
    </>
  )
}

/**
 * How far a transfer is, and when it ends, in a line: a share, a range, and whether it can be relied upon; of an old reading how old it is,
 * and never an end that is over.
 *
 * @param at the moment it is said, milliseconds since 1970
 */
export function sayTransfer({ progress, totalBytes, points, count }: TransferResponse, zone: string, at: number): string {
  const last = points.at(-1)
  if (!last || count === 0) return 'no readings yet'
  const share = Math.min(1, last.bytes / totalBytes)
  const percent = `${Math.floor(share * 100 + 1e-9)} %`
  if (share >= 1) return `${percent}, copied`
  const { ageSeconds, isOld, isOverdue, left } = transferStanding(progress, last, at)
  const age = `the last reading is ${formatDuration(ageSeconds)} old`
  if (!left)
    return points.length < 2
      ? `${percent}, one reading yet, ${formatDuration(ageSeconds)} old; another says how fast it goes`
      : `${percent}, nothing moved yet${isOld ? `; ${age}` : ''}`
  if (isOverdue) return `${percent} when last read; ${age}. It was to be over by now, and no reading says that it is`
  const then = (seconds: number) => formatInstant(new Date(at + seconds * 1000).toISOString(), zone)
  const ends = `${then(left.low)} to ${then(left.high)}`
  return isOld
    ? `${percent} when last read; ${age}, and how it goes since is not known. It ends ${ends} if it went on as it did`
    : `${percent}, ends ${ends}${progress.isSettled ? '' : ' (unsettled)'}`
}

/** Seconds in words, or that they are not known. */
export const sayRange = (low: number, high: number): string =>
  high < 1
    ? `${high.toFixed(1)} s`
    : formatDuration(low) === formatDuration(high)
      ? formatDuration(low)
      : `${formatDuration(low)} to ${formatDuration(high)}`
