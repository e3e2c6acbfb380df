import { arrivingDisks, openMoves } from '../capacity/index.js'
import { disksOf, type Disk, type Estate, type Guest, type Host, type Migration, type Store } from '../estate/index.js'
import { counted, formatBytes, sumFigure, tcpPayloadRate, type Figure } from '../units/index.js'
import { learnedRate, rateOf, type LearnedRate } from './learned-rate.js'
import { CHANGED_PER_DAY, DIRTY_PER_SECOND, methodFacts, PAUSE_SECONDS, type MethodFacts, type MoveMethod } from './methods.js'
import { liveCopy, type LiveCopy } from './pre-copy.js'
import { fairShares, type Flow } from './sharing.js'

/** Payload of a copy over a link of 1 Gbit/s, which all that go over it share, bytes a second. Common practice, no source. */
export const GIGABIT_LINK_BYTES_PER_SECOND = 110e6

/** What the drives of a store can do, one stream, bytes a second. Common practice, no source; SATA itself carries 600 MB/s (SATA 3). */
const drives = { 'hard disk': 150e6, 'solid state': 500e6, NVMe: 2000e6 } as const
const ANY_DRIVE = drives['solid state']

/** One limit of how fast it goes. */
export interface RateLimit {
  readonly label: string
  readonly bytesPerSecond: number
  readonly from: string
}

/** How long moving a guest takes, with its working. */
export interface MoveTime {
  readonly bytes: Figure
  /** Everything it passes, the slowest first. */
  readonly limits: readonly RateLimit[]
  readonly rate: LearnedRate
  /** Seconds of copying: as likely longer as shorter, and longer one time in ten. */
  readonly copySeconds: { readonly p50: number; readonly p90: number }
  /** Seconds of a person around it. */
  readonly aroundSeconds: number
  /** Seconds for which it is not in service. */
  readonly downSeconds: { readonly p50: number; readonly p90: number }
  /** What changed while it was copied and is copied once more, bytes, where the source runs on. */
  readonly finalPassBytes: number
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

/** The fastest port of a host that has a cable, in the network that moves go over, Mbit/s. */
function linkOf(estate: Estate, host: Host | undefined): number | undefined {
  const ports = host ? estate.referring('port', 'hostId', host.id).filter(({ cable }) => cable === 'present') : []
  const own = ports.filter(({ role }) => role === 'live migration')
  const speeds = (own.length > 0 ? own : ports).map(({ speedMbps }) => speedMbps)
  return speeds.length > 0 ? Math.max(...speeds) : undefined
}

function driveLimit(estate: Estate, store: Store | undefined, how: 'read' | 'written'): RateLimit | undefined {
  if (!store) return undefined
  const members = store.arrayId ? estate.referring('drive', 'arrayId', store.arrayId) : []
  const slowest = members.length > 0 ? Math.min(...members.map(({ kind }) => drives[kind])) : ANY_DRIVE
  return {
    label: `${store.name}, ${how}`,
    bytesPerSecond: slowest,
    from:
      members.length > 0 ? `${members[0]?.kind ?? 'drives'}, one stream` : 'a solid state drive, one stream; its drives are not recorded',
  }
}

/** How long a move copied, seconds: as recorded, or from its begin to its cut-over; undefined where that is not known. */
export function copiedFor(move: Migration): number | undefined {
  if (move.copySeconds) return move.copySeconds
  const [from, to] = [move.copyingAt ?? move.startedAt, move.cutOverAt ?? move.endedAt]
  const seconds = from && to ? (Date.parse(to) - Date.parse(from)) / 1000 : 0
  return seconds > 0 ? seconds : undefined
}

/** Whether a move was carried through: cut over, and not taken back. */
const isThrough = ({ state }: Migration): boolean => state === 'cut over' || state === 'verified' || state === 'closed'

/** Rates of own moves of a method, bytes a second: of those that say how much they moved, and when. */
export const ownRates = (estate: Estate, method: MoveMethod): readonly number[] =>
  estate.all('migration').flatMap((move) => {
    const seconds = move.method === method && isThrough(move) && move.movedBytes ? copiedFor(move) : undefined
    return seconds && move.movedBytes ? [move.movedBytes / seconds] : []
  })

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

/** What a disk holds of what is taken along: of its volumes, where these are recorded. */
function takenOf(estate: Estate, disk: Disk): { readonly bytes: number; readonly from: string } {
  const volumes = estate.referring('volume', 'diskId', disk.id)
  if (volumes.length > 0) {
    const taken = volumes.filter(({ isTaken }) => isTaken)
    return {
      bytes: taken.reduce((sum, { usedBytes, sizeBytes }) => sum + (usedBytes ?? sizeBytes), 0),
      from: `${taken.length} of ${counted(volumes.length, 'volume')}, what they hold`,
    }
  }
  return disk.usedBytes === null
    ? { bytes: disk.sizeBytes, from: 'its size; what is used was not seen' }
    : { bytes: disk.usedBytes, from: 'what is used, as last seen' }
}

/**
 * How long it takes to move a machine: bytes by what the method copies, over the slowest of reading, link, writing and the method
 * itself, as own moves sharpen it, and fairly shared with what is copied at the same time.
 *
 * @example moveTime(estate, { guest, to: fulmar, method: 'cold copy', stores }).copySeconds // { p50: 545, p90: 1003 }
 */
export function moveTime(estate: Estate, want: MoveWant): MoveTime {
  const { guest, method } = want
  const facts = methodFacts[method]
  const moving = movingDisks(estate, want)
  const limits = limitsOf(estate, want, facts, moving)
  const slowest = limits[0]?.bytesPerSecond ?? ANY_DRIVE
  const rate = learnedRate(slowest, ownRates(estate, method))
  const memoryBytes = guest.memoryMiB * 2 ** 20
  const dirtyPerSecond = want.dirtyPerSecond ?? memoryBytes * DIRTY_PER_SECOND
  const live =
    facts.copies === 'memory'
      ? liveCopy({ memoryBytes, bytesPerSecond: rateOf(rate, 0.5), dirtyPerSecond, pauseSeconds: PAUSE_SECONDS })
      : undefined
  const bytes = bytesOf(estate, facts, moving, live?.converges ? live.bytes : memoryBytes)
  const seconds = (p: number) => (bytes.value === 0 ? 0 : (facts.passes * bytes.value) / rateOf(rate, 1 - p))
  const copySeconds = { p50: seconds(0.5), p90: seconds(0.9) }
  const finish = facts.finish * 60
  // The longer it takes, the more has changed meanwhile; never more than there is.
  const finalPass = (copied: number) =>
    facts.isRunning && facts.copies !== 'memory' ? bytes.value * Math.min(1, (CHANGED_PER_DAY * copied) / 86_400) : 0
  const down = (p: 'p50' | 'p90', quantile: number) =>
    live
      ? live.converges
        ? live.pauseSeconds
        : Infinity
      : facts.isRunning
        ? finish + finalPass(copySeconds[p]) / rateOf(rate, 1 - quantile)
        : finish + copySeconds[p]
  return {
    bytes,
    limits,
    rate,
    copySeconds,
    aroundSeconds: facts.prepare * 60 + finish,
    downSeconds: { p50: down('p50', 0.5), p90: down('p90', 0.9) },
    finalPassBytes: Math.round(finalPass(copySeconds.p50)),
    live,
  }
}

const movingDisks = (estate: Estate, { guest, stores, isTakenOver }: MoveWant): readonly Disk[] =>
  disksOf(estate, guest.id).filter((disk) => isTakenOver === true || (stores[disk.id] !== undefined && stores[disk.id] !== disk.storeId))

/** What the method copies, bytes. */
function bytesOf(estate: Estate, facts: MethodFacts, moving: readonly Disk[], memoryBytes: number): Figure {
  const isWhole = facts.copies === 'provisioned'
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
      const taken = takenOf(estate, disk)
      return {
        label: `disk ${disk.position} (${disk.use})`,
        value: isWhole ? disk.sizeBytes : taken.bytes,
        unit: 'bytes' as const,
        sign: '+' as const,
        from: isWhole ? 'its whole size' : taken.from,
      }
    }),
  ]
  return sumFigure(
    facts.passes > 1 ? 'what the method copies, to a medium and back' : 'what the method copies',
    'bytes',
    inputs,
    'common practice',
  )
}

