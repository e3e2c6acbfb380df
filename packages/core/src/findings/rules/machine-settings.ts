import { type Address, addressOwner } from '../../estate/index.js'
import { endOf, ipFromNumber, isLinkLocal, isNearGateway, isOfMachine, prefixAround, prefixOf, usableRange } from '../../networks/index.js'
import { defineRule } from '../rule.js'
import { moveToNextFree } from './duplicate-address.js'

/** The network's own or the broadcast address, given to a machine. RFC 1122, section 3.2.1.3; the ends of a /31 are usable, RFC 3021. */
export const addressNotForMachines = defineRule({
  id: 'address.not-for-machines',
  title: 'Address that cannot be used',
  appliesTo: 'address',
  reads: ['> subnetId', '> adapterId'],
  check(estate, address) {
    const subnet = estate.find('subnet', address.subnetId)
    if (!subnet || !isOfMachine(address)) return []
    const end = endOf(subnet, address.ip)
    if (!end) return []
    const { family } = prefixOf(subnet)
    const { first, last } = usableRange(prefixOf(subnet))
    return [
      {
        severity: 'error',
        sentence: `${address.ip} of ${addressOwner(estate, address)} is ${end} address of ${subnet.prefix}.`,
        evidence: [{ label: 'addresses for machines', value: `${ipFromNumber(family, first)} to ${ipFromNumber(family, last)}` }],
        remedy: 'Choose another address of the subnet.',
      },
    ]
  },
  fix: moveToNextFree,
})

/** A mask or gateway set on the machine that is not the recorded one. */
export const machineDiffers = defineRule({
  id: 'address.set-differently',
  title: 'Mask or gateway set differently on the machine',
  appliesTo: 'address',
  reads: ['> subnetId', '> adapterId'],
  check(estate, address: Address) {
    if (address.length === null && address.gateway === null) return []
    const subnet = estate.find('subnet', address.subnetId)
    if (!subnet) return []
    const { bits } = prefixOf(subnet)
    const owner = addressOwner(estate, address)
    const near = prefixAround(address.ip, address.length ?? bits)
    const isFar = address.gateway !== null && !isNearGateway(near, address.gateway)
    const differs = [
      ...(address.length !== null && address.length !== bits ? [{ label: 'length', value: `/${address.length}, planned /${bits}` }] : []),
      // A machine that hears the router's announcement has its link-local address (RFC 4861), whatever the record calls it.
      ...(address.gateway !== null && address.gateway !== subnet.gateway && !(subnet.gateway !== null && isLinkLocal(address.gateway))
        ? [{ label: 'gateway', value: `${address.gateway}, planned ${subnet.gateway ?? 'none'}` }]
        : []),
    ]
    if (differs.length === 0) return []
    return [
      {
        severity: isFar || (address.length !== null && address.length !== bits) ? 'error' : 'notice',
        sentence: `${owner} has ${differs.map(({ label, value }) => `the ${label} ${value}`).join(' and ')}${isFar ? `; that gateway lies outside ${near.text}` : ''}.`,
        evidence: differs,
        remedy:
          'Correct it on the machine and clear it here; with a wrong mask a machine treats remote machines as local, or the other way round.',
      },
    ]
  },
  fix: (_, address) => [{ type: 'address.update', id: address.id, changes: { length: null, gateway: null } }],
})

/** A running guest whose adapter has an address and is not connected at power-on. */
export const adapterNotConnected = defineRule({
  id: 'adapter.not-connected',
  title: 'Adapter not connected at power-on',
  appliesTo: 'adapter',
  reads: ['> guestId', '< address.adapterId'],
  check(estate, adapter) {
    if (adapter.isConnected) return []
    const guest = estate.find('guest', adapter.guestId)
    const [address] = estate.referring('address', 'adapterId', adapter.id)
    if (guest?.state !== 'running' || !address) return []
    return [
      {
        severity: 'warning',
        sentence: `Adapter ${adapter.position} of ${guest.name} has ${address.ip} and is not connected at power-on: after the next start it will not answer.`,
        evidence: [{ label: 'address', value: address.ip }],
        remedy: 'Connect it at power-on, and now.',
      },
    ]
  },
  fix: (_, adapter) => [{ type: 'adapter.update', id: adapter.id, changes: { isConnected: true } }],
})
