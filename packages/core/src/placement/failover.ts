import { policyOf, type Estate, type Guest, type Host, type Platform } from '../estate/index.js'
import { coreLoad, guestCost, machinesOn, platformOf, standingBytes, storeReach, takenBytes } from '../hosts/index.js'
import { formatBytes, formatMiB, formatNumber } from '../units/index.js'

/** What becomes of a host's running guests when it fails. */
export interface FailoverOutcome {
  readonly host: Host
  /** Guests that no other host can take, largest first. */
  readonly stranded: readonly Guest[]
  /** How many of its guests find a place. */
  readonly placed: number
  /** For the largest stranded guests, by their ids: why, in words. */
  readonly reasons: ReadonlyMap<string, string>
}

/** A running guest, with its demands as numbers: this is the inner loop of the heaviest rule. */
interface Load {
  readonly guest: Guest
  readonly cores: number
  /** Places of its networks in the list of all networks. */
  readonly networks: readonly number[]
  readonly disks: readonly DiskLoad[]
}

/** A disk of a guest: where it lies, and what it takes if it has to be restored elsewhere. */
interface DiskLoad {
  /** Place of its store among all stores, -1 for none. */
  readonly store: number
  readonly bytes: number
}

/** What a host has left for others' guests. */
interface Room {
  readonly host: Host
  readonly platform: Platform
  /** 1 at the place of each network it carries. */
  readonly carries: Uint8Array
  readonly memoryMiB: number
  readonly cores: number
  /** Places of the stores it reaches that may hold guests' disks. */
  readonly stores: readonly number[]
}

/** Networks by their place in a list, and the places that each guest's adapters are plugged into. */
interface Wiring {
  readonly count: number
  readonly placeOf: (networkId: string) => number
  readonly ofGuest: ReadonlyMap<string, readonly number[]>
}
const NO_NETWORKS: readonly number[] = []
const NO_DISKS: readonly DiskLoad[] = []

/** Stores by their place in a list, what is free on each, and the disks of each guest. */
interface Shelves {
  readonly free: Float64Array
  readonly ofHost: (host: Host) => readonly number[]
  readonly ofGuest: ReadonlyMap<string, readonly DiskLoad[]>
}
const shelvesOf = new WeakMap<object, { readonly stores: object; readonly images: object; readonly shelves: Shelves }>()

