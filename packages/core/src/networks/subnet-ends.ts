import type { Address, Subnet } from '../estate/index.js'
import { prefixOf } from './next-free.js'
import { ipFromNumber, usableRange } from './prefix.js'

interface Ends {
  readonly own: string | undefined
  readonly broadcast: string | undefined
}
/** Kept for each record: thousands of addresses are held against them. */
const known = new WeakMap<Subnet, Ends>()

function endsOf(subnet: Subnet): Ends {
  const found = known.get(subnet)
  if (found) return found
  const { family, first, last } = prefixOf(subnet)
  const usable = usableRange(prefixOf(subnet))
  const ends = {
    own: usable.first > first ? ipFromNumber(family, first) : undefined,
    broadcast: usable.last < last ? ipFromNumber(family, last) : undefined,
  }
  known.set(subnet, ends)
  return ends
}

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
