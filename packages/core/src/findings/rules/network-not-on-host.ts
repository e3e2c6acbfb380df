import { carries } from '../../hosts/index.js'
import { defineRule } from '../rule.js'

/** An adapter plugged into a network that the guest's host does not carry: nothing answers. */
export const networkNotOnHost = defineRule({
  id: 'adapter.network-not-on-host',
  title: 'Network not attached to the host',
  appliesTo: 'adapter',
  reads: ['> guestId', '> networkId < attachment.networkId'],
  check(estate, adapter) {
    const host = estate.find('host', estate.find('guest', adapter.guestId)?.hostId)
    const network = estate.find('network', adapter.networkId)
    if (!host || !network || carries(estate, host.id, network.id)) return []
    return [
      {
        severity: 'error',
        sentence: `Adapter ${adapter.position} of ${estate.find('guest', adapter.guestId)?.name ?? ''} is plugged into ${network.name}, which is not attached to ${host.name}.`,
        evidence: [
          { label: 'network', value: network.name },
          { label: 'host', value: host.name },
        ],
        remedy: `Attach ${network.name} to ${host.name}, plug the adapter into another network, or move the guest.`,
      },
    ]
  },
  fix(estate, adapter) {
    const hostId = estate.find('guest', adapter.guestId)?.hostId
    return hostId && adapter.networkId
      ? [{ type: 'attachment.add', record: { hostId, networkId: adapter.networkId, kind: 'bridged' } }]
      : undefined
  },
})
