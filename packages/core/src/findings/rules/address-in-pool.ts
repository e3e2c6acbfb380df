import { addressOwner } from '../../estate/index.js'
import { fixedInPool } from '../../networks/index.js'
import { defineRule } from '../rule.js'
import { moveToNextFree } from './duplicate-address.js'

/** A fixed address inside a DHCP pool: sooner or later the server leases it to another machine. Common practice, no source. */
export const addressInPool = defineRule({
  id: 'address.in-dhcp-pool',
  title: 'Fixed address in a DHCP range',
  appliesTo: 'address',
  reads: ['> subnetId < pool.subnetId', '> adapterId'],
  check(estate, address) {
    const pool = fixedInPool(estate, address)
    if (!pool) return []
    return [
      {
        severity: 'error',
        sentence: `${address.ip} of ${addressOwner(estate, address)} is fixed but inside the DHCP range ${pool.first} to ${pool.last}.`,
        evidence: [
          { label: 'address', value: address.ip },
          { label: 'DHCP range', value: `${pool.first} to ${pool.last}` },
        ],
        remedy: 'Choose an address outside the range, shrink the range, or make it a DHCP reservation.',
      },
    ]
  },
  fix: moveToNextFree,
})
