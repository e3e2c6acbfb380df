import { arrivingDisks, openMoves } from '../capacity/index.js'
import { disksOf, type Disk, type Estate, type Guest, type Host } from '../estate/index.js'
import { CHANGED_PER_DAY, copiedOf, DIRTY_PER_SECOND, methodFacts, PAUSE_SECONDS, type MoveMethod } from '../methods/index.js'
import { counted, formatBytes, sumFigure, type Figure } from '../units/index.js'
import { learnedShare, shareOf, type LearnedShare } from './learned-share.js'
import {
  copiedFor,
  GIGABIT_LINK_BYTES_PER_SECOND,
  isThrough,
  limitsOf,
  linkRate,
  ownShares,
  storeStream,
  type RateLimit,
} from './limits.js'
import { liveCopy, type LiveCopy } from './pre-copy.js'
import { fairShares, type Flow } from './sharing.js'

/** How long moving a guest takes, with its working. */
export interface MoveTime {
  readonly bytes: Figure
  /** Everything it passes, the slowest first. */
  readonly limits: readonly RateLimit[]
  /** What share of the slowest of them own moves reach. */
  readonly share: LearnedShare
  /** Seconds of copying: as likely longer as shorter, and longer one time in ten. */
  readonly copySeconds: { readonly p50: number; readonly p90: number }
  /** Seconds for which it is not in service. */
  readonly downSeconds: { readonly p50: number; readonly p90: number }
  /** What changed while it was copied and is copied once more, bytes, where the source runs on. */
  readonly finalPassBytes: number
  /** Seconds of that final pass. */
  readonly finalPassSeconds: number
  /** Seconds of reading everything once more at the source and at the target, both at once, for comparing them. */
  readonly readBackSeconds: number
  /** The rounds of a live move, at the middle rate. */
  readonly live: LiveCopy | undefined
}

/** A move of which it is asked how long it takes. */
export interface MoveWant {
  readonly guest: Guest
  /** Undefined: a physical machine. */
  readonly to: Host | undefined
  readonly method: MoveMethod
  /** For each disk that changes its store, the new one. */
  readonly stores: Readonly<Record<string, string>>
  /** Whether another machine takes over, so that all disks are copied. */
  readonly isTakenOver?: boolean
  /** What a running guest writes to its memory, bytes a second. */
  readonly dirtyPerSecond?: number | undefined
  /** The move itself, where it runs already: it does not share with itself. */
  readonly migrationId?: string | undefined
}

/** Of the last own moves with an estimate, how many ended below its middle and below what nine in ten should. */
export interface Calibration {
  readonly count: number
  readonly belowMiddle: number
  readonly belowLate: number
}

/** @param last of how many, the latest */
export function calibration(estate: Estate, last = 20): Calibration {
  const ended = estate
    .all('migration')
    .flatMap((move) => {
      const seconds = isThrough(move) ? copiedFor(move) : undefined
      const { estimateSeconds: middle, estimateLateSeconds: late, cutOverAt, endedAt } = move
      return seconds && middle && late ? [{ seconds, middle, late, at: cutOverAt ?? endedAt ?? '' }] : []
    })
    .sort((a, b) => (a.at < b.at ? 1 : -1))
    .slice(0, last)
  return {
    count: ended.length,
    belowMiddle: ended.filter(({ seconds, middle }) => seconds <= middle).length,
    belowLate: ended.filter(({ seconds, late }) => seconds <= late).length,
  }
}

/**
 * How long it takes to move a machine: bytes by what the method copies, over the slowest of reading, link, writing and the method
 * itself, fairly shared with what is copied at the same time; of that the share that own moves by the method reach, at most all of it.
 *
 * @example moveTime(estate, { guest, to: fulmar, method: 'cold copy', stores }).copySeconds // { p50: 545, p90: 1003 }
 */
export function moveTime(estate: Estate, want: MoveWant): MoveTime {
  const { guest, method } = want
  const facts = methodFacts[method]
  const moving = movingDisks(estate, want)
  const limits = limitsNow(estate, want, moving)
  const slowest = limits[0]?.bytesPerSecond ?? GIGABIT_LINK_BYTES_PER_SECOND
  const share = learnedShare(ownShares(estate, method))
  /** The rate that it stays below with a probability, bytes a second: never more than the slowest limit. */
  const rateAt = (p: number) => slowest * shareOf(share, p)
  const memoryBytes = guest.memoryMiB * 2 ** 20
  const dirtyPerSecond = want.dirtyPerSecond ?? memoryBytes * DIRTY_PER_SECOND
  const live =
    facts.copies === 'memory'
      ? liveCopy({ memoryBytes, bytesPerSecond: rateAt(0.5), dirtyPerSecond, pauseSeconds: PAUSE_SECONDS })
      : undefined
  const bytes = bytesOf(estate, method, moving, live?.converges ? live.bytes : memoryBytes)
  const seconds = (p: number) => (bytes.value === 0 ? 0 : (facts.passes * bytes.value) / rateAt(1 - p))
  const copySeconds = { p50: seconds(0.5), p90: seconds(0.9) }
  const finish = facts.finish * 60
  const ends = moving.flatMap(({ id, storeId }) => [storeId, want.stores[id]])
  const readBackSeconds = bytes.value / Math.min(...ends.map((id) => storeStream(estate, id ?? undefined)))
  // The longer it takes, the more has changed meanwhile; never more than there is.
  const finalPass = (copied: number) =>
    facts.isRunning && facts.copies !== 'memory' ? bytes.value * Math.min(1, (CHANGED_PER_DAY * copied) / 86_400) : 0
  const down = (p: 'p50' | 'p90', quantile: number) =>
    live
      ? live.converges
        ? live.pauseSeconds
        : Infinity
      : facts.isRunning
        ? finish + finalPass(copySeconds[p]) / rateAt(1 - quantile)
        : finish + copySeconds[p] + (facts.hasChecksum ? readBackSeconds : 0)
  return {
    bytes,
    limits,
    share,
    copySeconds,
    downSeconds: { p50: down('p50', 0.5), p90: down('p90', 0.9) },
    finalPassBytes: Math.round(finalPass(copySeconds.p50)),
    finalPassSeconds: finalPass(copySeconds.p50) / rateAt(0.5),
    readBackSeconds,
    live,
  }
}

