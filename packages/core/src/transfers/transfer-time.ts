import { disksOf, type Disk, type Estate, type Guest, type Host, type Migration, type Store } from '../estate/index.js'
import { formatBytes, sumFigure, tcpPayloadRate, type Figure } from '../units/index.js'
import { learnedRate, rateOf, type LearnedRate } from './learned-rate.js'

/** Payload of a copy over a link of 1 Gbit/s, which all that go over it share, bytes a second. Common practice, no source. */
export const GIGABIT_LINK_BYTES_PER_SECOND = 110e6

export type MoveMethod = Migration['method']

/** What a method does, where nothing was measured here: its ceiling, what it copies, and how long a person is at it around the copy. */
interface MethodFacts {
  /** Bytes a second it can do at the most; undefined: as fast as what it passes. */
  readonly ceiling: number | undefined
  /** Used blocks alone, the provisioned size, or memory. */
  readonly copies: 'used' | 'provisioned' | 'memory'
  /** Minutes of set-up, first boot and checks. Common practice, no source. */
  readonly around: number
}

/** Common practice, no source: see “Rates to begin with” and “Around it” in the facts of the trade. */
const methods: Readonly<Record<MoveMethod, MethodFacts>> = {
  live: { ceiling: undefined, copies: 'memory', around: 5 },
  'cold copy': { ceiling: undefined, copies: 'used', around: 15 },
  'disk-to-disk over the network': { ceiling: 90e6, copies: 'provisioned', around: 35 },
  'agent conversion': { ceiling: 60e6, copies: 'used', around: 40 },
  'image and restore': { ceiling: 80e6, copies: 'used', around: 45 },
  'export and import': { ceiling: 80e6, copies: 'used', around: 20 },
  'rebuild and move the data': { ceiling: 30e6, copies: 'used', around: 60 },
}

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

/** Rates of own finished moves of a method, bytes a second: of those that say how much they moved, and when. */
export const ownRates = (estate: Estate, method: MoveMethod): readonly number[] =>
  estate.all('migration').flatMap((move) => {
    if (move.method !== method || move.state !== 'done' || !move.movedBytes || !move.startedAt || !move.endedAt) return []
    const seconds = (Date.parse(move.endedAt) - Date.parse(move.startedAt)) / 1000
    return seconds > 0 ? [move.movedBytes / seconds] : []
  })

/**
 * How long it takes to move a guest to a host: bytes by what the method copies, over the slowest of reading, link, writing and the method
 * itself, as own moves sharpen it.
 *
 * @param stores for each disk that changes its store, the new one
 * @example moveTime(estate, guest, fulmar, 'cold copy', {}).copySeconds // { p50: 545, p90: 1003 }
 */
export function moveTime(estate: Estate, guest: Guest, to: Host, method: MoveMethod, stores: Readonly<Record<string, string>>): MoveTime {
  const facts = methods[method]
  const moving = disksOf(estate, guest.id).filter((disk) => stores[disk.id] !== undefined && stores[disk.id] !== disk.storeId)
  const bytesOf = (disk: Disk) => (facts.copies === 'provisioned' ? disk.sizeBytes : (disk.usedBytes ?? disk.sizeBytes))
  const inputs = [
    ...(facts.copies === 'memory'
      ? [
          {
            label: 'memory',
            value: guest.memoryMiB * 2 ** 20,
            unit: 'bytes' as const,
            sign: '+' as const,
            from: 'sent once; what it writes meanwhile comes on top',
          },
        ]
      : []),
    ...moving.map((disk) => ({
      label: `disk ${disk.position} (${disk.use})`,
      value: bytesOf(disk),
      unit: 'bytes' as const,
      sign: '+' as const,
      from:
        facts.copies === 'provisioned'
          ? 'its whole size'
          : disk.usedBytes === null
            ? 'its size; what is used was not seen'
            : 'what is used, as last seen',
    })),
  ]
  const bytes = sumFigure('what the method copies', 'bytes', inputs, 'common practice')
  const limits = limitsOf(estate, guest, to, facts, moving, stores)
  const slowest = limits[0]?.bytesPerSecond ?? ANY_DRIVE
  const rate = learnedRate(slowest, ownRates(estate, method))
  const seconds = (p: number) => (bytes.value === 0 ? 0 : bytes.value / rateOf(rate, 1 - p))
  return { bytes, limits, rate, copySeconds: { p50: seconds(0.5), p90: seconds(0.9) }, aroundSeconds: facts.around * 60 }
}

function limitsOf(
  estate: Estate,
  guest: Guest,
  to: Host,
  { ceiling }: MethodFacts,
  moving: readonly Disk[],
  stores: Readonly<Record<string, string>>,
): readonly RateLimit[] {
  const from = estate.find('host', guest.hostId)
  const mbps = [linkOf(estate, from), linkOf(estate, to)].filter((speed) => speed !== undefined)
  const link = mbps.length > 0 ? Math.min(...mbps) : 1000
  const all = [
    {
      label: 'link',
      bytesPerSecond: tcpPayloadRate({ linkMbps: link, mtu: 1500 }),
      from: `${mbps.length > 0 ? 'the slower of both hosts’ fastest ports' : '1 Gbit/s; no port with a cable is recorded'}, TCP payload at MTU 1500 (IEEE 802.3)`,
    },
    ...moving.flatMap((disk) => [
      driveLimit(estate, estate.find('store', disk.storeId), 'read') ?? [],
      driveLimit(estate, estate.find('store', stores[disk.id]), 'written') ?? [],
    ]),
    ...(ceiling ? [{ label: 'method', bytesPerSecond: ceiling, from: 'what it does at the most, common practice' }] : []),
  ].flat()
  // Two disks may be read from one store, or written to one.
  return [...new Map(all.map((limit) => [limit.label, limit])).values()].sort((a, b) => a.bytesPerSecond - b.bytesPerSecond)
}

/** A rate in words. @example sayRate(118.66e6) // '118.7 MB/s' */
export const sayRate = (bytesPerSecond: number): string => `${(bytesPerSecond / 1e6).toFixed(bytesPerSecond < 10e6 ? 1 : 0)} MB/s`
/** The least that a target disk has to have: no byte less than the source, whatever is used; 1 GiB more is advised (33 → 34). */
export const leastTarget = (sourceBytes: number, targetBytes: number): string | undefined =>
  targetBytes >= sourceBytes
    ? undefined
    : `The target has ${formatBytes(targetBytes)} (${targetBytes} bytes), the source ${formatBytes(sourceBytes)} (${sourceBytes} bytes): it has to be at least as large, and 1 GiB more is advised.`
