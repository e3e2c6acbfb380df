import {
  type Disk,
  disksOf,
  type Estate,
  type Guest,
  type Host,
  isPoweredOn,
  type Policy,
  policyOf,
  type Store,
  storeReach,
  storesForDisks,
  standstillOf,
} from '../estate/index.js'
import { guestShare, hostCapacity, type HostCapacity, leftToPromise, type Share, storeSpace, takenBytes } from '../capacity/index.js'
import { carries, lacksFor, serverWith, sharedFailure } from '../hosts/index.js'
import { counted, formatBytes, formatMiB, formatNumber } from '../units/index.js'
import { compareNames } from '../lists/index.js'

/** What a guest asks of a host, whether it exists already or is only being composed. */
export interface Demand {
  readonly name: string
  readonly vcpu: number
  readonly latency: Guest['latency']
  readonly memoryMiB: number
  readonly disks: readonly Pick<Disk, 'sizeBytes' | 'usedBytes' | 'provisioning' | 'use'>[]
  readonly networkIds: readonly string[]
  /** Template or machine: a template takes no memory and no processors. */
  readonly kind: Guest['kind']
  /** Whether it runs now, so that it needs a host in service. */
  readonly isRunning: boolean
  /** The guest itself, where it is recorded: what depends on it counts. */
  readonly guestId?: string | undefined
  /** The guest it is to be kept apart from. */
  readonly apartFromId?: string | null | undefined
  /** Where its backups are. */
  readonly backupStoreId?: string | null | undefined
  /** The install image that is attached to it. */
  readonly mediumId?: string | null | undefined
  readonly processorMode?: Guest['processorMode'] | undefined
}

export type Verdict = 'fits' | 'remark' | 'no'

/** One line of a check in words. */
export interface FitLine {
  readonly about: 'host' | 'memory' | 'processors' | 'store' | 'network' | 'pair' | 'backup' | 'medium'
  readonly verdict: Verdict
  readonly sentence: string
}

/** Whether a demand fits on a host, why, and where its disks would go. */
export interface Fit {
  readonly hostId: string
  readonly verdict: Verdict
  readonly lines: readonly FitLine[]
  /** The store proposed for each disk of the demand, in order; undefined where none has room. */
  readonly stores: readonly (Store | undefined)[]
  /** What the host has left with the guest on it: memory above its reserve, cores under its ceiling. */
  readonly left: { readonly memoryMiB: number; readonly cores: number }
}

/** What an existing guest asks of a host. */
export function demandOf(estate: Estate, guest: Guest): Demand {
  const adapters = estate.referring('adapter', 'guestId', guest.id)
  return {
    name: guest.name,
    vcpu: guest.vcpu,
    latency: guest.latency,
    memoryMiB: guest.memoryMiB,
    kind: guest.kind,
    isRunning: isPoweredOn(guest),
    disks: disksOf(estate, guest.id),
    networkIds: [...new Set(adapters.flatMap((adapter) => adapter.networkId ?? []))],
    guestId: guest.id,
    apartFromId: guest.apartFromId,
    backupStoreId: guest.backupStoreId,
    mediumId: guest.mediumId,
    processorMode: guest.processorMode,
  }
}

/**
 * Checks in words whether a guest could go on a host: its state, memory with the reserve kept, processors, stores, networks,
 * its pair, what it backs up, and its install image.
 *
 * @param demand what the guest asks; it must not be on the host yet
 * @returns one line for each aspect, with figures, and the store proposed for each disk
 */
export function fitOn(estate: Estate, host: Host, demand: Demand): Fit {
  const capacity = hostCapacity(estate, host)
  const share = demand.kind === 'template' ? NOTHING : guestShare(policyOf(estate), capacity.platform, demand)
  const room: Room = { capacity, share, left: leftToPromise(estate, host, capacity) }
  const { lines: storeLines, stores } = fitStores(estate, host, demand)
  const lines = [
    ...fitState(estate, host, demand),
    ...fitMemory(room, demand),
    ...fitProcessors(host, room, demand),
    ...storeLines,
    ...fitNetworks(estate, host, demand),
    ...fitPair(estate, host, demand),
    ...fitBackup(estate, host, demand),
    ...fitMedium(estate, host, demand),
  ]
  return {
    hostId: host.id,
    verdict: worst(lines),
    lines,
    stores,
    left: { memoryMiB: room.left.memoryMiB - share.memoryMiB, cores: room.left.cores - share.cores },
  }
}

