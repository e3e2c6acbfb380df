import { type Estate, type Host, policyOf, standstillOf, storesForDisks } from '../estate/index.js'
import { guestShare, hostCapacity, leftToPromise, storeSpace } from '../capacity/index.js'
import { formatBytes, formatMiB, formatNumber } from '../units/index.js'
import type { Demand } from './fit.js'

/** A size of guest that one asks room for. */
export type GuestSize = Pick<Demand, 'vcpu' | 'memoryMiB' | 'latency' | 'networkIds'> & { readonly diskBytes: number }

/** How many more guests of a size a host takes, and what ends it. */
export interface HostRoom {
  readonly host: Host
  readonly count: number
  /** What runs out first, in words. */
  readonly limit: string
  /** How many each resource alone would take. */
  readonly by: { readonly memory: number; readonly processors: number; readonly stores: number }
}

/** No more than this many are counted: beyond, the answer is “plenty”. */
export const ROOM_MAX = 9999

/**
 * How many more guests of a size still fit on a host, with its failover reserve kept, its processors under the ceiling and
 * its stores under the promise the policies allow.
 *
 * @example roomOn(estate, gannet, { vcpu: 2, memoryMiB: 2048, diskBytes: 0, latency: 'general', networkIds: [] }).count // 9
 */
export function roomOn(estate: Estate, host: Host, size: GuestSize): HostRoom {
  const policy = policyOf(estate)
  const capacity = hostCapacity(estate, host)
  const left = leftToPromise(estate, host, capacity)
  const times = (left: number, each: number) => (each <= 0 ? ROOM_MAX : Math.max(0, Math.min(ROOM_MAX, Math.floor(left / each + 1e-9))))
  const share = guestShare(policy, capacity.platform, size)
  const stores = storesForDisks(estate, host).map((store) =>
    Math.max(0, (store.capacityBytes * policy.thinPromiseMaxPercent) / 100 - storeSpace(estate, store).promisedBytes),
  )
  const by = {
    memory: times(left.memoryMiB, share.memoryMiB),
    processors: size.vcpu > capacity.logicalCpus ? 0 : times(left.cores, share.cores),
    stores:
      size.diskBytes <= 0
        ? ROOM_MAX
        : Math.min(
            ROOM_MAX,
            stores.reduce((sum, free) => sum + times(free, size.diskBytes), 0),
          ),
  }
  const missing = size.networkIds.filter((networkId) => estate.byKey('attachment', { hostId: host.id, networkId }).length === 0)
  const none = (limit: string): HostRoom => ({ host, count: 0, limit, by })
  const why = standstillOf(estate, host)
  if (why !== undefined) return none(`${host.name} ${why}`)
  if (missing.length > 0) return none(`${missing.map((id) => estate.find('network', id)?.name ?? id).join(' and ')} is not attached`)
  const count = Math.min(by.memory, by.processors, by.stores)
  const limits = {
    memory: `memory: ${formatMiB(Math.max(0, left.memoryMiB))} left, ${formatMiB(share.memoryMiB)} each`,
    processors:
      size.vcpu > capacity.logicalCpus
        ? `processors: ${size.vcpu} vCPU on ${capacity.logicalCpus} logical CPUs`
        : `processors: ${formatNumber(Math.max(0, left.cores))} cores left, ${formatNumber(share.cores, 2)} each`,
    stores: `stores: ${formatBytes(stores.reduce((sum, free) => sum + free, 0))} left to promise, ${formatBytes(size.diskBytes)} each`,
  }
  const first = (['memory', 'processors', 'stores'] as const).find((one) => by[one] === count) ?? 'memory'
  return { host, count, limit: limits[first], by }
}
