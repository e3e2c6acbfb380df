import {
  type Adapter,
  type Difference,
  type Disk,
  type Estate,
  type Guest,
  type Kind,
  type RecordEntry,
  touchedRecords,
  holdsDisks,
  type Host,
  machinesOn,
  type Platform,
  platformOf,
  type Policy,
  policyOf,
  storeReach,
  standstillOf,
} from '../estate/index.js'
import {
  coreLoad,
  guestCost,
  hostCapacity,
  leftBeside,
  lessHeld,
  openMoves,
  type Share,
  storeSpace,
  takenBytes,
} from '../capacity/index.js'
import { searchPlaces } from './search-places.js'
import { failsWith, isLostWith } from '../hosts/index.js'
import { counted, formatBytes, formatMiB, formatNumber } from '../units/index.js'

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

/** A running guest, with its demands as numbers: this is the inner loop of the heaviest rule. */
interface Load {
  readonly guest: Guest
  readonly cores: number
  /** 1 at the place of each host that carries its networks. */
  readonly carriers: Uint8Array
  readonly disks: readonly DiskLoad[]
}

/** A disk of a guest: where it is, and what it takes if it has to be restored elsewhere. */
interface DiskLoad {
  /** Place of its store among all stores, -1 for none. */
  readonly store: number
  readonly bytes: number
}

/** What the hosts in service have left for others' guests, each by its place among them. */
interface Rooms {
  readonly platforms: readonly Platform[]
  readonly memoryMiB: Float64Array
  readonly cores: Float64Array
  /** Places of the stores that each reaches and that may hold guests' disks. */
  readonly stores: readonly (readonly number[])[]
}

/** Which hosts carry all networks of a guest: 1 at the place of each among the hosts asked about. */
interface Carriers {
  of(guestId: string): Uint8Array
  /** Takes the adapters that a guest has now in the place of those it had. */
  plugAgain(guestId: string, adapters: readonly Adapter[]): void
}
const NO_DISKS: readonly DiskLoad[] = []

/** Stores by their place in a list, what is free on each, and the disks of each guest. */
interface StoreSpace {
  readonly places: ReadonlyMap<string, number>
  readonly free: Float64Array
  readonly ofHost: (host: Host) => readonly number[]
  readonly ofGuest: Map<string, DiskLoad[]>
}

const diskLoad = (places: ReadonlyMap<string, number>, disk: Disk): DiskLoad => ({
  store: disk.storeId ? (places.get(disk.storeId) ?? -1) : -1,
  bytes: takenBytes(disk),
})

function shelvesIn(estate: Estate): StoreSpace {
  const guestStores = estate.all('store').filter(holdsDisks)
  const places = new Map(guestStores.map(({ id }, place) => [id, place]))
  const free = Float64Array.from(guestStores, (store) => storeSpace(estate, store).freeBytes)
  const ofGuest = new Map<string, DiskLoad[]>()
  for (const disk of estate.all('disk')) {
    const own = ofGuest.get(disk.guestId)
    if (own) own.push(diskLoad(places, disk))
    else ofGuest.set(disk.guestId, [diskLoad(places, disk)])
  }
  const local = new Map<string, number[]>()
  const shared: [place: number, store: (typeof guestStores)[number]][] = []
  guestStores.forEach((store, place) => {
    if (store.hostId) local.set(store.hostId, [...(local.get(store.hostId) ?? []), place])
    else shared.push([place, store])
  })
  const ofHost = (host: Host) => [
    ...(local.get(host.id) ?? []),
    ...shared.flatMap(([place, store]) => (storeReach(store, host) ? [place] : [])),
  ]
  return { places, free, ofHost, ofGuest }
}

/** The hosts that could take guests over, in one order for all that is worked out about them. */
const hostsInService = (estate: Estate): readonly Host[] => estate.all('host').filter((host) => host.state === 'in service')