const worst = (lines: readonly FitLine[]): Verdict =>
  lines.some((l) => l.verdict === 'no') ? 'no' : lines.some((l) => l.verdict === 'remark') ? 'remark' : 'fits'

function fitState(estate: Estate, host: Host, demand: Demand): FitLine[] {
  const why = standstillOf(estate, host)
  if (why === undefined) return []
  if (host.state === 'retired') return [{ about: 'host', verdict: 'no', sentence: `${host.name} is retired` }]
  if (demand.isRunning) return [{ about: 'host', verdict: 'no', sentence: `${host.name} ${why}; ${demand.name} is running` }]
  return [{ about: 'host', verdict: 'remark', sentence: `${host.name} ${why}: not available yet` }]
}

const NOTHING: Share = { memoryMiB: 0, cores: 0 }

/** A host in numbers, what the demand takes of it, and what may still be promised before that. */
interface Room {
  readonly capacity: HostCapacity
  readonly share: Share
  readonly left: Share
}

function fitMemory({ capacity, share: { memoryMiB: cost }, left: { memoryMiB: before } }: Room, demand: Demand): FitLine[] {
  if (demand.kind === 'template') return []
  const { platform, reserveMiB } = capacity
  const left = before - cost
  const lines: FitLine[] = []
  if (demand.memoryMiB > platform.guestMemoryMaxMiB)
    lines.push({
      about: 'memory',
      verdict: 'no',
      sentence: `${formatMiB(demand.memoryMiB)} is more than ${platform.name} gives one guest (${formatMiB(platform.guestMemoryMaxMiB)})`,
    })
  if (left >= 0)
    lines.push({
      about: 'memory',
      verdict: 'fits',
      sentence: `Memory: ${formatMiB(cost)} into ${formatMiB(before)} left, ${formatMiB(left)} remain, reserve kept`,
    })
  else if (left + reserveMiB >= 0)
    lines.push({
      about: 'memory',
      verdict: 'remark',
      sentence: `Memory: ${formatMiB(-left)} into the failover reserve of ${formatMiB(reserveMiB)}`,
    })
  else
    lines.push({
      about: 'memory',
      verdict: 'no',
      sentence: `Memory: short of ${formatMiB(-left - reserveMiB)}, even with the reserve used up`,
    })
  return lines
}

function fitProcessors(host: Host, { capacity, share, left: { cores: before } }: Room, demand: Demand): FitLine[] {
  if (demand.kind === 'template') return []
  const { cores, logicalCpus: logical } = capacity
  if (demand.vcpu > logical)
    return [{ about: 'processors', verdict: 'no', sentence: `Processors: ${demand.vcpu} vCPU on a host with ${logical} logical CPUs` }]
  const mode = demand.processorMode ?? 'host'
  const lacks = mode !== 'host' && host.cpuFlags ? lacksFor(mode, host.cpuFlags) : []
  if (lacks.length > 0)
    return [{ about: 'processors', verdict: 'no', sentence: `Processors: ${host.name} lacks ${lacks.slice(0, 3).join(', ')} for ${mode}` }]
  const left = before - share.cores
  const load = `${formatNumber(cores - left)} of ${cores}`
  if (left < 0)
    return [
      {
        about: 'processors',
        verdict: 'remark',
        sentence: `Processors: ${formatNumber(-left)} cores over the ceiling (${load})`,
      },
    ]
  if (demand.vcpu > host.coresPerSocket && host.sockets > 1)
    return [
      {
        about: 'processors',
        verdict: 'remark',
        sentence: `Processors: ${demand.vcpu} vCPU span more than one socket of ${host.coresPerSocket} cores (NUMA)`,
      },
    ]
  return [
    {
      about: 'processors',
      verdict: 'fits',
      sentence: `Processors: load ${load} cores`,
    },
  ]
}

