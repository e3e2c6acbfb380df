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

/** What a host has left for others' guests. */
interface Room {
  readonly host: Host
  readonly platform: Platform
  readonly networks: ReadonlySet<string>
  readonly memoryMiB: number
  readonly cores: number
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
  const running = new Map(hosts.map((host) => [host.id, machinesOn(estate, host.id).filter((guest) => guest.state === 'running')]))
  const rooms = hosts
    .map((host): Room => {
      const platform = platformOf(estate, host)
      const guests = running.get(host.id) ?? []
      return {
        host,
        platform,
        networks: new Set(estate.referring('attachment', 'hostId', host.id).map((attachment) => attachment.networkId)),
        memoryMiB: host.memoryMiB - platform.ownMemoryMiB - guests.reduce((sum, guest) => sum + guestCost(platform, guest.memoryMiB), 0),
        cores: host.sockets * host.coresPerSocket - guests.reduce((sum, guest) => sum + coreLoad(policy, guest), 0),
      }
    })
    .sort((a, b) => a.memoryMiB - b.memoryMiB || (a.host.name < b.host.name ? -1 : 1))

  return hosts.map((failed) => {
    const left = rooms.filter((room) => room.host !== failed && !runsInside(estate, room.host, failed))
    const stranded: Guest[] = []
    const guests = [...(running.get(failed.id) ?? [])].sort((a, b) => b.memoryMiB - a.memoryMiB || (a.name < b.name ? -1 : 1))
    for (const guest of guests) {
      const load = coreLoad(policy, guest)
      const networkIds = estate.referring('adapter', 'guestId', guest.id).flatMap((adapter) => adapter.networkId ?? [])
      let at = firstWith(left, guest.memoryMiB)
      while (at < left.length && !takes(left[at], guest, load, networkIds)) at++
      const room = left[at]
      if (room) take(left, at, { ...room, memoryMiB: room.memoryMiB - guestCost(room.platform, guest.memoryMiB), cores: room.cores - load })
      else stranded.push(guest)
    }
    return { host: failed, stranded, placed: guests.length - stranded.length }
  })
}

const runsInside = (estate: Estate, host: Host, outer: Host): boolean =>
  host.outerGuestId !== null && estate.find('guest', host.outerGuestId)?.hostId === outer.id

const takes = (room: Room | undefined, guest: Guest, load: number, networkIds: readonly string[]): boolean =>
  room !== undefined && room.cores >= load && room.memoryMiB >= guestCost(room.platform, guest.memoryMiB) && networkIds.every((id) => room.networks.has(id))

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
