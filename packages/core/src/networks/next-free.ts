import type { Address, Estate, Pool, Subnet } from '../estate/index.js'
import { oncePer } from '../lists/index.js'
import { contains, familyOf, holds, ipFromNumber, ipToNumber, parsePrefix, usableRange } from './prefix.js'

/** The prefix of a subnet, read once for each record. */
export const prefixOf = oncePer((subnet: Subnet) => parsePrefix(subnet.prefix))

/** Whether an address is in a DHCP range. */
export function inPool(pool: Pool, ip: string): boolean {
  const value = ipToNumber(ip)
  return value >= ipToNumber(pool.first) && value <= ipToNumber(pool.last)
}

/** The DHCP range of a subnet that contains an address, if any. */
export const poolHolding = (estate: Estate, subnetId: string, ip: string): Pool | undefined =>
  estate.referring('pool', 'subnetId', subnetId).find((pool) => inPool(pool, ip))

/** The DHCP range that contains a fixed address, if any: sooner or later the server leases it to another machine. */
export const fixedInPool = (estate: Estate, address: Address): Pool | undefined =>
  address.kind === 'fixed' ? poolHolding(estate, address.subnetId, address.ip) : undefined

/** The subnet of the estate that contains an address, if any. */
export function subnetHolding(estate: Estate, ip: string): Subnet | undefined {
  const [family, value] = [familyOf(ip), ipToNumber(ip)]
  return estate.all('subnet').find((subnet) => holds(prefixOf(subnet), family, value))
}

/** A run of addresses, both ends in it. */
interface Run {
  readonly first: bigint
  readonly last: bigint
}

/**
 * The addresses of a subnet that a new machine cannot have, as runs in order that neither touch nor overlap: recorded
 * ones, the gateway, every DHCP range, and what the prefix itself reserves.
 */
function takenRuns(estate: Estate, subnet: Subnet): readonly Run[] {
  const prefix = prefixOf(subnet)
  const usable = usableRange(prefix)
  const at = (ip: string): Run[] => (contains(prefix, ip) ? [{ first: ipToNumber(ip), last: ipToNumber(ip) }] : [])
  const runs: Run[] = [
    ...estate.referring('address', 'subnetId', subnet.id).flatMap(({ ip }) => at(ip)),
    ...estate.referring('lease', 'subnetId', subnet.id).flatMap(({ ip }) => at(ip)),
    ...(subnet.gateway ? at(subnet.gateway) : []),
    ...estate.referring('pool', 'subnetId', subnet.id).map((pool) => ({ first: ipToNumber(pool.first), last: ipToNumber(pool.last) })),
    ...(usable.first > prefix.first ? [{ first: prefix.first, last: usable.first - 1n }] : []),
    ...(usable.last < prefix.last ? [{ first: usable.last + 1n, last: prefix.last }] : []),
  ]
  const joined: { first: bigint; last: bigint }[] = []
  for (const { first, last } of runs.sort((a, b) => (a.first < b.first ? -1 : a.first > b.first ? 1 : 0))) {
    const before = joined.at(-1)
    if (before && first <= before.last + 1n) before.last = last > before.last ? last : before.last
    else joined.push({ first, last })
  }
  return joined
}

/** The free runs of a subnet, in order: what `takenRuns` leaves. */
export function freeRuns(estate: Estate, subnet: Subnet): readonly Run[] {
  const { first, last } = prefixOf(subnet)
  const free: Run[] = []
  let from = first
  for (const run of takenRuns(estate, subnet)) {
    if (run.first > from) free.push({ first: from, last: run.first - 1n })
    from = run.last + 1n
  }
  if (from <= last) free.push({ first: from, last })
  return free
}

/** Addresses of one host's guests are together in aligned blocks of this many. Common practice, no source. */
const HOST_BLOCK = 16n

/**
 * The next address of a subnet to give out: usable, not the gateway, not recorded nor seen in use, outside every DHCP range;
 * looked for where the subnet says.
 *
 * @param hostId for a subnet that hands out by host block: the host of the guest that gets it
 * @returns the address, or undefined when none is left
 * @example nextFree(estate, office) // '10.61.30.47'
 */
export function nextFree(estate: Estate, subnet: Subnet, hostId?: string | null): string | undefined {
  const { family } = prefixOf(subnet)
  const free = freeRuns(estate, subnet)
  const [lowest, highest] = [free[0], free.at(-1)]
  if (!lowest || !highest) return undefined
  if (subnet.handOut === 'from the high end') return ipFromNumber(family, highest.last)
  const inBlock = subnet.handOut === 'by host block' && hostId ? nextInHostBlock(estate, subnet, free, hostId) : undefined
  return ipFromNumber(family, inBlock ?? lowest.first)
}

/** The lowest free address in a block where the host's guests are already, or in the first unused block. */
function nextInHostBlock(estate: Estate, subnet: Subnet, free: readonly Run[], hostId: string): bigint | undefined {
  const own = new Set<bigint>()
  const used = new Set<bigint>()
  for (const address of estate.referring('address', 'subnetId', subnet.id)) {
    const block = ipToNumber(address.ip) / HOST_BLOCK
    used.add(block)
    const guest = estate.find('guest', estate.find('adapter', address.adapterId)?.guestId)
    if (guest?.hostId === hostId) own.add(block)
  }
  const freeIn = (block: bigint) => {
    const run = free.find((one) => one.last >= block * HOST_BLOCK && one.first < (block + 1n) * HOST_BLOCK)
    return run && (run.first > block * HOST_BLOCK ? run.first : block * HOST_BLOCK)
  }
  for (const block of [...own].sort((a, b) => (a < b ? -1 : 1))) {
    const at = freeIn(block)
    if (at !== undefined) return at
  }
  for (const run of free)
    for (let block = run.first / HOST_BLOCK; block <= run.last / HOST_BLOCK; block++) {
      if (!used.has(block)) return freeIn(block)
      if (used.size === 0) break
    }
  return undefined
}

/** The subnet of a network in which to look for an address first: IPv4 before IPv6, then by prefix. */
export function preferredSubnet(estate: Estate, networkId: string): Subnet | undefined {
  return [...estate.referring('subnet', 'networkId', networkId)].sort((a, b) => {
    const [pa, pb] = [prefixOf(a), prefixOf(b)]
    return pa.family - pb.family || (pa.first < pb.first ? -1 : 1)
  })[0]
}

/**
 * The subnet of a network that an address belongs to: the one that holds it, otherwise the preferred one.
 *
 * @param networkId null for none
 * @param ip null for an address that is still to be found
 */
export function preferredSubnetFor(estate: Estate, networkId: string | null, ip: string | null): Subnet | undefined {
  if (!networkId) return undefined
  const holding = ip ? estate.referring('subnet', 'networkId', networkId).find((subnet) => contains(prefixOf(subnet), ip)) : undefined
  return holding ?? preferredSubnet(estate, networkId)
}
