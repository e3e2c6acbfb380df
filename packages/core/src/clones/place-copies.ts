import { guestShare, hostCapacity, leftToPromise, type HostCapacity } from '../capacity/index.js'
import { policyOf, standstillOf, type Disk, type Estate, type Guest, type Host, type Policy, type Store } from '../estate/index.js'
import { compareNames } from '../lists/index.js'
import { fitOn, storeRooms, takeRoom, type Demand, type StoreRoom } from '../placement/index.js'
import { counted, formatBytes, formatMiB, formatNumber } from '../units/index.js'

/** How copies are spread: in turn over the hosts, to where most memory is left, no two on one host where it can be, or all on one. */
export const spreads = ['in turn', 'most room', 'apart', 'one host'] as const
export type CopySpread = (typeof spreads)[number]

/** Where a copy goes, why, and what speaks against it; no host where there is none for it. */
export interface CopyPlace {
  readonly host: Host | undefined
  readonly stores: readonly (Store | undefined)[]
  readonly why: string
  readonly verdict: 'fits' | 'remark' | 'no'
}

/** What one copy needs; its disks in order. */
export interface CopyNeed extends Pick<Guest, 'vcpu' | 'memoryMiB' | 'latency'> {
  readonly disks: readonly Pick<Disk, 'sizeBytes' | 'usedBytes' | 'provisioning' | 'use'>[]
  /** The store that they have to be on, where a person said so. */
  readonly storeId?: string | null
}

/** A host while copies are put on it. */
interface Room {
  readonly host: Host
  readonly capacity: HostCapacity
  left: { memoryMiB: number; cores: number }
  readonly stores: readonly StoreRoom[]
  /** How many of these copies are on it. */
  copies: number
  /** Why nothing of this sort can be there, whatever room it has. */
  readonly barred: string | undefined
}

/**
 * Places copies one after the other on an estate: each where its networks are carried, its processors exist, its stores have room and
 * memory is left with the failover reserve kept; into the reserve only where nothing else is left, and that is said.
 */
export class CopyPlacer {
  readonly #policy: Policy
  readonly #rooms: readonly Room[]
  readonly #spread: CopySpread

  /** @param demand what any one of them asks of a host besides room: networks, processor mode, state */
  constructor(estate: Estate, spread: CopySpread, demand: Demand) {
    this.#policy = policyOf(estate)
    this.#spread = spread
    const shared = new Map<string, StoreRoom>()
    const roomOf = (room: StoreRoom): StoreRoom => {
      const known = shared.get(room.store.id) ?? room
      shared.set(room.store.id, known)
      return known
    }
    this.#rooms = estate
      .all('host')
      .filter(({ state }) => state !== 'retired')
      .sort((a, b) => compareNames(a.name, b.name))
      .map((host) => {
        const capacity = hostCapacity(estate, host)
        return {
          host,
          capacity,
          left: { ...leftToPromise(estate, host, capacity) },
          stores: storeRooms(estate, host).map(roomOf),
          copies: 0,
          barred: barredFrom(estate, host, demand),
        }
      })
  }