/** Worked out once for as long as no disk, no store and no image changes. */
function shelvesIn(estate: Estate): Shelves {
  const [disks, stores, images] = [estate.tableOf('disk'), estate.tableOf('store'), estate.tableOf('image')]
  const known = shelvesOf.get(disks)
  if (known?.stores === stores && known.images === images) return known.shelves
  const guestStores = estate.all('store').filter(({ kind }) => kind === 'local' || kind === 'shared')
  const places = new Map(guestStores.map(({ id }, place) => [id, place]))
  const free = Float64Array.from(guestStores, (store) => store.capacityBytes - standingBytes(estate, store))
  const ofGuest = new Map<string, DiskLoad[]>()
  for (const disk of estate.all('disk')) {
    const store = disk.storeId ? (places.get(disk.storeId) ?? -1) : -1
    const bytes = takenBytes(disk)
    if (store >= 0) free[store] = (free[store] ?? 0) - bytes
    const own = ofGuest.get(disk.guestId)
    if (own) own.push({ store, bytes })
    else ofGuest.set(disk.guestId, [{ store, bytes }])
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
  const shelves = { free, ofHost, ofGuest }
  shelvesOf.set(disks, { stores, images, shelves })
  return shelves
}
const wirings = new WeakMap<object, Wiring>()

/** Worked out once for as long as no adapter changes; most commands change none. */
function wiringOf(estate: Estate): Wiring {
  const table = estate.tableOf('adapter')
  const known = wirings.get(table)
  if (known && known.count >= estate.count('network')) return known
  const places = new Map<string, number>()
  const placeOf = (networkId: string) => {
    const place = places.get(networkId) ?? places.size
    places.set(networkId, place)
    return place
  }
  for (const { id } of estate.all('network')) placeOf(id)
  const ofGuest = new Map<string, number[]>()
  for (const { guestId, networkId } of estate.all('adapter')) {
    if (!networkId) continue
    const own = ofGuest.get(guestId)
    if (own) own.push(placeOf(networkId))
    else ofGuest.set(guestId, [placeOf(networkId)])
  }
  const wiring: Wiring = { count: places.size, placeOf, ofGuest }
  wirings.set(table, wiring)
  return wiring
}

/**
 * For each host in service: where its running guests would go if it failed (N+1). Each guest, largest first, goes to
 * the host with the least memory left that still takes it (best fit, decreasing), counting memory with overhead, processors,
 * the networks it is plugged into, and stores: a disk on a store the other host reaches stays where it is, one that is lost
 * with the failed host needs room to be restored. The failover reserve is there to be used for this.
 *
 * A packing by this order can miss a place that exists; it never claims one that does not.
 *
 * @param reasonsMax for how many stranded guests of each host the reason is worked out, the largest first
 * @see common practice, no source: for each host that could fail, its guests must fit on the others
 */
export function failoverOutcomes(estate: Estate, reasonsMax = Infinity): readonly FailoverOutcome[] {
  const policy = policyOf(estate)
  const hosts = estate.all('host').filter((host) => host.state === 'in service')
  const { count: networkCount, placeOf, ofGuest } = wiringOf(estate)
  const shelves = shelvesIn(estate)

  const loads = new Map<string, readonly Load[]>()
  for (const host of hosts) {
    const guests = machinesOn(estate, host.id).filter((guest) => guest.state === 'running')
    const largestFirst = guests.sort((a, b) => b.memoryMiB - a.memoryMiB || (a.name < b.name ? -1 : 1))
    loads.set(
      host.id,
      largestFirst.map((guest) => ({
        guest,
        cores: coreLoad(policy, guest),
        networks: ofGuest.get(guest.id) ?? NO_NETWORKS,
        disks: shelves.ofGuest.get(guest.id) ?? NO_DISKS,
      })),
    )
  }
  const rooms = hosts
    .map((host): Room => {
      const platform = platformOf(estate, host)
      const own = loads.get(host.id) ?? []
      const carries = new Uint8Array(networkCount)
      for (const { networkId } of estate.referring('attachment', 'hostId', host.id)) carries[placeOf(networkId)] = 1
      return {
        host,
        platform,
        carries,
        memoryMiB: host.memoryMiB - platform.ownMemoryMiB - own.reduce((sum, { guest }) => sum + guestCost(platform, guest.memoryMiB), 0),
        cores: host.sockets * host.coresPerSocket - own.reduce((sum, { cores }) => sum + cores, 0),
        stores: shelves.ofHost(host),
      }
    })
    .sort((a, b) => a.memoryMiB - b.memoryMiB || (a.host.name < b.host.name ? -1 : 1))
  const nested = new Map(hosts.flatMap((host) => (host.outerGuestId ? [[host.id, estate.find('guest', host.outerGuestId)?.hostId]] : [])))

  return hosts.map((failed) => {
    const left = nested.size === 0 ? rooms.slice() : rooms.filter((room) => nested.get(room.host.id) !== failed.id)
    left.splice(
      left.findIndex((room) => room.host === failed),
      1,
    )
    const stranded: Guest[] = []
    const reasons = new Map<string, string>()
    const own = loads.get(failed.id) ?? []
    const free = shelves.free.slice()
    for (const load of own) {
      let at = firstWith(left, load.guest.memoryMiB)
      let shelved: ReturnType<typeof shelve>
      for (; at < left.length; at++) {
        const candidate = left[at]
        if (candidate && takes(candidate, load) && (shelved = shelve(candidate, load, free))) break
      }
      const room = left[at]
      if (room && shelved) {
        for (const [place, bytes] of shelved) free[place] = (free[place] ?? 0) - bytes
        take(left, at, {
          ...room,
          memoryMiB: room.memoryMiB - guestCost(room.platform, load.guest.memoryMiB),
          cores: room.cores - load.cores,
        })
      } else {
        stranded.push(load.guest)
        if (reasons.size < reasonsMax) reasons.set(load.guest.id, whyStranded(estate, left, load, free))
      }
    }
    return { host: failed, stranded, placed: own.length - stranded.length, reasons }
  })
}

function takes(room: Room, { guest, cores, networks }: Load): boolean {
  if (room.cores < cores) return false
  for (const place of networks) if (room.carries[place] !== 1) return false
  return room.memoryMiB >= guestCost(room.platform, guest.memoryMiB)
}

/**
 * Whether a host's stores take a guest's disks: those it reaches stay, the others are restored where most is free, all in
 * one store where they fit.
 *
 * @returns undefined when they do not, else what each restored disk takes of which store
 */
function shelve({ stores }: Room, { disks }: Load, free: Float64Array): readonly (readonly [place: number, bytes: number])[] | undefined {
  let bytes = 0
  for (const disk of disks) if (disk.store < 0 || !stores.includes(disk.store)) bytes += disk.bytes
  if (bytes === 0) return disks.length === 0 || stores.length > 0 ? NOTHING_TAKEN : undefined
  const roomiest = freest(stores, free)
  if (roomiest < 0) return undefined
  if ((free[roomiest] ?? 0) >= bytes) return [[roomiest, bytes]]
  if (stores.length === 1) return undefined
  const left = free.slice()
  const taken: [place: number, bytes: number][] = []
  for (const disk of disks) {
    if (disk.store >= 0 && stores.includes(disk.store)) continue
    const place = freest(stores, left)
    if ((left[place] ?? 0) < disk.bytes) return undefined
    left[place] = (left[place] ?? 0) - disk.bytes
    taken.push([place, disk.bytes])
  }
  return taken
}
const NOTHING_TAKEN: readonly (readonly [number, number])[] = []

/** The place of the store with most free, or -1. */
function freest(stores: readonly number[], free: Float64Array): number {
  let best = -1
  for (const place of stores) if (best < 0 || (free[place] ?? 0) > (free[best] ?? 0)) best = place
  return best
}

/** The first thing that keeps a guest from every other host, in words. */
function whyStranded(estate: Estate, rooms: readonly Room[], load: Load, free: Float64Array): string {
  if (rooms.length === 0) return 'there is no other host in service'
  const carrying = rooms.filter((room) => load.networks.every((place) => room.carries[place] === 1))
  if (carrying.length === 0) {
    const names = estate
      .referring('adapter', 'guestId', load.guest.id)
      .flatMap(({ networkId }) => estate.find('network', networkId)?.name ?? [])
    return `no other host in service carries ${[...new Set(names)].join(' and ')}`
  }
  const roomy = carrying.filter((room) => room.memoryMiB >= guestCost(room.platform, load.guest.memoryMiB))
  if (roomy.length === 0) {
    const most = Math.max(0, ...carrying.map(({ memoryMiB }) => memoryMiB))
    return `memory: it needs ${formatMiB(load.guest.memoryMiB)} and overhead; ${formatMiB(most)} is the most left then on a host that carries its networks`
  }
  const idle = roomy.filter((room) => room.cores >= load.cores)
  if (idle.length === 0)
    return `processors: it counts for ${formatNumber(load.cores)} cores; ${formatNumber(Math.max(0, ...roomy.map(({ cores }) => cores)))} is the most left then where its memory fits`
  const bytes = load.disks.reduce((sum, disk) => sum + disk.bytes, 0)
  const most = Math.max(0, ...idle.flatMap((room) => room.stores.map((place) => free[place] ?? 0)))
  return `stores: ${formatBytes(bytes)} would have to be restored; ${formatBytes(most)} is the most free in one store of a host that could take it`
}

/**
 * Running guests of a host whose disks lie in it alone, with no backup outside it: wherever they find a place, their data
 * would be gone with the host.
 */
export function guestsWithoutCopy(estate: Estate, host: Host): readonly Guest[] {
  return machinesOn(estate, host.id).filter((guest) => {
    if (guest.state !== 'running') return false
    const isInside = estate.referring('disk', 'guestId', guest.id).some((disk) => estate.find('store', disk.storeId)?.hostId === host.id)
    const backup = estate.find('store', guest.backupStoreId)
    return isInside && (!backup || backup.hostId === host.id)
  })
}

/** The place of the first room with at least this much memory, among rooms ordered by memory. */
function firstWith(rooms: readonly Room[], memoryMiB: number): number {
  let [low, high] = [0, rooms.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((rooms[middle]?.memoryMiB ?? 0) < memoryMiB) low = middle + 1
    else high = middle
  }
  return low
}

/** Puts a room that became smaller back in its place among rooms ordered by memory. */
function take(rooms: Room[], at: number, smaller: Room): void {
  let to = at
  for (let before = rooms[to - 1]; before && before.memoryMiB > smaller.memoryMiB; before = rooms[to - 1]) {
    rooms[to] = before
    to--
  }
  rooms[to] = smaller
}
