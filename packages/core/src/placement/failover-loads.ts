import { coreLoad, hostCapacity, leftBeside, lessHeld, openMoves, storeSpace, takenBytes, type Share } from '../capacity/index.js'
import {
  holdsDisks,
  machinesOn,
  platformOf,
  storeReach,
  type Adapter,
  type Disk,
  type Estate,
  type Guest,
  type Host,
  type Platform,
  type Policy,
} from '../estate/index.js'

/** A running guest, with its demands as numbers: this is the inner loop of the heaviest rule. */
export interface Load {
  readonly guest: Guest
  readonly cores: number
  /** 1 at the place of each host that carries its networks. */
  readonly carriers: Uint8Array
  readonly disks: readonly DiskLoad[]
}

/** A disk of a guest: where it is, and what it takes if it has to be restored elsewhere. */
export interface DiskLoad {
  /** Place of its store among all stores, -1 for none. */
  readonly store: number
  readonly bytes: number
}

/** Which hosts carry all networks of a guest: 1 at the place of each among the hosts asked about. */
export interface Carriers {
  of(guestId: string): Uint8Array
  /** Takes the adapters that a guest has now in the place of those it had. */
  plugAgain(guestId: string, adapters: readonly Adapter[]): void
}
const NO_DISKS: readonly DiskLoad[] = []

/** Stores by their place in a list, what is free on each, and the disks of each guest. */
export interface StoreSpace {
  readonly places: ReadonlyMap<string, number>
  readonly free: Float64Array
  readonly ofHost: (host: Host) => readonly number[]
  readonly ofGuest: Map<string, DiskLoad[]>
}

export const diskLoad = (places: ReadonlyMap<string, number>, disk: Disk): DiskLoad => ({
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
export const hostsInService = (estate: Estate): readonly Host[] => estate.all('host').filter((host) => host.state === 'in service')

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

export const standingOf = new WeakMap<Host, { readonly of: readonly object[]; readonly without: Standing }>()

/** The load of a host; worked out once for as long as its guests and what counts for them stay. */
export function standingOn(estate: Estate, host: Host, policy: Policy, carriers: Carriers, shelves: StoreSpace): Standing {
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

/** What the packing rests on beside the hosts themselves. */
export interface Parts {
  readonly carriers: Carriers
  readonly shelves: StoreSpace
}

/** Parts that nobody else has: they change with what they are of. */
export const ownParts = (estate: Estate): Parts => ({ carriers: carriersIn(estate), shelves: shelvesIn(estate) })

/** Parts that everybody shares. Most commands change none of what they depend on. */
export const sharedParts = (estate: Estate): Parts => ({
  carriers: estate.derive(['adapter', 'attachment', 'host'], carriersIn),
  shelves: estate.derive(['disk', 'store', 'image', 'snapshot', 'leftover', 'migration', 'volume'], shelvesIn),
})