  /** What is left on each store once all copies so far are there. */
  get stores(): readonly StoreRoom[] {
    return [...new Set(this.#rooms.flatMap(({ stores }) => stores))]
  }

  /**
   * Places the next copy.
   *
   * @param hostId the host it has to be on, where a person said so
   */
  place(need: CopyNeed, hostId?: string | null): CopyPlace {
    const fixed = hostId ? this.#rooms.find(({ host }) => host.id === hostId) : undefined
    if (hostId && !fixed) return { host: undefined, stores: [], why: 'The host it should be on is not there, or retired.', verdict: 'no' }
    const candidates = (fixed ? [fixed] : this.#rooms.filter(({ barred }) => barred === undefined)).map((room) => ({
      room,
      share: guestShare(this.#policy, room.capacity.platform, need),
    }))
    const isKept = ({ room, share }: (typeof candidates)[number]) =>
      room.left.memoryMiB >= share.memoryMiB && room.left.cores >= share.cores
    const isPossible = ({ room, share }: (typeof candidates)[number]) =>
      room.left.memoryMiB + room.capacity.reserveMiB >= share.memoryMiB && need.vcpu <= room.capacity.logicalCpus
    const ranked = [...candidates].sort(
      (a, b) => Number(isKept(b)) - Number(isKept(a)) || this.#before(a.room, b.room) || compareNames(a.room.host.name, b.room.host.name),
    )
    let noStore: { room: Room; bytes: number } | undefined
    for (const candidate of ranked) {
      const { room, share } = candidate
      if (!isPossible(candidate) && !fixed) continue
      const rooms = need.storeId ? room.stores.filter(({ store }) => store.id === need.storeId) : room.stores
      const stores = takeAll(rooms, need.disks, this.#policy)
      if (!stores) {
        noStore ??= { room, bytes: need.disks.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0) }
        if (!fixed) continue
      }
      room.left.memoryMiB -= share.memoryMiB
      room.left.cores -= share.cores
      room.copies++
      return this.#placed(room, stores ?? [], isKept, candidate, need)
    }
    return { host: undefined, stores: [], why: this.#noPlace(candidates, isPossible, noStore, need), verdict: 'no' }
  }

  /** Which of two hosts comes first for the next copy. */
  #before(a: Room, b: Room): number {
    const byRoom = b.left.memoryMiB - a.left.memoryMiB
    if (this.#spread === 'in turn') return a.copies - b.copies || byRoom
    if (this.#spread === 'apart') return Math.min(a.copies, 1) - Math.min(b.copies, 1) || a.copies - b.copies || byRoom
    return byRoom
  }

  #placed(
    room: Room,
    stores: readonly (Store | undefined)[],
    wasKept: (candidate: { room: Room; share: { memoryMiB: number; cores: number } }) => boolean,
    { share }: { room: Room; share: { memoryMiB: number; cores: number } },
    need: CopyNeed,
  ): CopyPlace {
    const { host, left, capacity, copies, barred } = room
    // Looked at as it was before this copy.
    const isKept = wasKept({
      room: { ...room, left: { memoryMiB: left.memoryMiB + share.memoryMiB, cores: left.cores + share.cores } },
      share,
    })
    const remain = left.memoryMiB >= 0 ? `${formatMiB(left.memoryMiB)} remain` : ''
    if (barred !== undefined) return { host, stores, why: barred, verdict: 'no' }
    if (stores.length < need.disks.length) {
      const why = need.storeId
        ? `The chosen store is out of ${host.name}’s reach, or has no room for its disks.`
        : `No store of ${host.name} has room for its disks.`
      return { host, stores, why, verdict: 'no' }
    }
    if (need.vcpu > capacity.logicalCpus)
      return { host, stores, why: `${need.vcpu} vCPU on ${counted(capacity.logicalCpus, 'logical CPU')}.`, verdict: 'no' }
    if (left.memoryMiB + capacity.reserveMiB < 0)
      return {
        host,
        stores,
        why: `Short of ${formatMiB(-left.memoryMiB - capacity.reserveMiB)} of memory, even without a reserve.`,
        verdict: 'no',
      }
    if (left.memoryMiB < 0) return { host, stores, why: `${formatMiB(-left.memoryMiB)} into the failover reserve.`, verdict: 'remark' }
    if (!isKept) return { host, stores, why: `${formatNumber(-left.cores)} cores over the ceiling.`, verdict: 'remark' }
    if (this.#spread === 'apart' && copies > 1)
      return { host, stores, why: `No host without one of these copies is left; ${remain}.`, verdict: 'remark' }
    const why = {
      'in turn': 'fewest of these copies',
      'most room': 'most memory left',
      apart: 'none of these copies yet',
      'one host': 'as chosen',
    }
    return { host, stores, why: `${why[this.#spread]}; ${remain}`, verdict: 'fits' }
  }

  #noPlace(
    candidates: readonly { readonly room: Room; readonly share: { readonly memoryMiB: number } }[],
    isPossible: (candidate: never) => boolean,
    noStore: { room: Room; bytes: number } | undefined,
    need: CopyNeed,
  ): string {
    const [barred] = this.#rooms.filter((room) => room.barred !== undefined)
    if (candidates.length === 0) return barred?.barred ? `No host takes it; ${barred.barred}` : 'There is no host.'
    if (noStore && need.storeId) return 'No host that reaches the chosen store has room on it.'
    if (noStore) return `No store has room for ${formatBytes(noStore.bytes)} more, ${noStore.room.host.name} included.`
    const best = candidates
      .filter((candidate) => !isPossible(candidate as never))
      .sort((a, b) => b.room.left.memoryMiB - a.room.left.memoryMiB)[0]
    if (!best) return 'No host has room.'
    const short = best.share.memoryMiB - best.room.left.memoryMiB - best.room.capacity.reserveMiB
    return short > 0
      ? `No host has room: ${best.room.host.name} is the nearest and short of ${formatMiB(short)} of memory.`
      : `No host has that many logical CPUs; ${best.room.host.name} has ${best.room.capacity.logicalCpus}.`
  }
}

/** Room for all of the disks, or none is taken. */
function takeAll(rooms: readonly StoreRoom[], disks: CopyNeed['disks'], policy: Policy): readonly Store[] | undefined {
  const before = rooms.map(({ freeBytes, promisedBytes }) => ({ freeBytes, promisedBytes }))
  const stores: Store[] = []
  for (const disk of disks) {
    const room = takeRoom(rooms, disk, policy)
    if (!room) {
      rooms.forEach((one, index) => Object.assign(one, before[index]))
      return undefined
    }
    stores.push(room.store)
  }
  return stores
}

/** Why a host takes nothing of a sort, whatever room it has; undefined where it does. */
function barredFrom(estate: Estate, host: Host, demand: Demand): string | undefined {
  const why = standstillOf(estate, host)
  if (why !== undefined) return `${host.name} ${why}.`
  const { lines } = fitOn(estate, host, { ...demand, memoryMiB: 4, vcpu: 1, disks: [] })
  const line = lines.find(({ verdict }) => verdict === 'no')
  return line && `${line.sentence}.`
}