function carriersIn(estate: Estate): Carriers {
  const hosts = hostsInService(estate)
  const everywhere = new Uint8Array(hosts.length).fill(1)
  const places = new Map(hosts.map(({ id }, place) => [id, place]))
  const byNetwork = new Map<string, Uint8Array>()
  for (const { hostId, networkId } of estate.all('attachment')) {
    const place = places.get(hostId)
    if (place === undefined) continue
    const carrying = byNetwork.get(networkId) ?? new Uint8Array(hosts.length)
    byNetwork.set(networkId, carrying)
    carrying[place] = 1
  }
  const noHost = new Uint8Array(hosts.length)
  // Guests that are plugged into the same networks share an answer.
  const pairs = new Map<Uint8Array, Map<Uint8Array, Uint8Array>>()
  const both = (a: Uint8Array, b: Uint8Array): Uint8Array => {
    const withA = pairs.get(a) ?? new Map<Uint8Array, Uint8Array>()
    pairs.set(a, withA)
    let made = withA.get(b)
    if (!made) {
      made = new Uint8Array(a.length)
      for (let place = 0; place < a.length; place++) made[place] = (a[place] ?? 0) & (b[place] ?? 0)
      withA.set(b, made)
    }
    return made
  }
  const ofGuest = new Map<string, Uint8Array>()
  const plug = ({ guestId, networkId }: Pick<Adapter, 'guestId' | 'networkId'>) => {
    if (!networkId) return
    const [before, carrying] = [ofGuest.get(guestId), byNetwork.get(networkId) ?? noHost]
    ofGuest.set(guestId, before === undefined ? carrying : before === carrying ? before : both(before, carrying))
  }
  for (const adapter of estate.all('adapter')) plug(adapter)
  return {
    of: (guestId) => ofGuest.get(guestId) ?? everywhere,
    plugAgain(guestId, adapters) {
      ofGuest.delete(guestId)
      for (const adapter of adapters) plug(adapter)
    },
  }
}

/** A host in service: its platform, its running guests, the largest first, and what is left beside them. */
interface Standing {
  readonly platform: Platform
  readonly loads: readonly Load[]
  readonly left: Share
}

const standingOf = new WeakMap<Host, { readonly of: readonly object[]; readonly without: Standing }>()

