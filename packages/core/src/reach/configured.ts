import type { Address, Estate, Subnet } from '../estate/index.js'
import {
  contains,
  familyOf,
  inPool,
  isLinkLocal,
  ipFromNumber,
  ipToNumber,
  type Prefix,
  prefixAround,
  prefixOf,
} from '../networks/index.js'
import type { InterfaceAddress } from './topology.js'

/** Addresses that adapters get from pools, one after the other. */
export class Leases {
  readonly #estate: Estate
  readonly #next = new Map<string, () => string | undefined>()

  constructor(estate: Estate) {
    this.#estate = estate
  }

  /** The address an adapter without a recorded one gets from a DHCP range: the one seen with its MAC, or an unused one. */
  of(networkId: string | null, mac: string | null): readonly InterfaceAddress[] {
    if (!networkId) return []
    const estate = this.#estate
    const subnet = estate.referring('subnet', 'networkId', networkId).find((one) => estate.referring('pool', 'subnetId', one.id).length > 0)
    if (!subnet) return []
    const seen = estate.referring('lease', 'subnetId', subnet.id).find((lease) => lease.mac === mac)
    let next = this.#next.get(subnet.id)
    if (!next) {
      next = leaser(estate, subnet.id)
      this.#next.set(subnet.id, next)
    }
    const ip = seen?.ip ?? next()
    return ip ? [configure(estate, networkId, prefixOf(subnet), ip, subnet.gateway ?? undefined, null, subnet.nameServers)] : []
  }
}

/** An address as its machine has it configured. */
export function configured(estate: Estate, address: Address): InterfaceAddress {
  const subnet = estate.find('subnet', address.subnetId)
  const planned = subnet ? prefixOf(subnet) : prefixAround(address.ip, familyOf(address.ip) === 4 ? 32 : 128)
  return configure(
    estate,
    subnet?.networkId,
    planned,
    address.ip,
    address.gateway ?? subnet?.gateway ?? undefined,
    address.length,
    subnet?.nameServers ?? null,
  )
}

/** A subnet's gateway as its router has it: by a link-local address it is on the subnet's prefix all the same. */
export function gatewayLeg(estate: Estate, subnet: Subnet, gateway: string): InterfaceAddress {
  const leg = configure(estate, subnet.networkId, prefixOf(subnet), gateway, undefined, null)
  return isLinkLocal(gateway) ? { ...leg, near: prefixOf(subnet) } : leg
}

function configure(
  estate: Estate,
  homeId: string | undefined,
  planned: Prefix,
  ip: string,
  gateway: string | undefined,
  length: number | null,
  nameServers: string | null = null,
): InterfaceAddress {
  const near = length === null && contains(planned, ip) ? planned : prefixAround(ip, length ?? planned.bits)
  return {
    ip,
    number: ipToNumber(ip),
    family: planned.family,
    near,
    gateway: gateway === ip ? undefined : gateway,
    homeId,
    plannedBits: planned.bits,
    nameServers: nameServers?.split(' ') ?? [],
  }
}

/** Gives the addresses of a subnet's pools one after the other, leaving out those somebody has. */
function leaser(estate: Estate, subnetId: string): () => string | undefined {
  const taken = new Set([
    ...estate.referring('address', 'subnetId', subnetId).map(({ ip }) => ip),
    ...estate.referring('lease', 'subnetId', subnetId).map(({ ip }) => ip),
    estate.find('subnet', subnetId)?.gateway,
  ])
  const pools = [...estate.referring('pool', 'subnetId', subnetId)].sort((a, b) => (ipToNumber(a.first) < ipToNumber(b.first) ? -1 : 1))
  let [index, at] = [0, pools[0] ? ipToNumber(pools[0].first) : 0n]
  return () => {
    for (let pool = pools[index]; pool; pool = pools[++index], at = pool ? ipToNumber(pool.first) : 0n)
      while (inPool(pool, ipFromNumber(familyOf(pool.first), at))) {
        const ip = ipFromNumber(familyOf(pool.first), at++)
        if (!taken.has(ip)) return ip
      }
    return undefined
  }
}
