import { counted } from '../units/index.js'
import { defineVerb, newIdField, type EstateEdit } from '../commands/index.js'
import { choice, CommandError, derivedId, holderPhrase, optional, ref, text, type Subnet } from '../estate/index.js'
import { contains, ipFromNumber, ipToNumber, nextFree, preferredSubnetFor, prefixOf } from '../networks/index.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'address.assign': typeof assignAddress
    'address.release': typeof releaseAddress
    'address.reserve': typeof reserveRun
  }
}

const assignAddress = defineVerb({
  doc: 'Gives an adapter, or a host’s management, an address; the next free one when none is named.',
  fields: {
    id: newIdField('address'),
    adapterId: optional(ref('adapter', { label: 'Adapter', doc: 'The adapter that gets it.' })),
    hostId: optional(ref('host', { label: 'Host', doc: 'Or the host whose management gets it.' })),
    subnetId: optional(ref('subnet', { label: 'Subnet', doc: 'The subnet to take it from; the adapter’s network’s first when left out.' })),
    ip: optional(text({ label: 'Address', doc: 'The address; the next free one when left out.', shape: 'ip' })),
    kind: choice(['fixed', 'DHCP reservation'], {
      label: 'Kind',
      doc: 'Set on the machine, or assigned by DHCP to its MAC.',
      default: 'fixed',
    }),
  },
  /** @throws CommandError `invalid`, `not-found`, `no-free-address` */
  does(edit, { id, adapterId, hostId, subnetId, ip: wanted, kind }) {
    if (!adapterId === !hostId)
      throw new CommandError('invalid', 'Name the adapter or the host that gets the address, one of them.', 'adapterId')
    const subnet = subnetFor(edit, adapterId, subnetId, wanted)
    const ip = wanted ?? nextFree(edit.estate, subnet, guestHost(edit, adapterId))
    if (!ip)
      throw new CommandError(
        'no-free-address',
        `${subnet.prefix} has no free address outside its DHCP ranges. Release one, shrink a range, or add a subnet.`,
        'subnetId',
      )
    if (hostId) edit.require('host', hostId, 'hostId')
    edit.add('address', { ...(id ? { id } : {}), subnetId: subnet.id, ip, kind, adapterId, hostId }, '')
  },
  fixed(input, made) {
    const address = made.find('address', input.id)
    return address ? { ...input, ip: address.ip, subnetId: address.subnetId } : input
  },
  words: ({ ip, hostId, adapterId }, { nameOf }) =>
    `Assign ${ip ?? 'the next free address'} to ${hostId ? nameOf('host', hostId) : nameOf('adapter', adapterId)}`,
})

const releaseAddress = defineVerb({
  doc: 'Releases an address: it is free again.',
  fields: { addressId: ref('address', { label: 'Address', doc: 'The address to release.' }) },
  /** @throws CommandError `not-found` */
  does(edit, { addressId }) {
    edit.remove('address', edit.require('address', addressId, 'addressId').id)
  },
  words: ({ addressId }, { nameOf }) => `Release ${nameOf('address', addressId)}`,
})

/** The largest run that is reserved at once: a /24. */
const RUN_MAX = 256n

const reserveRun = defineVerb({
  doc: 'Keeps a run of addresses free for later: each is recorded as reserved.',
  fields: {
    id: newIdField('run; the ids of its addresses follow from it'),
    subnetId: ref('subnet', { label: 'Subnet', doc: 'The subnet they are in.' }),
    first: text({ label: 'First', doc: 'First address of the run.', shape: 'ip' }),
    last: text({ label: 'Last', doc: 'Last address of the run.', shape: 'ip' }),
    note: optional(text({ label: 'Note', doc: 'What they are kept for.', shape: 'note', max: 4000 })),
  },
  /** @throws CommandError `not-found`, `invalid`, `not-unique` when one of the run is taken */
  does(edit, { id, subnetId, first, last, note }) {
    const subnet = edit.require('subnet', subnetId, 'subnetId')
    const prefix = prefixOf(subnet)
    for (const [path, ip] of [
      ['first', first],
      ['last', last],
    ] as const)
      if (!contains(prefix, ip)) throw new CommandError('invalid', `${ip} is not in ${subnet.prefix}.`, path)
    const [from, to] = [ipToNumber(first), ipToNumber(last)]
    if (to < from) throw new CommandError('invalid', `The run ends (${last}) before it starts (${first}); swap the two.`, 'last')
    if (to - from >= RUN_MAX)
      throw new CommandError(
        'invalid',
        `${counted(Number(to - from + 1n), 'address', 'addresses')} are too many to reserve at once; the limit is ${RUN_MAX}.`,
        'last',
      )
    const taken = new Map(edit.estate.referring('address', 'subnetId', subnetId).map((address) => [address.ip, address]))
    const run = id ?? edit.context.newId()
    for (let at = from; at <= to; at++) {
      const ip = ipFromNumber(prefix.family, at)
      const holder = taken.get(ip)
      if (holder)
        throw new CommandError(
          'not-unique',
          `${ip} is used by ${holderPhrase(edit.estate, 'address', holder)}; choose a run without it.`,
          'first',
          { what: ip, by: holder.id },
        )
      edit.add('address', { id: derivedId(run, ip), subnetId, ip, kind: 'reserved', note: note ?? '' }, '')
    }
  },
  words: ({ first, last }) => `Reserve ${first}${last === first ? '' : ` to ${last}`}`,
})

/** What is done to addresses beside changing their fields. */
export const addressVerbs = {
  'address.assign': assignAddress,
  'address.release': releaseAddress,
  'address.reserve': reserveRun,
}

/** The host on which the guest of an adapter runs. */
const guestHost = (edit: EstateEdit, adapterId: string | null): string | null | undefined =>
  edit.estate.find('guest', edit.estate.find('adapter', adapterId)?.guestId)?.hostId

function subnetFor(edit: EstateEdit, adapterId: string | null, subnetId: string | null, ip: string | null): Subnet {
  if (subnetId) return edit.require('subnet', subnetId, 'subnetId')
  if (!adapterId) throw new CommandError('invalid', 'Subnet is missing: name the subnet the host’s address is in.', 'subnetId')
  const adapter = edit.require('adapter', adapterId, 'adapterId')
  if (!adapter.networkId)
    throw new CommandError('invalid', 'The adapter is plugged into no network; plug it in first, or name a subnet.', 'adapterId')
  const subnet = preferredSubnetFor(edit.estate, adapter.networkId, ip)
  if (!subnet) {
    const network = edit.require('network', adapter.networkId, 'adapterId')
    throw new CommandError('invalid', `Network ${network.name} has no subnet; add one to it first.`, 'adapterId')
  }
  return subnet
}