/** The load of a host; worked out once for as long as its guests and what counts for them stay. */
function standingOn(estate: Estate, host: Host, policy: Policy, carriers: Carriers, shelves: StoreSpace): Standing {
  const guests = machinesOn(estate, host.id)
  const of = [policy, carriers, shelves, platformOf(estate, host), openMoves(estate), ...guests]
  const known = standingOf.get(host)
  if (known?.of.length === of.length && known.of.every((one, index) => one === of[index])) return known.without
  const capacity = hostCapacity(estate, host)
  const running = guests.filter((guest) => guest.state === 'running')
  const loads = running
    .sort((a, b) => b.memoryMiB - a.memoryMiB || (a.id < b.id ? -1 : 1))
    .map((guest) => ({
      guest,
      cores: coreLoad(policy, guest),
      carriers: carriers.of(guest.id),
      disks: shelves.ofGuest.get(guest.id) ?? NO_DISKS,
    }))
  const without = {
    platform: capacity.platform,
    loads,
    left: lessHeld(estate, host, capacity.platform, leftBeside(capacity, policy, running)),
  }
  standingOf.set(host, { of, without })
  return without
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

/** Of how many hosts in service each alone could fail (N+1): with room for its guests elsewhere, with a copy of their data, with both. */
export interface FailoverCount {
  readonly inService: number
  /** All of its running guests have room on the others. */
  readonly withRoom: number
  /** None of its running guests loses data of which no backup is elsewhere. */
  readonly withData: number
  readonly withBoth: number
}

/**
 * How many hosts could fail, in words: the same everywhere it is said.
 *
 * @example sayFailover({ inService: 5, withRoom: 1, withData: 3, withBoth: 0 }) // 'Of 5 hosts in service, 0 could fail alone without a loss: …'
 */
export const sayFailover = ({ inService, withRoom, withData, withBoth }: FailoverCount): string =>
  inService === 0
    ? 'No host is in service.'
    : `Of ${counted(inService, 'host')} in service, ${withBoth === inService ? (inService === 1 ? 'it' : 'any one') : withBoth} could fail alone without a loss: ${withRoom} with room elsewhere for all running guests, ${withData} with a copy elsewhere of all their data.`

/** Counts what was worked out for each host. */
export const countFailover = (outcomes: readonly { readonly hasRoom: boolean; readonly hasData: boolean }[]): FailoverCount => ({
  inService: outcomes.length,
  withRoom: outcomes.filter(({ hasRoom }) => hasRoom).length,
  withData: outcomes.filter(({ hasData }) => hasData).length,
  withBoth: outcomes.filter(({ hasRoom, hasData }) => hasRoom && hasData).length,
})

const PLACED_BY: ReadonlySet<Kind> = new Set<Kind>(['attachment', 'host', 'store', 'image', 'snapshot', 'migration', 'leftover'])

/**
 * Counts the hosts that could fail without a loss on one estate after the other, each made of the one before by a difference. What a guest
 * is plugged into and what its disks take is worked out again where it changed alone, and a host is done with the first guest that finds
 * no room.
 *
 * @example new FailoverCounter(estate).after(next, difference).couldFail
 */
export class FailoverCounter {
  #parts: Parts
  readonly #dataKept = new Map<string, boolean>()

  constructor(private estate: Estate) {
    this.#parts = ownParts(estate)
  }

  /** On the estate as it is. */
  count(): FailoverCount {
    return countFailover(
      packed(this.estate, 0, 1, this.#parts).map(({ host, stranded }) => ({
        hasRoom: stranded.length === 0,
        hasData: this.#keepsData(host),
      })),
    )
  }

  #keepsData(host: Host): boolean {
    const known = this.#dataKept.get(host.id)
    if (known !== undefined) return known
    const isKept = guestsWithoutCopy(this.estate, host).length === 0
    this.#dataKept.set(host.id, isKept)
    return isKept
  }

  /** Forgets of which hosts the data may be otherwise: those of guests that changed, or all where a store, a host or who serves one did. */
  #forgetData(before: Estate, touched: readonly RecordEntry[]): void {
    for (const { kind, record } of touched) {
      if (kind !== 'guest' && kind !== 'disk' && kind !== 'store' && kind !== 'host') continue
      const guestId = kind === 'guest' ? record.id : kind === 'disk' ? (record as { guestId: string }).guestId : undefined
      const both = [before, this.estate]
      if (guestId === undefined || both.some((estate) => estate.referring('store', 'servedById', guestId).length > 0)) {
        this.#dataKept.clear()
        return
      }
      for (const estate of both) this.#dataKept.delete(estate.find('guest', guestId)?.hostId ?? '')
    }
  }

  /** On the next. @param difference what makes it of the one before */
  after(next: Estate, difference: Difference): FailoverCount {
    const before = this.estate
    this.estate = next
    const touched = touchedRecords(difference)
    this.#forgetData(before, touched)
    if (touched.some(({ kind }) => PLACED_BY.has(kind))) this.#parts = ownParts(next)
    else this.#patch(before, touched)
    return this.count()
  }

  #patch(before: Estate, touched: readonly RecordEntry[]): void {
    const { carriers, shelves } = this.#parts
    const guests = new Set<string>()
    const stores = new Set<string>()
    for (const { kind, record } of touched) {
      if (kind !== 'adapter' && kind !== 'disk') continue
      const { guestId, storeId } = record as { guestId: string; storeId?: string | null }
      guests.add(guestId)
      if (storeId) stores.add(storeId)
    }
    for (const id of guests) {
      carriers.plugAgain(id, this.estate.referring('adapter', 'guestId', id))
      shelves.ofGuest.set(
        id,
        this.estate.referring('disk', 'guestId', id).map((disk) => diskLoad(shelves.places, disk)),
      )
      // What was worked out for its host rests on what it had.
      for (const estate of [before, this.estate]) {
        const host = estate.find('host', estate.find('guest', id)?.hostId)
        if (host) standingOf.delete(host)
      }
    }
    for (const id of stores) {
      const [place, store] = [shelves.places.get(id), this.estate.find('store', id)]
      if (place !== undefined && store) shelves.free[place] = storeSpace(this.estate, store).freeBytes
    }
  }
}

/** What the packing rests on beside the hosts themselves. */
interface Parts {
  readonly carriers: Carriers
  readonly shelves: StoreSpace
}

/** Parts that nobody else has: they change with what they are of. */
const ownParts = (estate: Estate): Parts => ({ carriers: carriersIn(estate), shelves: shelvesIn(estate) })

/** Parts that everybody shares. Most commands change none of what they depend on. */
const sharedParts = (estate: Estate): Parts => ({
  carriers: estate.derive(['adapter', 'attachment', 'host'], carriersIn),
  shelves: estate.derive(['disk', 'store', 'image', 'snapshot', 'leftover', 'migration', 'volume'], shelvesIn),
})

/** @param strandedMax after so many guests that find no room the rest of a host’s is not looked at */
function packed(
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

/**
 * Running guests of a host whose disks are in it alone, with no backup outside it: wherever they find a place, their data
 * would be gone with the host.
 */
export function guestsWithoutCopy(estate: Estate, host: Host): readonly Guest[] {
  return machinesOn(estate, host.id).filter((guest) => {
    if (guest.state !== 'running') return false
    const isLost = estate
      .referring('disk', 'guestId', guest.id)
      .some((disk) => isLostWith(estate, estate.find('store', disk.storeId), host))
    const backup = estate.find('store', guest.backupStoreId)
    return isLost && (!backup || isLostWith(estate, backup, host))
  })
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
