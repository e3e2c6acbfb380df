import { heldOnHost, heldOnStore } from './holds.js'
import {
  type Disk,
  type Estate,
  type Guest,
  type Host,
  machinesOn,
  migrationNames,
  type Platform,
  platformOf,
  type Policy,
  policyOf,
  type RecordOf,
  type Store,
} from '../estate/index.js'

/** Memory and processors, of a host or of what its guests take. */
export interface Share {
  readonly memoryMiB: number
  /** Cores, or what vCPUs count for in cores under the policies. */
  readonly cores: number
}

/** What a host has for guests, in numbers. */
export interface HostCapacity {
  readonly platform: Platform
  /** Usable memory less the platform's own, MiB. The failover reserve is part of it. */
  readonly memoryMiB: number
  /** Kept free for the guests of a failed host, MiB. */
  readonly reserveMiB: number
  /** Physical cores. Threads of a core share its units and are not counted. */
  readonly cores: number
  /** Hardware threads the platform schedules on. */
  readonly logicalCpus: number
}

/**
 * Memory a guest costs its host besides its own: a fixed part and a share.
 *
 * @returns MiB, rounded up
 * @example guestOverhead({ guestOverheadMiB: 64, guestOverheadPercent: 1 }, 8192) // 146
 */
export const guestOverhead = (platform: Pick<Platform, 'guestOverheadMiB' | 'guestOverheadPercent'>, memoryMiB: number): number =>
  platform.guestOverheadMiB + Math.ceil((memoryMiB * platform.guestOverheadPercent) / 100)

/** Memory a guest takes on a host, with its overhead, MiB. */
export const guestCost = (platform: Platform, memoryMiB: number): number => memoryMiB + guestOverhead(platform, memoryMiB)

/** The memory a host keeps free for guests of a failed one, MiB: its own figure, or the policy's share. */
export const failoverReserve = (estate: Estate, host: Host): number =>
  host.failoverReserveMiB ?? Math.round((host.memoryMiB * policyOf(estate).failoverReservePercent) / 100)

const classLabels = { general: 'vcpuPerCoreGeneral', steady: 'vcpuPerCoreSteady', lab: 'vcpuPerCoreLab' } as const

/** vCPUs of a latency class that share a core under the policies. */
export const vcpuPerCore = (policy: Policy, latency: Guest['latency']): number => policy[classLabels[latency]]

/** Cores that a guest's vCPUs count for. */
export const coreLoad = (policy: Policy, guest: Pick<Guest, 'vcpu' | 'latency'>): number => guest.vcpu / vcpuPerCore(policy, guest.latency)

/**
 * The logical CPUs of a host.
 *
 * @example logicalCpus({ sockets: 2, coresPerSocket: 6, threadsPerCore: 2 }) // 24
 */
export const logicalCpus = (host: Pick<Host, 'sockets' | 'coresPerSocket' | 'threadsPerCore'>): number =>
  host.sockets * host.coresPerSocket * host.threadsPerCore

/** What a host has for guests, whatever is on it. */
export function hostCapacity(estate: Estate, host: Host): HostCapacity {
  const platform = platformOf(estate, host)
  return {
    platform,
    memoryMiB: host.memoryMiB - platform.ownMemoryMiB,
    reserveMiB: failoverReserve(estate, host),
    cores: host.sockets * host.coresPerSocket,
    logicalCpus: logicalCpus(host),
  }
}

/**
 * What a guest takes of a host of a platform: its memory with the overhead, and what its vCPUs count for.
 *
 * @example guestShare(policy, platform, { vcpu: 4, latency: 'general', memoryMiB: 8192 }) // { memoryMiB: 8338, cores: 1 }
 */
export const guestShare = (policy: Policy, platform: Platform, guest: Pick<Guest, 'vcpu' | 'latency' | 'memoryMiB'>): Share => ({
  memoryMiB: guestCost(platform, guest.memoryMiB),
  cores: coreLoad(policy, guest),
})

/** What is left of a host with these guests on it: all its memory without the platform's own, its reserve too, and its cores. */
export function leftBeside(
  { memoryMiB, cores, platform }: HostCapacity,
  policy: Policy,
  guests: readonly Pick<Guest, 'vcpu' | 'latency' | 'memoryMiB'>[],
): Share {
  let [leftMiB, leftCores] = [memoryMiB, cores]
  for (const guest of guests) {
    leftMiB -= guestCost(platform, guest.memoryMiB)
    leftCores -= coreLoad(policy, guest)
  }
  return { memoryMiB: leftMiB, cores: leftCores }
}

/** The memory of a host that may be promised, MiB: without the reserve, times the policies' ceiling. */
export const promisable = (policy: Policy, { memoryMiB, reserveMiB }: HostCapacity): number =>
  Math.round((memoryMiB - reserveMiB) * policy.memoryCeiling)

/** What may still be promised of a host beside all its machines, the reserve kept. Negative when over. */
export function leftToPromise(estate: Estate, host: Host, capacity = hostCapacity(estate, host)): Share {
  const policy = policyOf(estate)
  const left = leftBeside({ ...capacity, memoryMiB: promisable(policy, capacity) }, policy, machinesOn(estate, host.id))
  return lessHeld(estate, host, capacity.platform, left)
}

