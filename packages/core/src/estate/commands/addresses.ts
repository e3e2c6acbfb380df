import { contains, nextFree, preferredSubnet, prefixOf } from '../../networks/index.js'
import { CommandError } from '../command-error.js'
import type { Draft } from '../draft.js'
import type { Subnet } from '../kinds/index.js'
import type { VerbCommand } from './command.js'

/** @throws CommandError `invalid`, `not-found`, `no-free-address` */
export function assignAddress(draft: Draft, command: VerbCommand<'address.assign'>): void {
  const { adapterId = null, hostId = null, kind } = command
  if (!adapterId === !hostId)
    throw new CommandError('invalid', 'Name the adapter or the host that gets the address, one of them.', 'adapterId')
  const subnet = subnetFor(draft, command)
  const ip = command.ip ?? nextFree(draft.estate, subnet, guestHost(draft, adapterId))
  if (!ip)
    throw new CommandError(
      'no-free-address',
      `${subnet.prefix} has no free address outside its pools. Release one, shrink a pool, or add a subnet.`,
      'subnetId',
    )
  if (hostId) draft.require('host', hostId, 'hostId')
  draft.add('address', { ...(command.id ? { id: command.id } : {}), subnetId: subnet.id, ip, kind: kind ?? 'fixed', adapterId, hostId }, '')
}

/** The host on which the guest of an adapter runs. */
const guestHost = (draft: Draft, adapterId: string | null): string | null | undefined =>
  draft.estate.find('guest', draft.estate.find('adapter', adapterId)?.guestId)?.hostId

function subnetFor(draft: Draft, { adapterId, subnetId, ip }: VerbCommand<'address.assign'>): Subnet {
  if (subnetId) return draft.require('subnet', subnetId, 'subnetId')
  if (!adapterId) throw new CommandError('invalid', 'Subnet is missing: name the subnet the host’s address is in.', 'subnetId')
  const adapter = draft.require('adapter', adapterId, 'adapterId')
  if (!adapter.networkId)
    throw new CommandError('invalid', 'The adapter is plugged into no network; plug it in first, or name a subnet.', 'adapterId')
  const holding = ip ? draft.estate.referring('subnet', 'networkId', adapter.networkId).find((s) => contains(prefixOf(s), ip)) : undefined
  const subnet = holding ?? preferredSubnet(draft.estate, adapter.networkId)
  if (!subnet) {
    const network = draft.require('network', adapter.networkId, 'adapterId')
    throw new CommandError('invalid', `Network ${network.name} has no subnet; add one to it first.`, 'adapterId')
  }
  return subnet
}

/** @throws CommandError `not-found` */
export function releaseAddress(draft: Draft, { addressId }: VerbCommand<'address.release'>): void {
  draft.remove('address', draft.require('address', addressId, 'addressId').id)
}
