import {
  contains,
  halvesOf,
  inPool,
  ipFromNumber,
  isLinkLocal,
  ipToNumber,
  overlaps,
  parsePrefix,
  prefixOf,
  siblingOf,
  type Prefix,
} from '../../networks/index.js'
import { CommandError } from '../command-error.js'
import { holderPhrase } from '../describe.js'
import type { Draft } from '../draft.js'
import type { Subnet } from '../kinds/index.js'
import type { VerbCommand } from './command.js'

/** The largest run that is reserved at once: a /24. */
const RUN_MAX = 256n

/** @throws CommandError `not-found`, `invalid`, `not-unique` when one of the run is taken */
export function reserveRun(draft: Draft, { subnetId, first, last, note }: VerbCommand<'address.reserve'>): void {
  const subnet = draft.require('subnet', subnetId, 'subnetId')
  const prefix = prefixOf(subnet)
  for (const [path, ip] of [
    ['first', first],
    ['last', last],
  ] as const)
    if (!contains(prefix, ip)) throw new CommandError('invalid', `${ip} is not in ${subnet.prefix}.`, path)
  const [from, to] = [ipToNumber(first), ipToNumber(last)]
  if (to < from) throw new CommandError('invalid', `The run ends (${last}) before it begins (${first}); swap the two.`, 'last')
  if (to - from >= RUN_MAX)
    throw new CommandError('invalid', `${to - from + 1n} addresses are too many to reserve at once; the most is ${RUN_MAX}.`, 'last')
  const taken = new Map(draft.estate.referring('address', 'subnetId', subnetId).map((address) => [address.ip, address]))
  for (let at = from; at <= to; at++) {
    const ip = ipFromNumber(prefix.family, at)
    const holder = taken.get(ip)
    if (holder)
      throw new CommandError(
        'not-unique',
        `${ip} is taken by ${holderPhrase(draft.estate, 'address', holder)}; choose a run without it.`,
        'first',
      )
    draft.add('address', { subnetId, ip, kind: 'reserved', note: note ?? '' }, '')
  }
}

/** @throws CommandError `not-found`, `invalid` */
export function moveSubnet(draft: Draft, { subnetId, prefix: target }: VerbCommand<'subnet.move'>): void {
  const subnet = draft.require('subnet', subnetId, 'subnetId')
  const [from, to] = [prefixOf(subnet), parsePrefix(target)]
  if (from.family !== to.family || from.bits !== to.bits)
    throw new CommandError('invalid', `${target} has another length than ${subnet.prefix}; a move keeps /${from.bits}.`, 'prefix')
  const other = draft.estate.all('subnet').find((one) => one.id !== subnetId && overlaps(prefixOf(one), to))
  if (other) throw new CommandError('invalid', `${target} is taken by ${other.prefix}; choose a free place.`, 'prefix')
  const moved = (ip: string) => (contains(from, ip) ? ipFromNumber(from.family, to.first + (ipToNumber(ip) - from.first)) : ip)
  draft.update('subnet', subnetId, {
    prefix: target,
    gateway: subnet.gateway && moved(subnet.gateway),
    nameServers: subnet.nameServers && subnet.nameServers.split(' ').map(moved).join(' '),
  })
  for (const pool of draft.estate.referring('pool', 'subnetId', subnetId))
    draft.update('pool', pool.id, { first: moved(pool.first), last: moved(pool.last) })
  for (const address of draft.estate.referring('address', 'subnetId', subnetId))
    draft.update('address', address.id, { ip: moved(address.ip), gateway: address.gateway && moved(address.gateway) })
  // What was seen was seen at the old addresses.
  for (const lease of draft.estate.referring('lease', 'subnetId', subnetId)) draft.remove('lease', lease.id)
}

/** @throws CommandError `not-found`, `not-allowed` when it cannot be halved */
export function splitSubnet(draft: Draft, { subnetId, id }: VerbCommand<'subnet.split'>): void {
  const subnet = draft.require('subnet', subnetId, 'subnetId')
  const { family, bits } = prefixOf(subnet)
  if (bits >= (family === 4 ? 31 : 127)) throw new CommandError('not-allowed', `${subnet.prefix} is too small to be halved.`, 'subnetId')
  const [lower, upper] = halvesOf(prefixOf(subnet))
  const isUpper = (ip: string) => contains(upper, ip)
  const { id: _, ...values } = subnet
  const gatewayAbove = subnet.gateway !== null && isUpper(subnet.gateway)
  // A link-local gateway is on the segment, which stays one.
  const isForBoth = subnet.gateway !== null && isLinkLocal(subnet.gateway)
  draft.update('subnet', subnetId, { prefix: lower.text, gateway: gatewayAbove ? null : subnet.gateway })
  const half = draft.add(
    'subnet',
    { ...values, ...(id ? { id } : {}), prefix: upper.text, gateway: gatewayAbove || isForBoth ? subnet.gateway : null },
    '',
  )
  for (const pool of draft.estate.referring('pool', 'subnetId', subnetId)) {
    if (isUpper(pool.first)) draft.update('pool', pool.id, { subnetId: half.id })
    else if (isUpper(pool.last)) {
      const { id: _pool, ...rest } = pool
      draft.update('pool', pool.id, { last: ipFromNumber(family, lower.last) })
      draft.add('pool', { ...rest, subnetId: half.id, first: ipFromNumber(family, upper.first) }, '')
    }
  }
  for (const kind of ['address', 'lease'] as const)
    for (const record of draft.estate.referring(kind, 'subnetId', subnetId))
      if (isUpper(record.ip)) draft.update(kind, record.id, { subnetId: half.id })
}

/** @throws CommandError `not-found`, `not-allowed` when the two are no halves of one prefix on one network */
export function mergeSubnets(draft: Draft, { subnetId, withId }: VerbCommand<'subnet.merge'>): void {
  const pair = [draft.require('subnet', subnetId, 'subnetId'), draft.require('subnet', withId, 'withId')]
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
    for (const record of draft.estate.referring(kind, 'subnetId', upper.id)) draft.update(kind, record.id, { subnetId: lower.id })
  joinPools(draft, lower)
  draft.remove('subnet', upper.id)
  draft.update('subnet', lower.id, {
    prefix: whole,
    gateway: lower.gateway ?? upper.gateway,
    nameServers: lower.nameServers ?? upper.nameServers,
  })
}

/** Pools that meet end to end after a merge become one. */
function joinPools(draft: Draft, subnet: Subnet): void {
  const pools = [...draft.estate.referring('pool', 'subnetId', subnet.id)].sort((a, b) =>
    ipToNumber(a.first) < ipToNumber(b.first) ? -1 : 1,
  )
  for (const pool of pools) {
    const next = draft.estate
      .referring('pool', 'subnetId', subnet.id)
      .find((other) => ipToNumber(other.first) === ipToNumber(pool.last) + 1n && other.note === pool.note)
    const here = draft.estate.find('pool', pool.id)
    if (!next || !here || inPool(here, next.first)) continue
    draft.remove('pool', next.id)
    draft.update('pool', pool.id, { last: next.last })
  }
}

/** The prefix of which two are the halves. */
function mergedPrefix(lower: Prefix, upper: Prefix): string | undefined {
  return lower.bits > 0 && siblingOf(lower) === upper.text ? `${ipFromNumber(lower.family, lower.first)}/${lower.bits - 1}` : undefined
}
