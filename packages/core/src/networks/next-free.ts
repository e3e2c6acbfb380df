import type { Estate, Pool, Subnet } from '../estate/index.js'
import { contains, ipFromNumber, ipToNumber, parsePrefix, usableRange, type Prefix } from './prefix.js'

const prefixes = new WeakMap<Subnet, Prefix>()

/** The prefix of a subnet, read once for each record. */
export function prefixOf(subnet: Subnet): Prefix {
  const known = prefixes.get(subnet) ?? parsePrefix(subnet.prefix)
  prefixes.set(subnet, known)
  return known
}

/** Whether an address lies in a DHCP pool. */
export function inPool(pool: Pool, ip: string): boolean {
  const value = ipToNumber(ip)
  return value >= ipToNumber(pool.first) && value <= ipToNumber(pool.last)
}

/** The pool of a subnet in which an address lies, if any. */
export const poolHolding = (estate: Estate, subnetId: string, ip: string): Pool | undefined =>
  estate.referring('pool', 'subnetId', subnetId).find((pool) => inPool(pool, ip))

/**
 * The lowest address of a subnet that nobody has: usable, not the gateway, not recorded, outside every pool.
 *
 * @returns the address, or undefined when none is left
 * @example nextFree(estate, office) // '10.61.30.47'
 */
export function nextFree(estate: Estate, subnet: Subnet): string | undefined {
  const prefix = prefixOf(subnet)
  const range = usableRange(prefix)
  const taken = new Set(estate.referring('address', 'subnetId', subnet.id).map((address) => ipToNumber(address.ip)))
  if (subnet.gateway && contains(prefix, subnet.gateway)) taken.add(ipToNumber(subnet.gateway))
  const pools = estate
    .referring('pool', 'subnetId', subnet.id)
    .map((pool) => ({ first: ipToNumber(pool.first), last: ipToNumber(pool.last) }))
  let candidate = range.first
  while (candidate <= range.last) {
    const at = candidate
    const pool = pools.find((p) => at >= p.first && at <= p.last)
    if (pool) candidate = pool.last + 1n
    else if (taken.has(at)) candidate = at + 1n
    else return ipFromNumber(prefix.family, at)
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
