import { defineVerb, newIdField, type EstateEdit } from '../commands/index.js'
import { CommandError, derivedId, ref, text, type Estate, type Subnet } from '../estate/index.js'
import {
  type Prefix,
  contains,
  halvesOf,
  inPool,
  ipFromNumber,
  ipToNumber,
  isLinkLocal,
  overlaps,
  parsePrefix,
  prefixOf,
  siblingOf,
} from '../networks/index.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'subnet.move': typeof moveSubnet
    'subnet.split': typeof splitSubnet
    'subnet.merge': typeof mergeSubnets
  }
}

const moveSubnet = defineVerb({
  doc: 'Renumbers a subnet to another prefix of the same length; gateway, DHCP ranges and addresses keep their offset.',
  fields: {
    subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet to renumber.' }),
    prefix: text({ label: 'Prefix', doc: 'The new prefix.', shape: 'subnet' }),
  },
  /** @throws CommandError `not-found`, `invalid` */
  does(edit, { subnetId, prefix: target }) {
    const subnet = edit.require('subnet', subnetId, 'subnetId')
    const [from, to] = [prefixOf(subnet), parsePrefix(target)]
    if (from.family !== to.family || from.bits !== to.bits)
      throw new CommandError(
        'invalid',
        `${target} has a different length from ${subnet.prefix}; renumbering keeps /${from.bits}.`,
        'prefix',
      )
    const other = edit.estate.all('subnet').find((one) => one.id !== subnetId && overlaps(prefixOf(one), to))
    if (other) throw new CommandError('invalid', `${target} is used by ${other.prefix}; choose a free place.`, 'prefix')
    const moved = (ip: string) => (contains(from, ip) ? ipFromNumber(from.family, to.first + (ipToNumber(ip) - from.first)) : ip)
    edit.update('subnet', subnetId, {
      prefix: target,
      gateway: subnet.gateway && moved(subnet.gateway),
      nameServers: subnet.nameServers && subnet.nameServers.split(' ').map(moved).join(' '),
    })
    for (const pool of edit.estate.referring('pool', 'subnetId', subnetId))
      edit.update('pool', pool.id, { first: moved(pool.first), last: moved(pool.last) })
    for (const address of edit.estate.referring('address', 'subnetId', subnetId))
      edit.update('address', address.id, { ip: moved(address.ip), gateway: address.gateway && moved(address.gateway) })
    // What was seen was seen at the old addresses.
    for (const lease of edit.estate.referring('lease', 'subnetId', subnetId)) edit.remove('lease', lease.id)
  },
  words: ({ prefix }) => `Move a subnet to ${prefix}`,
})

const splitSubnet = defineVerb({
  doc: 'Halves a subnet; gateway, DHCP ranges and addresses stay in their half.',
  fields: {
    subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet to halve; it keeps the lower half.' }),
    id: newIdField('subnet'),
  },
  /** @throws CommandError `not-found`, `not-allowed` when it cannot be halved */
  does(edit, { subnetId, id }) {
    const subnet = edit.require('subnet', subnetId, 'subnetId')
    const { family, bits } = prefixOf(subnet)
    if (bits >= (family === 4 ? 31 : 127)) throw new CommandError('not-allowed', `${subnet.prefix} is too small to be halved.`, 'subnetId')
    const [lower, upper] = halvesOf(prefixOf(subnet))
    const isUpper = (ip: string) => contains(upper, ip)
    const { id: _, ...values } = subnet
    const gatewayAbove = subnet.gateway !== null && isUpper(subnet.gateway)
    // A link-local gateway is on the segment, which stays one.
    const isForBoth = subnet.gateway !== null && isLinkLocal(subnet.gateway)
    edit.update('subnet', subnetId, { prefix: lower.text, gateway: gatewayAbove ? null : subnet.gateway })
    const half = edit.add(
      'subnet',
      { ...values, ...(id ? { id } : {}), prefix: upper.text, gateway: gatewayAbove || isForBoth ? subnet.gateway : null },
      '',
    )
    for (const pool of edit.estate.referring('pool', 'subnetId', subnetId)) {
      if (isUpper(pool.first)) edit.update('pool', pool.id, { subnetId: half.id })
      else if (isUpper(pool.last)) {
        const { id: _pool, ...rest } = pool
        edit.update('pool', pool.id, { last: ipFromNumber(family, lower.last) })
        edit.add('pool', { ...rest, id: derivedId(half.id, pool.id), subnetId: half.id, first: ipFromNumber(family, upper.first) }, '')
      }
    }
    for (const kind of ['address', 'lease'] as const)
      for (const record of edit.estate.referring(kind, 'subnetId', subnetId))
        if (isUpper(record.ip)) edit.update(kind, record.id, { subnetId: half.id })
  },
  words: ({ subnetId }, { estate }) => `Split ${prefixOfSubnet(estate, subnetId)}`,
})

