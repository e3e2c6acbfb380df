import type { Address, Subnet } from '../estate/index.js'
import { oncePer } from '../lists/index.js'
import { prefixOf } from './next-free.js'
import { ipFromNumber, usableRange } from './prefix.js'

/** Kept for each record: thousands of addresses are held against them. */
const endsOf = oncePer((subnet: Subnet) => {
  const { family, first, last } = prefixOf(subnet)
  const usable = usableRange(prefixOf(subnet))
  return {
    own: usable.first > first ? ipFromNumber(family, first) : undefined,
    broadcast: usable.last < last ? ipFromNumber(family, last) : undefined,
  }
})

/**
 * Which of the addresses at a subnet's ends, which no machine has, an address is.
 *
 * @see RFC 1122, section 3.2.1.3; both ends of a /31 are usable, RFC 3021
 * @example endOf(studio, '10.61.30.255') // 'the broadcast'
 */
export function endOf(subnet: Subnet, ip: string): 'the network’s own' | 'the broadcast' | undefined {
  const { own, broadcast } = endsOf(subnet)
  return ip === own ? 'the network’s own' : ip === broadcast ? 'the broadcast' : undefined
}

/** Whether somebody has an address: a guest or a host, or a device by its name or MAC; others are kept free on purpose. */
export const isOfMachine = ({ kind, name, mac }: Pick<Address, 'kind' | 'name' | 'mac'>): boolean =>
  kind !== 'reserved' || name !== null || mac !== null
