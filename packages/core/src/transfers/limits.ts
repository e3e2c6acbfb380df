import { disksOf, type Disk, type Estate, type Host, type Migration, type Port, type Store } from '../estate/index.js'
import { methodFacts, type MoveMethod } from '../methods/index.js'
import { tcpPayloadRate } from '../units/index.js'

/** Payload of a copy over a link of 1 Gbit/s, which all that go over it share, bytes a second. Common practice, no source. */
export const GIGABIT_LINK_BYTES_PER_SECOND = 110e6

/** What the drives of a store can do, one stream, bytes a second. Common practice, no source; SATA itself carries 600 MB/s (SATA 3). */
const drives = { 'hard disk': 150e6, 'solid state': 500e6, NVMe: 2000e6 } as const
const ANY_DRIVE = drives['solid state']
/** The link where no port is recorded, Mbit/s. Common practice, no source. */
const USUAL_LINK_MBPS = 1000

/** One limit of how fast it goes. */
export interface RateLimit {
  readonly label: string
  readonly bytesPerSecond: number
  readonly from: string
}

/** What a copy passes: the hosts at both ends of its link, the stores it is read from and written to, and what copies. */
export interface Path {
  readonly method: MoveMethod
  readonly from: Host | undefined
  readonly to: Host | undefined
  readonly read: readonly Store[]
  readonly written: readonly Store[]
}

/** A limit, what of a path it is of, and whether own copies may show that it is higher than is usual: what is recorded, they may not. */
interface OneLimit extends RateLimit {
  readonly isUsual: boolean
  readonly isOn: (path: Path) => boolean
}

/** The fastest port of a host that has a cable, in the network that moves go over. */
export function movePort(estate: Estate, host: Host | undefined): Port | undefined {
  const ports = host ? estate.referring('port', 'hostId', host.id).filter(({ cable }) => cable === 'present') : []
  const own = ports.filter(({ role }) => role === 'live migration')
  return (own.length > 0 ? own : ports).reduce<Port | undefined>(
    (best, port) => (best && best.speedMbps >= port.speedMbps ? best : port),
    undefined,
  )
}

/** What the link of a host carries, payload in bytes a second. */
export const linkRate = (estate: Estate, host: Host | undefined): number =>
  tcpPayloadRate({ linkMbps: movePort(estate, host)?.speedMbps ?? USUAL_LINK_MBPS, mtu: 1500 })

/** The link of one end: of what is not recorded there, or is no host, the usual one, however fast the other end is. */
function linkLimit(estate: Estate, host: Host | undefined): OneLimit {
  const port = movePort(estate, host)
  const from = port ? port.name : '1 Gbit/s; no port with a cable is recorded'
  return {
    label: `link of ${host?.name ?? 'the physical machine'}`,
    bytesPerSecond: linkRate(estate, host),
    from: `${from}, TCP payload at MTU 1500 (IEEE 802.3)`,
    isUsual: !port,
    isOn: ({ from: one, to: other }) => one?.id === host?.id || other?.id === host?.id,
  }
}

/** What one stream from or to a store can be, bytes a second, and why. */
function storeRate(estate: Estate, store: Store): Pick<RateLimit, 'bytesPerSecond' | 'from'> {
  const members = store.arrayId ? estate.referring('drive', 'arrayId', store.arrayId) : []
  const [first] = members
  return first
    ? { bytesPerSecond: Math.min(...members.map(({ kind }) => drives[kind])), from: `${first.kind}, one stream` }
    : { bytesPerSecond: ANY_DRIVE, from: 'a solid state drive, one stream; its drives are not recorded' }
}
export const storeStream = (estate: Estate, storeId: string | undefined): number => {
  const store = estate.find('store', storeId)
  return store ? storeRate(estate, store).bytesPerSecond : ANY_DRIVE
}

const storeLimit = (estate: Estate, store: Store, how: 'read' | 'written'): OneLimit => ({
  label: `${store.name}, ${how}`,
  ...storeRate(estate, store),
  isUsual: true,
  isOn: (path) => path[how].some(({ id }) => id === store.id),
})

function limitsAsRecorded(estate: Estate, path: Path): readonly OneLimit[] {
  const { ceiling } = methodFacts[path.method]
  const all = [
    linkLimit(estate, path.from),
    linkLimit(estate, path.to),
    ...path.read.map((store) => storeLimit(estate, store, 'read')),
    ...path.written.map((store) => storeLimit(estate, store, 'written')),
    ...(ceiling
      ? [
          {
            label: 'method',
            bytesPerSecond: ceiling,
            from: 'what it does at the most, common practice',
            isUsual: true,
            isOn: ({ method }: Path) => method === path.method,
          },
        ]
      : []),
  ]
  // Two disks may be read from one store, or written to one.
  return [...new Map(all.map((limit) => [limit.label, limit])).values()]
}