const mergeSubnets = defineVerb({
  doc: 'Joins a subnet of a network with the other half of the prefix they make together.',
  fields: {
    subnetId: ref('subnet', { label: 'Subnet', doc: 'One half; the lower one stays.' }),
    withId: ref('subnet', { label: 'With', doc: 'The other half.' }),
  },
  /** @throws CommandError `not-found`, `not-allowed` when the two are no halves of one prefix on one network */
  does(edit, { subnetId, withId }) {
    const pair = [edit.require('subnet', subnetId, 'subnetId'), edit.require('subnet', withId, 'withId')]
    const [lower, upper] = pair.sort((a, b) => (prefixOf(a).first < prefixOf(b).first ? -1 : 1)) as [Subnet, Subnet]
    if (lower.networkId !== upper.networkId)
      throw new CommandError(
        'not-allowed',
        `${lower.prefix} and ${upper.prefix} are on two networks; only subnets of one network are merged.`,
        'withId',
      )
    const whole = mergedPrefix(prefixOf(lower), prefixOf(upper))
    if (!whole) throw new CommandError('not-allowed', `${lower.prefix} and ${upper.prefix} are not the two halves of one prefix.`, 'withId')
    for (const kind of ['pool', 'address', 'lease'] as const)
      for (const record of edit.estate.referring(kind, 'subnetId', upper.id)) edit.update(kind, record.id, { subnetId: lower.id })
    joinPools(edit, lower)
    edit.remove('subnet', upper.id)
    edit.update('subnet', lower.id, {
      prefix: whole,
      gateway: lower.gateway ?? upper.gateway,
      nameServers: lower.nameServers ?? upper.nameServers,
    })
  },
  words: ({ subnetId }, { estate }) => `Merge ${prefixOfSubnet(estate, subnetId)} with the other half`,
})

/** What is done to subnets beside changing their fields. */
export const subnetVerbs = { 'subnet.move': moveSubnet, 'subnet.split': splitSubnet, 'subnet.merge': mergeSubnets }

const prefixOfSubnet = (estate: Estate, id: string): string => estate.find('subnet', id)?.prefix ?? 'a subnet removed since'

/** Pools that meet end to end after a merge become one. */
function joinPools(edit: EstateEdit, subnet: Subnet): void {
  const pools = [...edit.estate.referring('pool', 'subnetId', subnet.id)].sort((a, b) =>
    ipToNumber(a.first) < ipToNumber(b.first) ? -1 : 1,
  )
  for (const pool of pools) {
    const next = edit.estate
      .referring('pool', 'subnetId', subnet.id)
      .find((other) => ipToNumber(other.first) === ipToNumber(pool.last) + 1n && other.note === pool.note)
    const here = edit.estate.find('pool', pool.id)
    if (!next || !here || inPool(here, next.first)) continue
    edit.remove('pool', next.id)
    edit.update('pool', pool.id, { last: next.last })
  }
}

/** The prefix of which two are the halves. */
function mergedPrefix(lower: Prefix, upper: Prefix): string | undefined {
  return lower.bits > 0 && siblingOf(lower) === upper.text ? `${ipFromNumber(lower.family, lower.first)}/${lower.bits - 1}` : undefined
}