/** A store with the room that is left on it while disks are put there. */
export interface StoreRoom {
  readonly store: Store
  freeBytes: number
  promisedBytes: number
}

/** The stores of a host that take disks, with their room. */
export const storeRooms = (estate: Estate, host: Host): readonly StoreRoom[] =>
  storesForDisks(estate, host).map((store) => {
    const { freeBytes, promisedBytes } = storeSpace(estate, store)
    return { store, freeBytes, promisedBytes }
  })

/**
 * Puts a disk on a reached store: where the policies allow what it promises, a local one before a shared one, then the one that promises
 * least. Its room is less by that.
 *
 * @returns the room it was put into; undefined where none has enough
 */
export function takeRoom(rooms: readonly StoreRoom[], disk: Demand['disks'][number], policy: Policy): StoreRoom | undefined {
  /** Whether one more disk would promise more of a store than the policies allow. */
  const isStrained = (room: StoreRoom) =>
    Number(((room.promisedBytes + disk.sizeBytes) / room.store.capacityBytes) * 100 > policy.thinPromiseMaxPercent)
  const taken = Math.max(takenBytes(disk), disk.provisioning === 'thin' ? 1 : 0)
  const room = rooms
    .filter((one) => one.freeBytes >= taken && one.store.capacityBytes >= disk.sizeBytes)
    .sort(
      (a, b) =>
        isStrained(a) - isStrained(b) ||
        Number(a.store.kind === 'shared') - Number(b.store.kind === 'shared') ||
        b.store.capacityBytes - b.promisedBytes - (a.store.capacityBytes - a.promisedBytes),
    )[0]
  if (!room) return undefined
  room.freeBytes -= taken
  room.promisedBytes += disk.sizeBytes
  return room
}

function fitStores(estate: Estate, host: Host, demand: Demand): { lines: FitLine[]; stores: (Store | undefined)[] } {
  const policy = policyOf(estate)
  const rooms = storeRooms(estate, host)
  const lines: FitLine[] = []
  const stores = demand.disks.map((disk) => {
    const room = takeRoom(rooms, disk, policy)
    if (!room) {
      const best = Math.max(0, ...rooms.map((r) => r.freeBytes))
      lines.push({
        about: 'store',
        verdict: 'no',
        sentence:
          rooms.length === 0
            ? `Stores: ${host.name} has none for guests`
            : `Stores: no room for ${disk.use}, ${formatBytes(disk.sizeBytes)}; most free is ${formatBytes(best)}`,
      })
      return undefined
    }
    const promise = (room.promisedBytes / room.store.capacityBytes) * 100
    const full = ((room.store.capacityBytes - room.freeBytes) / room.store.capacityBytes) * 100
    const what = `${room.store.name}: ${disk.use} ${formatBytes(disk.sizeBytes)} ${disk.provisioning}`
    if (promise > policy.thinPromiseMaxPercent)
      lines.push({ about: 'store', verdict: 'remark', sentence: `${what}, promises then ${formatNumber(promise, 0)} % of it` })
    else if (full > policy.storeWarnPercent)
      lines.push({ about: 'store', verdict: 'remark', sentence: `${what}, in use then ${formatNumber(full, 0)} %` })
    else lines.push({ about: 'store', verdict: 'fits', sentence: `${what}, ${formatBytes(room.freeBytes)} free` })
    return room.store
  })
  return { lines, stores }
}

