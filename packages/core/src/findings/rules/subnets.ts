import type { Estate, Pool, Subnet } from '../../estate/index.js'
import {
  contains,
  ipFromNumber,
  ipToNumber,
  isLinkLocal,
  isPrivate,
  overlaps,
  parsePrefix,
  prefixOf,
  usableRange,
} from '../../networks/index.js'
import { elderOf } from './elder.js'
import { defineRule } from '../rule.js'

const networkName = (estate: Estate, subnet: Subnet) => estate.find('network', subnet.networkId)?.name ?? ''
/** A network that no host bridges stays inside hosts: its prefix may be used again elsewhere. */
const staysInside = (estate: Estate, networkId: string): boolean => {
  const attachments = estate.referring('attachment', 'networkId', networkId)
  return attachments.length > 0 && attachments.every(({ kind }) => kind !== 'bridged')
}

/** Two subnets that share addresses: a router knows one way there, not two. */
export const subnetOverlap = defineRule({
  id: 'subnet.overlap',
  title: 'Two subnets share addresses',
  appliesTo: 'subnet',
  again: { subnet: () => 'all', attachment: () => 'all' },
  check(estate, subnet) {
    if (staysInside(estate, subnet.networkId)) return []
    const own = prefixOf(subnet)
    // The newer of the two is the one to move; a NAT network that repeats a prefix hides no machine.
    const other = elderOf(estate.all('subnet'), subnet, (one) => overlaps(prefixOf(one), own) && !staysInside(estate, one.networkId))
    if (!other) return []
    return [
      {
        severity: 'error',
        sentence: `${subnet.prefix} of ${networkName(estate, subnet)} shares addresses with ${other.prefix} of ${networkName(estate, other)}.`,
        evidence: [
          { label: 'first', value: `${other.prefix} on ${networkName(estate, other)}` },
          { label: 'second', value: `${subnet.prefix} on ${networkName(estate, subnet)}` },
        ],
        remedy: 'Renumber one of them to a free place of the block, with its machines and gateway.',
      },
    ]
  },
})

/** A gateway that no machine of the subnet can reach. */
export const subnetGateway = defineRule({
  id: 'subnet.gateway',
  title: 'Invalid gateway',
  appliesTo: 'subnet',
  check(_, subnet) {
    const { gateway } = subnet
    const prefix = prefixOf(subnet)
    // By their link-local addresses IPv6 routers announce themselves: RFC 4861.
    if (!gateway || (prefix.family === 6 && isLinkLocal(gateway))) return []
    const { first, last } = usableRange(prefix)
    const value = ipToNumber(gateway)
    const isInside = contains(prefix, gateway)
    if (isInside && value >= first && value <= last) return []
    const why = !isInside ? `lies outside ${subnet.prefix}` : value < first ? 'is the network’s own address' : 'is the broadcast address'
    return [
      {
        severity: 'error',
        sentence: `The gateway ${gateway} of ${subnet.prefix} ${why}: no machine there can reach it.`,
        evidence: [
          { label: 'gateway', value: gateway },
          { label: 'addresses for machines', value: `${ipFromNumber(prefix.family, first)} to ${ipFromNumber(prefix.family, last)}` },
        ],
        remedy: 'Set a gateway inside the prefix; the first address is usual.',
      },
    ]
  },
  fix(estate, subnet) {
    const prefix = prefixOf(subnet)
    const first = ipFromNumber(prefix.family, usableRange(prefix).first)
    return estate.byKey('address', { ip: first }).length === 0
      ? [{ type: 'subnet.update', id: subnet.id, changes: { gateway: first } }]
      : undefined
  },
})

const poolBounds = (pool: Pool) => ({ first: ipToNumber(pool.first), last: ipToNumber(pool.last) })

