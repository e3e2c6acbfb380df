import type { Command } from '../commands/index.js'
import type { Adapter, Address, Estate, Guest } from '../estate/index.js'

/** An adapter whose address belongs to another network than the one it is plugged into. */
export interface WrongWire {
  readonly adapter: Adapter
  readonly address: Address
  /** The network the address belongs to. */
  readonly homeId: string
}

/** The adapters of a guest that are plugged into another network than their address belongs to, in their order. */
export function wrongWires(estate: Estate, guest: Pick<Guest, 'id'>): readonly WrongWire[] {
  return [...estate.referring('adapter', 'guestId', guest.id)]
    .sort((a, b) => a.position - b.position)
    .flatMap((adapter) => {
      const [address] = estate.referring('address', 'adapterId', adapter.id)
      const homeId = estate.find('subnet', address?.subnetId)?.networkId
      return address && homeId && adapter.networkId && homeId !== adapter.networkId ? [{ adapter, address, homeId }] : []
    })
}

/** What to do about two crossed adapters. Common practice, no source. */
export const SWAP_BACK =
  'Swap the networks of the two adapters, restart it or plug them in again; then ping an address on the inside, then one on the outside.'

/** Each wrong adapter goes to the network its address belongs to; two crossed ones are swapped by the same. */
export const rewire = (wires: readonly WrongWire[]): readonly Command[] =>
  wires.map(({ adapter, homeId }) => ({ type: 'adapter.update', id: adapter.id, changes: { networkId: homeId } }))