const movingDisks = (estate: Estate, { guest, stores, isTakenOver }: MoveWant): readonly Disk[] =>
  disksOf(estate, guest.id).filter((disk) => isTakenOver === true || (stores[disk.id] !== undefined && stores[disk.id] !== disk.storeId))

/** What the method copies, bytes. */
function bytesOf(estate: Estate, method: MoveMethod, moving: readonly Disk[], memoryBytes: number): Figure {
  const facts = methodFacts[method]
  const inputs = [
    ...(facts.copies === 'memory'
      ? [
          {
            label: 'memory',
            value: memoryBytes,
            unit: 'bytes' as const,
            sign: '+' as const,
            from: 'with what the guest writes to it meanwhile, sent again in rounds',
          },
        ]
      : []),
    ...moving.map((disk) => {
      const { bytes, from } = copiedOf(estate, disk, method)
      return { label: `disk ${disk.position} (${disk.use})`, value: bytes, unit: 'bytes' as const, sign: '+' as const, from }
    }),
  ]
  return sumFigure(
    facts.passes > 1 ? 'what the method copies, to a medium and back' : 'what the method copies',
    'bytes',
    inputs,
    'common practice',
  )
}

/** Everything a move passes, and what it gets of that beside others, the slowest first. */
function limitsNow(estate: Estate, want: MoveWant, moving: readonly Disk[]): readonly RateLimit[] {
  const { guest, to, stores, method, migrationId } = want
  const from = estate.find('host', guest.hostId)
  const found = (ids: readonly (string | null | undefined)[]) => [...new Set(ids)].flatMap((id) => estate.find('store', id) ?? [])
  const limits = limitsOf(estate, {
    method,
    from,
    to,
    read: found(moving.map(({ storeId }) => storeId)),
    written: found(moving.map(({ id }) => stores[id])),
  })
  const shared = sharedLimit(estate, flowOf('this', from, to, moving, stores, methodFacts[method].ceiling), migrationId)
  return shared && shared.bytesPerSecond < (limits[0]?.bytesPerSecond ?? Infinity) ? [shared, ...limits] : limits
}

const flowOf = (
  id: string,
  from: Host | undefined,
  to: Host | undefined,
  moving: readonly Disk[],
  stores: Readonly<Record<string, string>>,
  ceiling: number | undefined,
): Flow => ({
  id,
  through: [
    ...[from, to].flatMap((host) => (host ? [`link ${host.id}`] : [])),
    ...moving.flatMap((disk) => [
      ...(disk.storeId ? [`read ${disk.storeId}`] : []),
      ...(stores[disk.id] ? [`write ${stores[disk.id] ?? ''}`] : []),
    ]),
  ],
  most: ceiling ?? Infinity,
})

/** What a transfer gets of the links and stores that others use at the same time, max-min fair; undefined where none does. */
function sharedLimit(estate: Estate, own: Flow, migrationId: string | undefined): RateLimit | undefined {
  const others = openMoves(estate)
    .filter(({ id, state }) => state === 'copying' && id !== migrationId)
    .map((move) => {
      const arriving = arrivingDisks(estate, move)
      const disks = move.becomesId ? disksOf(estate, move.guestId ?? '') : arriving.map(({ disk }) => disk)
      const stores = Object.fromEntries(arriving.map(({ disk, storeId }) => [disk.id, storeId]))
      return flowOf(
        move.id,
        estate.find('host', move.fromHostId),
        estate.find('host', move.toHostId),
        disks,
        stores,
        methodFacts[move.method].ceiling,
      )
    })
    .filter(({ through }) => through.some((name) => own.through.includes(name)))
  if (others.length === 0) return undefined
  const flows = [own, ...others]
  const capacities = new Map(flows.flatMap(({ through }) => through).map((name) => [name, capacityOf(estate, name)]))
  return {
    label: 'shared',
    bytesPerSecond: fairShares(flows, capacities).get(own.id) ?? Infinity,
    from: `links and stores, shared fairly with ${counted(others.length, 'other transfer')} under way`,
  }
}

function capacityOf(estate: Estate, resource: string): number {
  const [what, id] = resource.split(' ')
  return what === 'link' ? linkRate(estate, estate.find('host', id)) : storeStream(estate, id)
}

/** A rate in words. @example sayRate(118.66e6) // '119 MB/s' */
export const sayRate = (bytesPerSecond: number): string =>
  `${Number((bytesPerSecond / 1e6).toFixed(bytesPerSecond < 99.95e6 ? 1 : 0))} MB/s`
/** The least that a target disk has to have: no byte less than the source, whatever is used; 1 GiB more is advised (33 → 34). */
export const leastTarget = (sourceBytes: number, targetBytes: number): string | undefined =>
  targetBytes >= sourceBytes
    ? undefined
    : `The target has ${formatBytes(targetBytes)} (${targetBytes} bytes), the source ${formatBytes(sourceBytes)} (${sourceBytes} bytes): it has to be at least as large, and 1 GiB more is advised.`
