import { rewire, SWAP_BACK, wrongWires } from '../../addresses/index.js'
import { recordTitle } from '../../estate/index.js'
import { defineRule } from '../rule.js'

/** An adapter with an address of another network; on a router with two, usually the adapters are the wrong way round. */
export const crossedAdapters = defineRule({
  id: 'guest.crossed-adapters',
  title: 'Address of another network on an adapter',
  appliesTo: 'guest',
  reads: ['< adapter.guestId', '< adapter.guestId < address.adapterId', '< adapter.guestId < address.adapterId > subnetId'],
  check(estate, guest) {
    const wrong = wrongWires(estate, guest)
    const [first, second] = wrong
    if (!first) return []
    const nameOf = (id: string | null | undefined) => estate.find('network', id)?.name ?? 'no network'
    const evidence = wrong.map(({ adapter, address, homeId }) => ({
      label: recordTitle(estate, 'adapter', adapter),
      value: `plugged into ${nameOf(adapter.networkId)}, ${address.ip} belongs to ${nameOf(homeId)}`,
    }))
    if (second && first.homeId === second.adapter.networkId && second.homeId === first.adapter.networkId) {
      return [
        {
          severity: 'error',
          sentence: `The adapters ${first.adapter.position} and ${second.adapter.position} of ${guest.name} are swapped: ${nameOf(first.adapter.networkId)} and ${nameOf(second.adapter.networkId)} each belong to the other.`,
          evidence,
          remedy: SWAP_BACK,
        },
      ]
    }
    return [
      {
        severity: 'error',
        sentence: `${guest.name} has ${first.address.ip} on adapter ${first.adapter.position}, which is plugged into ${nameOf(first.adapter.networkId)}; the address belongs to ${nameOf(first.homeId)}.`,
        evidence,
        remedy: 'Plug the adapter into the network its address belongs to, or give it an address of its network.',
      },
    ]
  },
  fix: (estate, guest) => rewire(wrongWires(estate, guest)),
})
