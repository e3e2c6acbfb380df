import { guestCost } from '../capacity/index.js'
import { policyOf, standstillOf, type Estate, type Guest, type Host, type Platform } from '../estate/index.js'
import { failsWith } from '../hosts/index.js'
import { formatBytes, formatMiB, formatNumber } from '../units/index.js'
import { hostsInService, sharedParts, standingOn, type DiskLoad, type Load } from './failover-loads.js'
import { searchPlaces } from './search-places.js'

/** What becomes of a host's running guests when it fails. */
export interface FailoverOutcome {
  readonly host: Host
  /** Guests that no other host can take, largest first. */
  readonly stranded: readonly Guest[]
  /** How many of its guests find a place. */
  readonly placed: number
  /** Whether it is certain that not all of them find a place; otherwise none was found within the bound of the search. */
  readonly isCertain: boolean
  /** For the largest stranded guests, by their ids: why, in words. */
  readonly reasons: ReadonlyMap<string, string>
}

/** What the hosts in service have left for others' guests, each by its place among them. */
interface Rooms {
  readonly platforms: readonly Platform[]
  readonly memoryMiB: Float64Array
  readonly cores: Float64Array
  /** Places of the stores that each reaches and that may hold guests' disks. */
  readonly stores: readonly (readonly number[])[]
}

/**
 * For each host in service: where its running guests would go if it failed (N+1). Each guest, largest first, goes to
 * the host with the least memory left that still takes it (best fit, decreasing), counting memory with overhead, processors,
 * the networks it is plugged into, and stores: a disk on a store the other host reaches stays where it is, one that is lost
 * with the failed host needs room to be restored. The failover reserve is there to be used for this.
 *
 * That order can miss a place that exists; it never claims one that does not. Where it leaves a guest over, other placings are searched,
 * of guests and of their disks, up to a bound: see `searchPlaces`.
 *
 * @param reasonsMax for how many stranded guests of each host the reason is worked out, the largest first
 * @see common practice, no source: for each host that could fail, its guests must fit on the others
 */
export const failoverOutcomes = (estate: Estate, reasonsMax = Infinity): readonly FailoverOutcome[] => packed(estate, reasonsMax, Infinity)

/** @param strandedMax after so many guests that find no room the rest of a host’s is not looked at */
export function packed(
  estate: Estate,
  reasonsMax: number,
  strandedMax: number,
  { carriers, shelves } = sharedParts(estate),
): readonly FailoverOutcome[] {
  const policy = policyOf(estate)
  const hosts = hostsInService(estate)
  const standings = hosts.map((host) => standingOn(estate, host, policy, carriers, shelves))
  const rooms: Rooms = {
    platforms: standings.map(({ platform }) => platform),
    memoryMiB: Float64Array.from(standings, ({ left }) => left.memoryMiB),
    cores: Float64Array.from(standings, ({ left }) => left.cores),
    stores: hosts.map((host) => shelves.ofHost(host)),
  }
  const least = (a: number, b: number) =>
    (rooms.memoryMiB[a] ?? 0) - (rooms.memoryMiB[b] ?? 0) || ((hosts[a]?.name ?? '') < (hosts[b]?.name ?? '') ? -1 : 1)
  const byMemory = hosts.map((_, place) => place).sort(least)
  // What is nested in something that is off is no refuge either.
  const standing = new Set(hosts.flatMap((host, place) => (standstillOf(estate, host) === undefined ? [] : [place])))
  const around = new Map(hosts.flatMap((host) => (host.outerGuestId ? [[host.id, failsWith(estate, host)] as const] : [])))

  return hosts.map((failed, failedPlace) => {
    // A host nested in the failed one, at whatever depth, goes down with it.
    const others = byMemory.filter(
      (place) =>
        place !== failedPlace && !standing.has(place) && (around.size === 0 || !around.get(hosts[place]?.id ?? '')?.has(failed.id)),
    )
    const left: Rooms = { ...rooms, memoryMiB: rooms.memoryMiB.slice(), cores: rooms.cores.slice() }
    const stranded: Guest[] = []
    const reasons = new Map<string, string>()
    const own = standings[failedPlace]?.loads ?? []
    const free = shelves.free.slice()
    for (const load of own) {
      if (stranded.length >= strandedMax) break
      let at = firstWith(others, left.memoryMiB, load.guest.memoryMiB)
      let shelved: ReturnType<typeof placeDisks>
      for (; at < others.length; at++) {
        const place = others[at] ?? -1
        if (takes(left, place, load) && (shelved = placeDisks(left.stores[place] ?? [], load, free))) break
      }
      const place = others[at]
      const platform = place === undefined ? undefined : left.platforms[place]
      if (place !== undefined && platform && shelved) {
        for (const [store, bytes] of shelved) free[store] = (free[store] ?? 0) - bytes
        left.cores[place] = (left.cores[place] ?? 0) - load.cores
        left.memoryMiB[place] = (left.memoryMiB[place] ?? 0) - guestCost(platform, load.guest.memoryMiB)
        putBack(others, left.memoryMiB, at)
      } else {
        stranded.push(load.guest)
        if (reasons.size < reasonsMax) reasons.set(load.guest.id, whyStranded(estate, left, others, load, free))
      }
    }
    const found = stranded.length === 0 ? 'there is one' : searchAgain(rooms, others, own, shelves.free)
    if (found === 'there is one') return { host: failed, stranded: [], placed: own.length, isCertain: true, reasons: new Map() }
    return { host: failed, stranded, placed: own.length - stranded.length, isCertain: found === 'there is none', reasons }
  })
}

/** Steps of the search for each host that fails, shared among the hosts that are looked at in each. */
const SEARCH_WORK = 100_000
const SEARCH_STEPS_MAX = 5000

