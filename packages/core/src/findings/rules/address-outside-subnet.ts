import { addressOwner, type Address, type Estate, type Subnet } from '../../estate/index.js'
import { contains, isLinkLocal, prefixOf } from '../../networks/index.js'
import { defineRule } from '../rule.js'
import { moveToNextFree } from './duplicate-address.js'

/** The subnet of the same network that contains an address, if there is one. */
function homeOf(estate: Estate, address: Address): Subnet | undefined {
  const networkId = estate.find('subnet', address.subnetId)?.networkId
  return networkId ? estate.referring('subnet', 'networkId', networkId).find((other) => contains(prefixOf(other), address.ip)) : undefined
}

/** An address outside the subnet it is counted in. */
export const addressOutsideSubnet = defineRule({
  id: 'address.outside-subnet',
  title: 'Address outside its subnet',
  appliesTo: 'address',
  reads: ['> subnetId > networkId < subnet.networkId', '> adapterId'],
  check(estate, address) {
    const subnet = estate.find('subnet', address.subnetId)
    // A link-local address is in no recorded prefix; it is counted where its segment is.
    if (!subnet || contains(prefixOf(subnet), address.ip) || isLinkLocal(address.ip)) return []
    const home = homeOf(estate, address)
    return [
      {
        severity: 'error',
        sentence: `${address.ip} of ${addressOwner(estate, address)} is recorded in ${subnet.prefix} but is outside it.`,
        evidence: [
          { label: 'address', value: address.ip },
          { label: 'subnet', value: subnet.prefix },
        ],
        remedy: home ? `Record it in ${home.prefix}.` : `Choose an address of ${subnet.prefix}, or record the subnet it belongs to.`,
      },
    ]
  },
  fix(estate, address) {
    const home = homeOf(estate, address)
    return home ? [{ type: 'address.update', id: address.id, changes: { subnetId: home.id } }] : moveToNextFree(estate, address)
  },
})
