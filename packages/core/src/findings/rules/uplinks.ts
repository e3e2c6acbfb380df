import type { Command } from '../../commands/index.js'
import type { Attachment, Estate, Port } from '../../estate/index.js'
import { uplinkEnd } from '../../reach/index.js'
import { defineRule } from '../rule.js'

/** What decides how a host carries a network. */
const reads = ['> networkId', '> hostId', '> hostId < switch.hostId', '> hostId < port.hostId']
const uplinksOf = (estate: Estate, attachment: Attachment): readonly Port[] =>
  attachment.switchId ? estate.referring('port', 'switchId', attachment.switchId).filter(({ medium }) => medium !== 'wireless') : []

/** A bridged network that does not leave the host: no uplink, no cable, Wi-Fi, or a VLAN that one end does not carry. */
export const networkNotCarried = defineRule({
  id: 'attachment.not-carried',
  title: 'Bridged network that does not leave the host',
  appliesTo: 'attachment',
  reads,
  check(estate, attachment) {
    const network = estate.find('network', attachment.networkId)
    const host = estate.find('host', attachment.hostId)
    if (!network || attachment.kind !== 'bridged' || host?.kind !== 'physical' || host.state !== 'in service') return []
    const end = uplinkEnd(estate, attachment, network)
    if (!end) return []
    return [
      {
        severity: 'error',
        sentence: end.sentence,
        evidence: [
          { label: 'network', value: `${network.name}, ${network.vlanId === null ? 'untagged' : `VLAN ${network.vlanId}`}` },
          {
            label: 'uplinks',
            value:
              uplinksOf(estate, attachment)
                .map(({ name }) => name)
                .join(', ') || 'none',
          },
        ],
        remedy: end.mend,
      },
    ]
  },
  fix(estate, attachment): readonly Command[] | undefined {
    const network = estate.find('network', attachment.networkId)
    const own = estate.find('switch', attachment.switchId)
    const end = network && uplinkEnd(estate, attachment, network)
    if (end?.code === 'wireless-uplink') return [{ type: 'attachment.update', id: attachment.id, changes: { kind: 'translated' } }]
    if (end?.code !== 'vlan-not-carried' || !own || network?.vlanId === null || !network) return undefined
    // The far end is another machine: it is not mended by recording it.
    if (end.isFar) return undefined
    return [{ type: 'switch.update', id: own.id, changes: { taggedVlans: [own.taggedVlans, network.vlanId].filter(Boolean).join(',') } }]
  },
})

/** A network whose packets are larger than the switch or the far end of its uplinks passes. */
export const mtuTooSmall = defineRule({
  id: 'attachment.mtu',
  title: 'MTU smaller on the way than planned',
  appliesTo: 'attachment',
  reads,
  check(estate, attachment) {
    const network = estate.find('network', attachment.networkId)
    const own = estate.find('switch', attachment.switchId)
    if (!network || !own || attachment.kind !== 'bridged') return []
    const smaller = [
      ...(own.mtu < network.mtu ? [`switch ${own.name}: ${own.mtu}`] : []),
      ...uplinksOf(estate, attachment).flatMap(({ name, farMtu }) =>
        farMtu !== null && farMtu < network.mtu ? [`far end of ${name}: ${farMtu}`] : [],
      ),
    ]
    if (smaller.length === 0) return []
    return [
      {
        severity: network.role === 'storage' ? 'error' : 'warning',
        sentence: `${network.name} has the MTU ${network.mtu}, and on ${estate.find('host', attachment.hostId)?.name ?? ''} less passes: ${smaller.join(', ')}.`,
        evidence: [{ label: 'planned', value: network.mtu }, ...smaller.map((value) => ({ label: 'passes', value }))],
        remedy: 'Set one MTU along the whole path: guest, switch, port, far end. Otherwise large packets are lost silently.',
      },
    ]
  },
  fix(estate, attachment) {
    const network = estate.find('network', attachment.networkId)
    const own = estate.find('switch', attachment.switchId)
    return network && own && own.mtu < network.mtu ? [{ type: 'switch.update', id: own.id, changes: { mtu: network.mtu } }] : undefined
  },
})

/** A storage network on one uplink: a pulled cable stops every guest on shared stores. Common practice, no source. */
export const storageOneUplink = defineRule({
  id: 'attachment.one-uplink',
  title: 'Storage on one uplink',
  appliesTo: 'attachment',
  reads,
  check(estate, attachment) {
    const network = estate.find('network', attachment.networkId)
    if (network?.role !== 'storage' || attachment.kind !== 'bridged' || !attachment.switchId) return []
    const uplinks = uplinksOf(estate, attachment)
    const host = estate.find('host', attachment.hostId)
    return uplinks.length === 1 && host?.state === 'in service'
      ? [
          {
            severity: 'notice',
            sentence: `${network.name} leaves ${host.name} by one port, ${uplinks[0]?.name ?? ''}: a fault there stops every guest on shared stores.`,
            evidence: [{ label: 'uplinks', value: uplinks.length }],
            remedy: 'Make a second port an uplink of the switch, to another physical switch.',
          },
        ]
      : []
  },
})