/** Whether all guests of a failed host find a place after all, in another order than the largest first. */
function searchAgain(rooms: Rooms, others: readonly number[], loads: readonly Load[], free: Float64Array) {
  return searchPlaces(
    loads.map((load) => ({
      memoryMiB: load.guest.memoryMiB,
      cores: load.cores,
      restoredOn: (host) => load.disks.flatMap((disk) => (disk.bytes > 0 && isLost(disk, rooms.stores[host] ?? []) ? [disk.bytes] : [])),
      isCarried: (host) => load.carriers[host] === 1,
      needsStore: load.disks.length > 0,
    })),
    {
      hosts: others,
      memoryMiB: rooms.memoryMiB.slice(),
      cores: rooms.cores.slice(),
      cost: (host, memoryMiB) => guestCost(rooms.platforms[host] as Platform, memoryMiB),
      stores: rooms.stores,
      free: free.slice(),
    },
    Math.min(SEARCH_STEPS_MAX, Math.floor(SEARCH_WORK / (others.length + 1))),
  )
}

function takes({ platforms, memoryMiB, cores }: Rooms, place: number, load: Load): boolean {
  if (load.carriers[place] !== 1 || (cores[place] ?? 0) < load.cores) return false
  const platform = platforms[place]
  return platform !== undefined && (memoryMiB[place] ?? 0) >= guestCost(platform, load.guest.memoryMiB)
}

/**
 * Whether a host's stores take a guest's disks: those it reaches stay, the others are restored where most is free, all in
 * one store where they fit.
 *
 * @returns undefined when they do not, else what each restored disk takes of which store
 */
function placeDisks(
  stores: readonly number[],
  { disks }: Load,
  free: Float64Array,
): readonly (readonly [place: number, bytes: number])[] | undefined {
  let bytes = 0
  for (const disk of disks) if (isLost(disk, stores)) bytes += disk.bytes
  if (bytes === 0) return disks.length === 0 || stores.length > 0 ? NOTHING_TAKEN : undefined
  const roomiest = freest(stores, free)
  if (roomiest < 0) return undefined
  if ((free[roomiest] ?? 0) >= bytes) return [[roomiest, bytes]]
  if (stores.length === 1) return undefined
  const left = free.slice()
  const taken: [place: number, bytes: number][] = []
  for (const disk of disks) {
    if (!isLost(disk, stores)) continue
    const place = freest(stores, left)
    if ((left[place] ?? 0) < disk.bytes) return undefined
    left[place] = (left[place] ?? 0) - disk.bytes
    taken.push([place, disk.bytes])
  }
  return taken
}
/** Whether a disk has to be restored: it is on none of a host’s stores. */
const isLost = ({ store }: DiskLoad, stores: readonly number[]): boolean => store < 0 || !stores.includes(store)
const NOTHING_TAKEN: readonly (readonly [number, number])[] = []

/** The place of the store with most free, or -1. */
function freest(stores: readonly number[], free: Float64Array): number {
  let best = -1
  for (const place of stores) if (best < 0 || (free[place] ?? 0) > (free[best] ?? 0)) best = place
  return best
}

/** The first thing that keeps a guest from every other host, in words. */
function whyStranded(estate: Estate, rooms: Rooms, others: readonly number[], load: Load, free: Float64Array): string {
  const { memoryMiB, cores, platforms, stores } = rooms
  const most = (of: ArrayLike<number>, places: readonly number[]) => places.reduce((best, place) => Math.max(best, of[place] ?? 0), 0)
  if (others.length === 0) return 'there is no other host in service'
  const carrying = others.filter((place) => load.carriers[place] === 1)
  if (carrying.length === 0) {
    const names = estate
      .referring('adapter', 'guestId', load.guest.id)
      .flatMap(({ networkId }) => estate.find('network', networkId)?.name ?? [])
    return `no other host in service has ${[...new Set(names)].join(' and ')}`
  }
  const roomy = carrying.filter((place) => {
    const platform = platforms[place]
    return platform && (memoryMiB[place] ?? 0) >= guestCost(platform, load.guest.memoryMiB)
  })
  if (roomy.length === 0)
    return `memory: it needs ${formatMiB(load.guest.memoryMiB)} and overhead; ${formatMiB(most(memoryMiB, carrying))} is the most left then on a host with its networks`
  const idle = roomy.filter((place) => (cores[place] ?? 0) >= load.cores)
  if (idle.length === 0)
    return `processors: it counts for ${formatNumber(load.cores)} cores; ${formatNumber(most(cores, roomy))} is the most left then where its memory fits`
  const bytes = load.disks.reduce((sum, disk) => sum + disk.bytes, 0)
  const roomiest = most(
    free,
    idle.flatMap((place) => stores[place] ?? []),
  )
  return `stores: ${formatBytes(bytes)} would have to be restored; ${formatBytes(roomiest)} is the most free in one store of a host that could take it`
}

/** The index of the first host with at least this much memory left, among hosts ordered by it. */
function firstWith(others: readonly number[], memoryMiB: Float64Array, wanted: number): number {
  let [low, high] = [0, others.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((memoryMiB[others[middle] ?? -1] ?? 0) < wanted) low = middle + 1
    else high = middle
  }
  return low
}

/** Moves a host that has less left now back in its order by memory. */
function putBack(others: number[], memoryMiB: Float64Array, at: number): void {
  const place = others[at] ?? -1
  const own = memoryMiB[place] ?? 0
  let to = at
  for (; to > 0; to--) {
    const before = others[to - 1] ?? -1
    if ((memoryMiB[before] ?? 0) <= own) break
    others[to] = before
  }
  others[to] = place
}
