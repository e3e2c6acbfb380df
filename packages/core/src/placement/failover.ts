import { policyOf, type Estate, type Guest, type Host, type Platform } from '../estate/index.js'
import { coreLoad, guestCost, machinesOn, platformOf } from '../hosts/index.js'

/** What becomes of a host's running guests when it fails. */
export interface FailoverOutcome {
  readonly host: Host
  /** Guests that no other host can take, largest first. */
  readonly stranded: readonly Guest[]
  /** How many of its guests find a place. */
  readonly placed: number
}

/** A running guest, with its demands as numbers: this is the inner loop of the heaviest rule. */
interface Load {
  readonly guest: Guest
  readonly cores: number
  /** Places of its networks in the list of all networks. */
  readonly networks: readonly number[]
}

/** What a host has left for others' guests. */
interface Room {
  readonly host: Host
  readonly platform: Platform
  /** 1 at the place of each network it carries. */
  readonly carries: Uint8Array
  readonly memoryMiB: number
  readonly cores: number
}

/** Networks by their place in a list, and the places that each guest's adapters are plugged into. */
interface Wiring {
  readonly count: number
  readonly placeOf: (networkId: string) => number
  readonly ofGuest: ReadonlyMap<string, readonly number[]>
}
const NO_NETWORKS: readonly number[] = []
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
 * the host with the least memory left that still takes it (best fit, decreasing), counting memory with overhead, processors
 * and the networks it is plugged into. The failover reserve is there to be used for this.
 *
 * A packing by this order can miss a place that exists; it never claims one that does not.
 *
 * @see common practice, no source: for each host that could fail, its guests must fit on the others
 */
export function failoverOutcomes(estate: Estate): readonly FailoverOutcome[] {
  const policy = policyOf(estate)
  const hosts = estate.all('host').filter((host) => host.state === 'in service')
  const { count: networkCount, placeOf, ofGuest } = wiringOf(estate)

  const loads = new Map<string, readonly Load[]>()
  for (const host of hosts) {
    const guests = machinesOn(estate, host.id).filter((guest) => guest.state === 'running')
    const largestFirst = guests.sort((a, b) => b.memoryMiB - a.memoryMiB || (a.name < b.name ? -1 : 1))
    loads.set(
      host.id,
      largestFirst.map((guest) => ({ guest, cores: coreLoad(policy, guest), networks: ofGuest.get(guest.id) ?? NO_NETWORKS })),
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
    const own = loads.get(failed.id) ?? []
    for (const load of own) {
      let at = firstWith(left, load.guest.memoryMiB)
      while (at < left.length && !takes(left[at], load)) at++
      const room = left[at]
      if (room)
        take(left, at, {
          ...room,
          memoryMiB: room.memoryMiB - guestCost(room.platform, load.guest.memoryMiB),
          cores: room.cores - load.cores,
        })
      else stranded.push(load.guest)
    }
    return { host: failed, stranded, placed: own.length - stranded.length }
  })
}

function takes(room: Room | undefined, { guest, cores, networks }: Load): boolean {
  if (room === undefined || room.cores < cores) return false
  for (const place of networks) if (room.carries[place] !== 1) return false
  return room.memoryMiB >= guestCost(room.platform, guest.memoryMiB)
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