function fitNetworks(estate: Estate, host: Host, demand: Demand): FitLine[] {
  const isCarried = (networkId: string) => carries(estate, host.id, networkId)
  const phrase = (ids: readonly string[]) =>
    `${ids.length === 1 ? 'Network' : 'Networks'} ${ids.map((id) => estate.find('network', id)?.name ?? id).join(' and ')} ${ids.length === 1 ? 'is' : 'are'}`
  const [carried, missing] = [demand.networkIds.filter(isCarried), demand.networkIds.filter((id) => !isCarried(id))]
  return [
    ...(missing.length > 0
      ? [{ about: 'network' as const, verdict: 'no' as const, sentence: `${phrase(missing)} not attached to ${host.name} yet` }]
      : []),
    ...(carried.length > 0 ? [{ about: 'network' as const, verdict: 'fits' as const, sentence: `${phrase(carried)} carried` }] : []),
  ]
}

function fitPair(estate: Estate, host: Host, demand: Demand): FitLine[] {
  const pairs = [
    ...[estate.find('guest', demand.apartFromId)].filter((guest) => guest !== undefined),
    ...(demand.guestId ? estate.referring('guest', 'apartFromId', demand.guestId) : []),
  ].filter(({ kind, state }) => kind === 'machine' && state !== 'retired')
  const here = pairs.find(({ hostId }) => hostId === host.id)
  if (here) return [{ about: 'pair', verdict: 'remark', sentence: `Pair: ${here.name} is on ${host.name} too; one failure takes both` }]
  return pairs[0] ? [{ about: 'pair', verdict: 'fits', sentence: `Pair: ${pairs[0].name} is on another host` }] : []
}

function fitBackup(estate: Estate, host: Host, demand: Demand): FitLine[] {
  const store = estate.find('store', demand.backupStoreId)
  const shared = store && sharedFailure(estate, host, store)
  const server = store && shared && serverWith(estate, store, shared)
  const served = demand.guestId ? estate.referring('store', 'servedById', demand.guestId).filter(({ kind }) => kind === 'backup') : []
  const protectedHere = served
    .flatMap(({ id }) => estate.referring('guest', 'backupStoreId', id))
    .filter(({ id, hostId }) => hostId === host.id && id !== demand.guestId)
  return [
    ...(store && shared
      ? [
          {
            about: 'backup' as const,
            verdict: 'remark' as const,
            sentence: server
              ? `Backup: its backup store ${store.name} is served by ${server.name}, which would be down with ${host.name}`
              : `Backup: its backup store ${store.name} is in ${host.name} itself`,
          },
        ]
      : []),
    ...(protectedHere.length > 0
      ? [
          {
            about: 'backup' as const,
            verdict: 'remark' as const,
            sentence: `Backup: it keeps the backups of ${counted(protectedHere.length, 'guest')} of ${host.name} and would be down with them`,
          },
        ]
      : []),
  ]
}

function fitMedium(estate: Estate, host: Host, demand: Demand): FitLine[] {
  const medium = estate.find('image', demand.mediumId)
  if (!medium) return []
  const store = estate.find('store', medium.storeId)
  if (store && storeReach(store, host))
    return [{ about: 'medium', verdict: 'fits', sentence: `Image: ${medium.name} on ${store.name} is reached` }]
  return [
    {
      about: 'medium',
      verdict: 'remark',
      sentence: store ? `Image: ${medium.name} is on ${store.name}, out of reach` : `Image: ${medium.name} is on no store`,
    },
  ]
}

/**
 * Every host with its fit, best first: what fits, then with remarks, fewest first, then not; among equals the one with most
 * memory left.
 */
export function rankHosts(estate: Estate, demand: Demand): readonly Fit[] {
  const order: Record<Verdict, number> = { fits: 0, remark: 1, no: 2 }
  return estate
    .all('host')
    .map((host) => {
      const fit = fitOn(estate, host, demand)
      return { fit, remarks: fit.lines.filter(({ verdict }) => verdict !== 'fits').length, name: host.name }
    })
    .sort(
      (a, b) =>
        order[a.fit.verdict] - order[b.fit.verdict] ||
        a.remarks - b.remarks ||
        b.fit.left.memoryMiB - a.fit.left.memoryMiB ||
        compareNames(a.name, b.name),
    )
    .map(({ fit }) => fit)
}
