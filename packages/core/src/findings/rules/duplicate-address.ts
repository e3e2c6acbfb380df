import { type Command } from '../../commands/index.js'
import { addressOwner, type Address, type Estate } from '../../estate/index.js'
import { isLinkLocal, nextFree } from '../../networks/index.js'
import { elderOf } from './elder.js'
import { defineRule } from '../rule.js'
import { addressesOfAdapter, sameIp } from './again.js'

/** Another address of the same subnet for a record, where one is free. */
export function moveToNextFree(estate: Estate, address: Address): readonly Command[] | undefined {
  const subnet = estate.find('subnet', address.subnetId)
  const ip = subnet && nextFree(estate, subnet)
  return ip ? [{ type: 'address.update', id: address.id, changes: { ip } }] : undefined
}

/** One address recorded twice. The newer record is the one to move. */
export const duplicateAddress = defineRule({
  id: 'address.duplicate',
  title: 'Address assigned twice',
  appliesTo: 'address',
  again: {
    address: sameIp,
    adapter: (estate, adapter) => addressesOfAdapter(estate, adapter).flatMap((address) => sameIp(estate, address)),
    subnet: (estate, { id }) => estate.referring('address', 'subnetId', id).flatMap((address) => sameIp(estate, address)),
  },
  check(estate, address) {
    const networkOf = (a: Address) => estate.find('subnet', a.subnetId)?.networkId
    // A link-local address may be there again on every other segment (RFC 4291).
    const elder = elderOf(
      estate.byKey('address', { ip: address.ip }),
      address,
      (other) => !isLinkLocal(address.ip) || networkOf(other) === networkOf(address),
    )
    if (!elder) return []
    const sameNetwork = networkOf(elder) === networkOf(address)
    return [
      {
        severity: sameNetwork ? 'error' : 'warning',
        sentence: `${address.ip} belongs to ${addressOwner(estate, elder)} and to ${addressOwner(estate, address)}${sameNetwork ? '' : ', on two networks'}.`,
        evidence: [
          { label: 'address', value: address.ip },
          { label: 'first', value: addressOwner(estate, elder) },
          { label: 'second', value: addressOwner(estate, address) },
        ],
        remedy: `Give ${addressOwner(estate, address)} another address, on the machine and here.`,
      },
    ]
  },
  fix: moveToNextFree,
})
