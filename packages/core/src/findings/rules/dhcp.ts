import { dayOf, addressOwner, type Estate, type Lease } from '../../estate/index.js'
import { macOf } from '../../names/index.js'
import { poolHolding } from '../../networks/index.js'
import { defineRule } from '../rule.js'
import { addressesOfAdapter } from './again.js'

/** A DHCP reservation for no MAC: the server has nothing to know the machine by. */
export const reservationWithoutMac = defineRule({
  id: 'address.reservation-without-mac',
  title: 'DHCP reservation without a MAC',
  appliesTo: 'address',
  reads: ['> hostId', '> adapterId'],
  check: (estate, address) =>
    address.kind === 'DHCP reservation' && !macOf(estate, address)
      ? [
          {
            severity: 'warning',
            sentence: `${address.ip} is reserved for ${addressOwner(estate, address)}, but no MAC is recorded: DHCP cannot recognise the machine.`,
            evidence: [{ label: 'address', value: address.ip }],
            remedy: 'Record the MAC, or make the address a fixed one.',
          },
        ]
      : [],
})

const plannedFor = (estate: Estate, lease: Lease) =>
  estate.byKey('address', { ip: lease.ip }).find(({ subnetId }) => subnetId === lease.subnetId)

/** An address seen with another MAC than it is planned for, or in use though nobody recorded it. */
export const leaseAgainstPlan = defineRule({
  id: 'lease.against-plan',
  title: 'Address in use but not recorded',
  appliesTo: 'lease',
  reads: ['> subnetId < pool.subnetId'],
  again: {
    address: (estate, address) => estate.byKey('lease', { ip: address.ip }).map(({ id }) => id),
    adapter: (estate, adapter) =>
      addressesOfAdapter(estate, adapter).flatMap(({ ip }) => estate.byKey('lease', { ip }).map(({ id }) => id)),
    host: (estate, host) =>
      estate.referring('address', 'hostId', host.id).flatMap(({ ip }) => estate.byKey('lease', { ip }).map(({ id }) => id)),
  },
  check(estate, lease) {
    const address = plannedFor(estate, lease)
    const seen = { label: 'seen', value: `${lease.mac}${lease.name ? `, ${lease.name}` : ''}` }
    if (!address)
      return poolHolding(estate, lease.subnetId, lease.ip)
        ? []
        : [
            {
              severity: 'notice',
              sentence: `${lease.ip} is in use by ${lease.mac}${lease.name ? ` (${lease.name})` : ''}, but not recorded.`,
              evidence: [seen],
              remedy: 'Record it, or find the machine that uses it.',
            },
          ]
    const mac = macOf(estate, address)
    return mac && mac !== lease.mac
      ? [
          {
            severity: 'error',
            sentence: `${lease.ip} belongs to ${addressOwner(estate, address)} (${mac}) and was seen with ${lease.mac}: two machines may have it.`,
            evidence: [{ label: 'planned', value: mac }, seen],
            remedy: 'Find the machine with the other MAC and give it another address.',
          },
        ]
      : []
  },
  fix: (estate, lease) =>
    plannedFor(estate, lease)
      ? undefined
      : [
          {
            type: 'address.add',
            record: {
              subnetId: lease.subnetId,
              ip: lease.ip,
              kind: 'reserved',
              mac: lease.mac,
              note: `seen ${dayOf(estate, lease.seenAt)}${lease.name ? `, ${lease.name}` : ''}`,
            },
          },
        ],
})