/** Everything a copy passes, the slowest first: as recorded, or where that is only what is usual, as own copies showed it to be faster. */
export const limitsOf = (estate: Estate, path: Path): readonly RateLimit[] =>
  limitsAsRecorded(estate, path)
    .map((limit) => raised(limit, ownCopies(estate)))
    .sort((a, b) => a.bytesPerSecond - b.bytesPerSecond)

/** So many copies at the usual rate stand against own ones. */
const USUAL_COUNT = 4

/**
 * A limit that is only usual, at what one in four own copies through it passed, the usual rate counted as four of them; never lower than
 * is usual, since what a copy reached may have been held back by something else.
 */
function raised(limit: OneLimit, copies: readonly OwnCopy[]): RateLimit {
  const { label, bytesPerSecond, from } = limit
  if (!limit.isUsual) return { label, bytesPerSecond, from }
  const faster = copies.filter((copy) => copy.bytesPerSecond > bytesPerSecond && limit.isOn(copy.path))
  const all = [...Array<number>(USUAL_COUNT).fill(bytesPerSecond), ...faster.map((copy) => copy.bytesPerSecond)].sort((a, b) => a - b)
  const reached = all[Math.floor((all.length - 1) * 0.75)] ?? bytesPerSecond
  return reached > bytesPerSecond
    ? { label, bytesPerSecond: reached, from: `as own moves reached; ${from}: ${Math.round(bytesPerSecond / 1e6)} MB/s` }
    : { label, bytesPerSecond, from }
}

/** A move of one's own that says how much it copied, and in how long. */
export interface OwnCopy {
  readonly move: Migration
  readonly path: Path
  /** What went over its link, bytes a second: to a medium and back is twice what was copied. */
  readonly bytesPerSecond: number
}

/** How long a move copied, seconds: as recorded, or from its begin to its cut-over; undefined where that is not known. */
export function copiedFor(move: Migration): number | undefined {
  if (move.copySeconds) return move.copySeconds
  const [from, to] = [move.copyingAt ?? move.startedAt, move.cutOverAt ?? move.endedAt]
  const seconds = from && to ? (Date.parse(to) - Date.parse(from)) / 1000 : 0
  return seconds > 0 ? seconds : undefined
}

/** Whether a move was carried through: cut over, and not taken back. */
export const isThrough = ({ state }: Migration): boolean => state === 'cut over' || state === 'verified' || state === 'closed'

const ownCopiesIn = (estate: Estate): readonly OwnCopy[] =>
  estate.all('migration').flatMap((move) => {
    const seconds = isThrough(move) && move.movedBytes ? copiedFor(move) : undefined
    return seconds && move.movedBytes
      ? [{ move, path: pathOfMove(estate, move), bytesPerSecond: (methodFacts[move.method].passes * move.movedBytes) / seconds }]
      : []
  })

/** Moves of one's own that were carried through and say how fast. */
export const ownCopies = (estate: Estate): readonly OwnCopy[] => estate.derive(['migration', 'guest', 'disk', 'store', 'host'], ownCopiesIn)

/** What a move that is over passed: its cut-over says which store each disk came from. */
function pathOfMove(estate: Estate, move: Migration): Path {
  const storesOf = (ids: readonly unknown[]) => [...new Set(ids)].flatMap((id) => estate.find('store', id as string | null) ?? [])
  const changed = Object.values(move.did?.updated ?? {}).filter(({ kind }) => kind === 'disk')
  const stores = changed
    .map(({ from, to }) => [(from as Partial<Disk>).storeId, (to as Partial<Disk>).storeId] as const)
    .filter(([from, to]) => from !== to)
  const isTakenOver = move.becomesId !== null
  const disksIn = (guestId: string | null) => (isTakenOver ? disksOf(estate, guestId ?? '').map(({ storeId }) => storeId) : [])
  return {
    method: move.method,
    from: estate.find('host', move.fromHostId),
    to: estate.find('host', move.toHostId),
    read: storesOf([...stores.map(([from]) => from), ...disksIn(move.guestId)]),
    written: storesOf([...stores.map(([, to]) => to), ...disksIn(move.becomesId)]),
  }
}

/** The shares of their slowest limit that own moves of a method reached; above 1 where what is recorded is too low. */
export const ownShares = (estate: Estate, method: MoveMethod): readonly number[] =>
  estate.derive(['migration', 'guest', 'disk', 'store', 'host', 'port', 'array', 'drive'], sharesIn).get(method) ?? []

function sharesIn(estate: Estate): ReadonlyMap<MoveMethod, readonly number[]> {
  const shares = new Map<MoveMethod, number[]>()
  for (const { move, path, bytesPerSecond } of ownCopies(estate)) {
    const slowest = limitsOf(estate, path)[0]?.bytesPerSecond ?? ANY_DRIVE
    shares.set(move.method, [...(shares.get(move.method) ?? []), bytesPerSecond / slowest])
  }
  return shares
}