/** A DHCP range with addresses it must not give out: the gateway, the network or broadcast address, or another range’s addresses. */
export const poolUnsound = defineRule({
  id: 'pool.unsound',
  title: 'DHCP range with addresses it must not assign',
  appliesTo: 'pool',
  reads: ['> subnetId', '> subnetId < pool.subnetId'],
  check(estate, pool) {
    const subnet = estate.find('subnet', pool.subnetId)
    if (!subnet) return []
    const { first, last } = poolBounds(pool)
    const usable = usableRange(prefixOf(subnet))
    const gateway = subnet.gateway && contains(prefixOf(subnet), subnet.gateway) ? ipToNumber(subnet.gateway) : undefined
    const twin = elderOf(
      estate.referring('pool', 'subnetId', subnet.id),
      pool,
      (other) => poolBounds(other).first <= last && poolBounds(other).last >= first,
    )
    const what = [
      ...(gateway !== undefined && gateway >= first && gateway <= last ? [`the gateway ${subnet.gateway ?? ''}`] : []),
      ...(first < usable.first ? ['the network’s own address'] : []),
      ...(last > usable.last ? ['the broadcast address'] : []),
      ...(twin ? [`addresses of the range ${twin.first} to ${twin.last}`] : []),
    ]
    return what.length === 0
      ? []
      : [
          {
            severity: 'error',
            sentence: `The DHCP range ${pool.first} to ${pool.last} of ${subnet.prefix} assigns ${what.join(' and ')}.`,
            evidence: what.map((value) => ({ label: 'hands out', value })),
            remedy: 'Shrink the range so that it leaves them out.',
          },
        ]
  },
  fix(estate, pool) {
    const subnet = estate.find('subnet', pool.subnetId)
    if (!subnet) return undefined
    const prefix = prefixOf(subnet)
    let { first, last } = poolBounds(pool)
    const usable = usableRange(prefix)
    if (first < usable.first) first = usable.first
    if (last > usable.last) last = usable.last
    const gateway = subnet.gateway ? ipToNumber(subnet.gateway) : -1n
    // A gateway in the middle leaves two pools; the larger part is kept.
    if (gateway >= first && gateway <= last) {
      if (gateway - first > last - gateway) last = gateway - 1n
      else first = gateway + 1n
    }
    const isSame = first === poolBounds(pool).first && last === poolBounds(pool).last
    return isSame || first > last
      ? undefined
      : [
          {
            type: 'pool.update',
            id: pool.id,
            changes: { first: ipFromNumber(prefix.family, first), last: ipFromNumber(prefix.family, last) },
          },
        ]
  },
})

/** Prefixes set aside for examples; here they are used for public ones. RFC 5737, RFC 3849. */
const documentation = ['192.0.2.0/24', '198.51.100.0/24', '203.0.113.0/24', '2001:db8::/32'].map(parsePrefix)

/** Public addresses on a segment that is not public, or private ones on one that is. RFC 1918, RFC 4193. */
export const prefixOfRole = defineRule({
  id: 'subnet.not-of-its-role',
  title: 'Prefix that does not fit the role',
  appliesTo: 'subnet',
  reads: ['> networkId'],
  check(estate, subnet) {
    const network = estate.find('network', subnet.networkId)
    const first = subnet.prefix.split('/')[0] ?? ''
    if (!network) return []
    const isForUse = isPrivate(first) || documentation.some((prefix) => contains(prefix, first))
    if (network.role === 'public' ? !isPrivate(first) : isForUse) return []
    return [
      {
        severity: network.role === 'public' ? 'notice' : 'warning',
        sentence:
          network.role === 'public'
            ? `${subnet.prefix} on the public network ${network.name} is private: the internet does not route to it.`
            : `${subnet.prefix} on ${network.name} is public address space: unless it is yours, its true owner cannot be reached.`,
        evidence: [
          { label: 'role', value: network.role },
          { label: 'prefix', value: subnet.prefix },
        ],
        remedy:
          network.role === 'public'
            ? 'Use the addresses your provider routes to you, or another role.'
            : 'Use a private prefix (RFC 1918, RFC 4193).',
      },
    ]
  },
})

/** One VLAN ID for two networks of a site: their frames mix. IEEE 802.1Q. */
export const duplicateVlan = defineRule({
  id: 'network.duplicate-vlan',
  title: 'VLAN ID used by two networks',
  appliesTo: 'network',
  again: { network: () => 'all' },
  check(estate, network) {
    if (network.vlanId === null) return []
    const meets = (site: string | null) => site === null || network.site === null || site === network.site
    const elder = elderOf(estate.all('network'), network, (other) => other.vlanId === network.vlanId && meets(other.site))
    return elder
      ? [
          {
            severity: 'error',
            sentence: `${network.name} and ${elder.name} both have VLAN ${network.vlanId}${network.site ? ` at ${network.site}` : ''}: they are one segment on the wire.`,
            evidence: [
              { label: 'VLAN', value: network.vlanId },
              { label: 'first', value: elder.name },
              { label: 'second', value: network.name },
            ],
            remedy: 'Give one of them another VLAN ID, on the switches and here.',
          },
        ]
      : []
  },
})