function limitsOf(estate: Estate, want: MoveWant, { ceiling }: MethodFacts, moving: readonly Disk[]): readonly RateLimit[] {
  const { guest, to, stores, migrationId } = want
  const from = estate.find('host', guest.hostId)
  const link = linkBetween(estate, from, to)
  const all = [
    link,
    ...moving.flatMap((disk) => [
      driveLimit(estate, estate.find('store', disk.storeId), 'read') ?? [],
      driveLimit(estate, estate.find('store', stores[disk.id]), 'written') ?? [],
    ]),
    ...(ceiling ? [{ label: 'method', bytesPerSecond: ceiling, from: 'what it does at the most, common practice' }] : []),
  ].flat()
  // Two disks may be read from one store, or written to one.
  const limits = [...new Map(all.map((limit) => [limit.label, limit])).values()].sort((a, b) => a.bytesPerSecond - b.bytesPerSecond)
  const shared = sharedLimit(estate, flowOf('this', from, to, moving, stores, ceiling), migrationId)
  return shared && shared.bytesPerSecond < (limits[0]?.bytesPerSecond ?? Infinity) ? [shared, ...limits] : limits
}

function linkBetween(estate: Estate, from: Host | undefined, to: Host | undefined): RateLimit {
  const mbps = [linkOf(estate, from), linkOf(estate, to)].filter((speed) => speed !== undefined)
  return {
    label: 'link',
    bytesPerSecond: tcpPayloadRate({ linkMbps: mbps.length > 0 ? Math.min(...mbps) : 1000, mtu: 1500 }),
    from: `${mbps.length > 0 ? 'the slower of both hosts’ fastest ports' : '1 Gbit/s; no port with a cable is recorded'}, TCP payload at MTU 1500 (IEEE 802.3)`,
  }
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
  if (what === 'link') return tcpPayloadRate({ linkMbps: linkOf(estate, estate.find('host', id)) ?? 1000, mtu: 1500 })
  return driveLimit(estate, estate.find('store', id), what === 'read' ? 'read' : 'written')?.bytesPerSecond ?? ANY_DRIVE
}

/** A rate in words. @example sayRate(118.66e6) // '118.7 MB/s' */
export const sayRate = (bytesPerSecond: number): string => `${(bytesPerSecond / 1e6).toFixed(bytesPerSecond < 10e6 ? 1 : 0)} MB/s`
/** The least that a target disk has to have: no byte less than the source, whatever is used; 1 GiB more is advised (33 → 34). */
export const leastTarget = (sourceBytes: number, targetBytes: number): string | undefined =>
  targetBytes >= sourceBytes
    ? undefined
    : `The target has ${formatBytes(targetBytes)} (${targetBytes} bytes), the source ${formatBytes(sourceBytes)} (${sourceBytes} bytes): it has to be at least as large, and 1 GiB more is advised.`