/** What moves under way hold of a host, in numbers. */
function heldShare(estate: Estate, host: Host, platform: Platform): Share {
  const policy = policyOf(estate)
  let [memoryMiB, cores] = [0, 0]
  for (const hold of heldOnHost(estate, host.id)) {
    const latency = estate.find('guest', hold.guestId)?.latency ?? 'general'
    memoryMiB += guestCost(platform, hold.memoryMiB)
    cores += coreLoad(policy, { vcpu: hold.vcpu, latency })
  }
  return { memoryMiB, cores }
}

/** What is left of a host beside what moves under way hold of it. */
export function lessHeld(estate: Estate, host: Host, platform: Platform, left: Share): Share {
  const held = heldShare(estate, host, platform)
  return { memoryMiB: left.memoryMiB - held.memoryMiB, cores: left.cores - held.cores }
}

/** A store in numbers, bytes. */
export interface StoreSpace {
  /** Thick disks whole, thin ones as last seen, and what else is on it. */
  readonly usedBytes: number
  /** Every disk at its full size, also of those that moves under way bring, and what else is on it. */
  readonly promisedBytes: number
  /** What moves under way will bring, and no disk shows yet. */
  readonly heldBytes: number
  /** Capacity less what is used and held. */
  readonly freeBytes: number
}

/** Bytes a disk takes on its store now. A thin disk never measured counts as empty. */
export const takenBytes = (disk: Pick<Disk, 'provisioning' | 'sizeBytes' | 'usedBytes'>): number =>
  disk.provisioning === 'thick' ? disk.sizeBytes : (disk.usedBytes ?? 0)

/**
 * What snapshots of the guests with disks on a store take there. Which disk a snapshot belongs to is not recorded: where a guest's disks
 * are on several stores, its size is shared by theirs.
 */
function snapshotsOn(
  estate: Estate,
  storeId: string,
): readonly { readonly snapshot: RecordOf<'snapshot'>; readonly bytes: number; readonly isShared: boolean }[] {
  if (estate.count('snapshot') === 0) return []
  const guestIds = new Set(estate.referring('disk', 'storeId', storeId).map(({ guestId }) => guestId))
  return [...guestIds].flatMap((guestId) => {
    const snapshots = estate.referring('snapshot', 'guestId', guestId).filter(({ sizeBytes }) => sizeBytes > 0)
    if (snapshots.length === 0) return []
    const disks = estate.referring('disk', 'guestId', guestId)
    const sizeOf = (some: typeof disks) => some.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0)
    const share = sizeOf(disks.filter((disk) => disk.storeId === storeId)) / sizeOf(disks)
    return snapshots.map((snapshot) => ({ snapshot, bytes: Math.round(snapshot.sizeBytes * share), isShared: share < 1 }))
  })
}

/** What is on a store beside disks, and neither grows nor shrinks with them: recorded images, snapshots, backups, files, what moves left. */
export const standing = (estate: Estate, store: Store) => [
  ...estate.referring('image', 'storeId', store.id).map(({ name, sizeBytes }) => ({ label: name, value: sizeBytes, from: 'image' })),
  ...snapshotsOn(estate, store.id).map(({ snapshot, bytes, isShared }) => ({
    label: `${estate.find('guest', snapshot.guestId)?.name ?? '?'} snapshot ${snapshot.name}`,
    value: bytes,
    from: isShared ? 'snapshot, shared over the stores of its disks by their size' : 'snapshot, as last seen',
  })),
  ...(store.otherBytes ? [{ label: 'backups, files', value: store.otherBytes, from: 'store, other use' }] : []),
  ...estate.referring('leftover', 'storeId', store.id).map(({ usedBytes, until, migrationId }) => {
    const move = estate.find('migration', migrationId)
    return {
      label: `left by ${move ? migrationNames(estate, move).guest : 'a move'}`,
      value: usedBytes,
      from: `leftover, kept until ${until}`,
    }
  }),
]

/**
 * Bytes that are on a store beside disks: recorded images, snapshots, backups, files, what moves left.
 *
 * @example standingBytes(estate, { ...store, otherBytes: 5e12 }) // 5e12, with no image on it
 */
export const standingBytes = (estate: Estate, store: Store): number =>
  snapshotsOn(estate, store.id).reduce((sum, { bytes }) => sum + bytes, 0) +
  estate.referring('image', 'storeId', store.id).reduce((sum, { sizeBytes }) => sum + sizeBytes, 0) +
  estate.referring('leftover', 'storeId', store.id).reduce((sum, { usedBytes }) => sum + usedBytes, 0) +
  (store.otherBytes ?? 0)

/** What is used, promised and free of a store. */
export const storeSpace = (estate: Estate, store: Store): StoreSpace =>
  estate.deriveFor(['disk', 'image', 'snapshot', 'leftover', 'migration', 'volume'], store, sumUp)

function sumUp(estate: Estate, store: Store): StoreSpace {
  const beside = standingBytes(estate, store)
  let [usedBytes, promisedBytes] = [beside, beside]
  for (const disk of estate.referring('disk', 'storeId', store.id)) {
    usedBytes += takenBytes(disk)
    promisedBytes += disk.sizeBytes
  }
  let heldBytes = 0
  for (const hold of heldOnStore(estate, store.id)) {
    heldBytes += hold.bytes
    promisedBytes += hold.promisedBytes
  }
  return { usedBytes, promisedBytes, heldBytes, freeBytes: store.capacityBytes - usedBytes - heldBytes }
}
