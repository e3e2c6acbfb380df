import { recordTitle, type Address, type Command, type Estate } from '../../estate/index.js'
import { nextFree } from '../../networks/index.js'
import { defineRule } from '../rule.js'
import { sameIp } from './again.js'

/** Who has an address, in words. */
export function ownerOf(estate: Estate, address: Address): string {
  const adapter = estate.find('adapter', address.adapterId)
  if (adapter) return recordTitle(estate, 'adapter', adapter)
  return estate.find('host', address.hostId)?.name ?? 'nobody yet'
}

/** Another address of the same subnet for a record, where one is free. */
export function moveToNextFree(estate: Estate, address: Address): readonly Command[] | undefined {
  const subnet = estate.find('subnet', address.subnetId)
  const ip = subnet && nextFree(estate, subnet)
  return ip ? [{ type: 'address.update', id: address.id, changes: { ip } }] : undefined
}

/** One address recorded twice. The younger record is the one to move. */
export const duplicateAddress = defineRule({
  id: 'address.duplicate',
  title: 'Address given twice',
  appliesTo: 'address',
  again: { address: sameIp },
  check(estate, address) {
    const elder = estate.byKey('address', { ip: address.ip }).find((other) => other.id < address.id)
    if (!elder) return []
    const networkOf = (a: Address) => estate.find('subnet', a.subnetId)?.networkId
    const sameNetwork = networkOf(elder) === networkOf(address)
    return [
      {
        severity: sameNetwork ? 'error' : 'warning',
        sentence: `${address.ip} belongs to ${ownerOf(estate, elder)} and to ${ownerOf(estate, address)}${sameNetwork ? '' : ', on two networks'}.`,
        evidence: [
          { label: 'address', value: address.ip },
          { label: 'first', value: ownerOf(estate, elder) },
          { label: 'second', value: ownerOf(estate, address) },
        ],
        remedy: `Give ${ownerOf(estate, address)} another address, on the machine and here.`,
      },
    ]
  },
  fix: moveToNextFree,
})
