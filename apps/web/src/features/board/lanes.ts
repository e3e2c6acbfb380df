import {
  compareNames,
  coreLoad,
  type Estate,
  failoverReserve,
  type Guest,
  guestCost,
  heldOnHost,
  isBeforeCutOver,
  isToCome,
  type Host,
  type HostHold,
  machinesOn,
  openMoves,
  platformOf,
  policyOf,
  type Store,
  storeSpace,
  storesOf,
  type StoreSpace,
} from '@insel/core'

/** A guest's place on a lane's tracks, in the tracks' own units. */
export interface Block {
  readonly guest: Guest
  readonly memoryFrom: number
  readonly memoryMiB: number
  readonly coresFrom: number
  /** Whether a move is about to take it away. */
  readonly isLeaving: boolean
  readonly cores: number
}

/** A store of a lane: what is in it, what is promised. */
export interface StoreBar {
  readonly store: Store
  readonly usedBytes: number
  readonly promisedBytes: number
  /** What moves left there. */
  readonly leftBytes: number
}

/** One host as the board draws it, in MiB, cores and bytes; the drawing scales it. */
export interface Lane {
  readonly host: Host
  readonly platformName: string
  readonly blocks: readonly Block[]
  readonly templates: readonly Guest[]
  readonly committedMiB: number
  readonly ownMiB: number
  readonly reserveMiB: number
  /** What moves under way hold of its memory: guests that arrive, and the way back of those that left. */
  readonly held: readonly HostHold[]
  /** Left of what can be planned; negative when into the reserve. */
  readonly leftMiB: number
  readonly cores: number
  readonly loadCores: number
  readonly vcpu: number
  readonly stores: readonly StoreBar[]
}

/** Largest first, so that blocks too narrow for their names are together at the end. */
const bySize = (a: Guest, b: Guest) => b.memoryMiB - a.memoryMiB || compareNames(a.name, b.name)

const lanes = new WeakMap<Host, { readonly of: readonly object[]; readonly lane: Lane }>()

/** The lane of a host; the same one for as long as what it shows stays, so that it need not be drawn again. */
export function laneOf(estate: Estate, host: Host): Lane {
  const stores = storesOf(estate, host.id)
  const of = [
    policyOf(estate),
    platformOf(estate, host),
    ...estate.referring('guest', 'hostId', host.id),
    openMoves(estate),
    ...stores,
    ...stores.map((store) => storeSpace(estate, store)),
  ]
  const known = lanes.get(host)
  if (known && sameThings(known.of, of)) return known.lane
  const lane = drawn(estate, host, stores)
  lanes.set(host, { of, lane })
  return lane
}

/** Whether two lists hold the same things; numbers of a store that come to the same are the same. */
const sameThings = (a: readonly object[], b: readonly object[]): boolean =>
  a.length === b.length && a.every((one, index) => one === b[index] || (isSpace(one) && isSpace(b[index]) && sameSpace(one, b[index])))
const isSpace = (of: object | undefined): of is StoreSpace => of !== undefined && 'promisedBytes' in of
const sameSpace = (a: StoreSpace, b: StoreSpace): boolean => a.usedBytes === b.usedBytes && a.promisedBytes === b.promisedBytes

function drawn(estate: Estate, host: Host, stores: readonly Store[]): Lane {
  const platform = platformOf(estate, host)
  const policy = policyOf(estate)
  let memoryFrom = 0
  let coresFrom = 0
  const leaving = new Set(openMoves(estate).flatMap((move) => (isBeforeCutOver(move) ? move.guestId : [])))
  const guests = [...machinesOn(estate, host.id)].sort(bySize)
  const blocks = guests.map((guest): Block => {
    const block = {
      guest,
      memoryFrom,
      memoryMiB: guestCost(platform, guest.memoryMiB),
      coresFrom,
      cores: coreLoad(policy, guest),
      isLeaving: leaving.has(guest.id),
    }
    memoryFrom += block.memoryMiB
    coresFrom += block.cores
    return block
  })
  const reserveMiB = failoverReserve(estate, host)
  const held = heldOnHost(estate, host.id)
  const heldMiB = held.reduce((sum, { memoryMiB }) => sum + guestCost(platform, memoryMiB), 0)
  return {
    host,
    platformName: platform.name,
    blocks,
    templates: estate.referring('guest', 'hostId', host.id).filter((guest) => guest.kind === 'template'),
    committedMiB: memoryFrom,
    held,
    ownMiB: platform.ownMemoryMiB,
    reserveMiB,
    leftMiB: Math.round((host.memoryMiB - platform.ownMemoryMiB - reserveMiB) * policy.memoryCeiling) - memoryFrom - heldMiB,
    cores: host.sockets * host.coresPerSocket,
    loadCores: coresFrom,
    vcpu: guests.reduce((sum, guest) => sum + guest.vcpu, 0),
    stores: stores.map((store) => {
      const { usedBytes, promisedBytes } = storeSpace(estate, store)
      const leftBytes = estate.referring('leftover', 'storeId', store.id).reduce((sum, left) => sum + left.usedBytes, 0)
      return { store, usedBytes, promisedBytes, leftBytes }
    }),
  }
}

/** Hosts in the order of the board: those in service first, larger before smaller, nested ones last. */
export function boardOrder(hosts: readonly Host[]): readonly Host[] {
  const rank = (host: Host) =>
    host.kind === 'nested' ? 3 : host.state === 'in service' ? 0 : host.state === 'in maintenance' ? 1 : isToCome(host) ? 2 : 4
  return [...hosts].sort((a, b) => rank(a) - rank(b) || b.memoryMiB - a.memoryMiB || compareNames(a.name, b.name))
}

/** The scale that all lanes share. */
export interface Scale {
  readonly memoryMiB: number
  readonly cores: number
  readonly storeBytes: number
  /** Marks of the printed scale, MiB. */
  readonly ticks: readonly number[]
}

/** A step for the printed scale, so that some six to ten marks are on it. */
function tickStep(memoryMiB: number): number {
  let step = 1024
  while (memoryMiB / step > 9) step *= 2
  return step
}

/** The scale for some lanes: the longest track fills the width. */
export function scaleOf(lanes: readonly Lane[]): Scale {
  const memoryMiB = Math.max(4096, ...lanes.map((lane) => Math.max(lane.host.memoryMiB, lane.committedMiB)))
  const step = tickStep(memoryMiB)
  return {
    memoryMiB,
    cores: Math.max(1, ...lanes.map((lane) => Math.max(lane.cores, lane.loadCores))),
    storeBytes: Math.max(1, ...lanes.flatMap((lane) => lane.stores.map((bar) => Math.max(bar.store.capacityBytes, bar.promisedBytes)))),
    ticks: Array.from({ length: Math.floor(memoryMiB / step) + 1 }, (_, index) => index * step),
  }
}
