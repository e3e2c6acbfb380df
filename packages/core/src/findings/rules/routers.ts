import { routerName, type Estate } from '../../estate/index.js'
import { isNearGateway, prefixOf } from '../../networks/index.js'
import { defineRule } from '../rule.js'

/** The guest or recorded host that a subnet names as its gateway. */
function gatewayOf(estate: Estate, subnet: { readonly id: string; readonly gateway: string | null; readonly networkId: string }) {
  const address = subnet.gateway
    ? estate.byKey('address', { ip: subnet.gateway }).find(({ subnetId }) => subnetId === subnet.id)
    : undefined
  const guest = estate.find('guest', estate.find('adapter', address?.adapterId)?.guestId)
  const host = estate.find('host', address?.hostId)
  return guest ? { kind: 'guest' as const, machine: guest } : host ? { kind: 'host' as const, machine: host } : undefined
}

/** A subnet whose gateway is a machine that passes nothing on. */
export const gatewayForwards = defineRule({
  id: 'subnet.gateway-forwards-nothing',
  title: 'Gateway that does not forward',
  appliesTo: 'subnet',
  reads: [
    '< address.subnetId',
    '< address.subnetId > hostId',
    '< address.subnetId > adapterId',
    '< address.subnetId > adapterId > guestId',
    '> networkId < attachment.networkId',
  ],
  check(estate, subnet) {
    const gateway = gatewayOf(estate, subnet)
    if (!gateway || gateway.machine.isRouter) return []
    const isTranslating =
      gateway.kind === 'host' &&
      estate
        .referring('attachment', 'hostId', gateway.machine.id)
        .some(({ networkId, kind }) => networkId === subnet.networkId && kind !== 'bridged')
    if (isTranslating) return []
    return [
      {
        severity: 'warning',
        sentence: `The gateway ${subnet.gateway ?? ''} of ${subnet.prefix} is ${gateway.machine.name}, which is not recorded as forwarding packets.`,
        evidence: [{ label: 'gateway', value: `${subnet.gateway ?? ''}, ${gateway.machine.name}` }],
        remedy: `Record ${gateway.machine.name} as forwarding packets if it is a router; otherwise correct the gateway.`,
      },
    ]
  },
  fix(estate, subnet) {
    const gateway = gatewayOf(estate, subnet)
    return gateway && [{ type: `${gateway.kind}.update`, id: gateway.machine.id, changes: { isRouter: true } }]
  },
})

/** A port forwarded to a guest that is no longer behind that host's translation. */
export const forwardLost = defineRule({
  id: 'forward.leads-nowhere',
  title: 'Forwarded port without a target',
  appliesTo: 'forward',
  reads: ['> adapterId', '> adapterId > guestId', '> adapterId < address.adapterId', '> hostId < attachment.hostId'],
  check(estate, forward) {
    const adapter = estate.find('adapter', forward.adapterId)
    const guest = estate.find('guest', adapter?.guestId)
    const host = estate.find('host', forward.hostId)
    if (!adapter || !guest || !host) return []
    const kind = estate.referring('attachment', 'hostId', host.id).find(({ networkId }) => networkId === adapter.networkId)?.kind
    const why =
      guest.hostId !== host.id
        ? `${guest.name} is not on ${host.name}`
        : kind !== 'translated'
          ? `adapter ${adapter.position} of ${guest.name} is not behind NAT there`
          : estate.referring('address', 'adapterId', adapter.id).length === 0
            ? `adapter ${adapter.position} of ${guest.name} has no fixed address`
            : undefined
    return why
      ? [
          {
            severity: 'warning',
            sentence: `${forward.protocol} port ${forward.hostPort} of ${host.name} has no target: ${why}.`,
            evidence: [{ label: 'forward', value: `${host.name}:${forward.hostPort} to ${guest.name}:${forward.guestPort}` }],
            remedy: 'Remove the forward, or set it on the host the guest is on.',
          },
        ]
      : []
  },
  fix: (estate, forward) => {
    const guest = estate.find('guest', estate.find('adapter', forward.adapterId)?.guestId)
    return guest?.hostId === forward.hostId ? undefined : [{ type: 'forward.remove', id: forward.id }]
  },
})

/** A route whose next router is on no segment of its machine. */
export const routeUnreachable = defineRule({
  id: 'route.unreachable',
  title: 'Route via a router that is not directly connected',
  appliesTo: 'route',
  again: {
    address: () => 'all',
    adapter: () => 'all',
    subnet: () => 'all',
  },
  check(estate, route) {
    const addresses = route.guestId
      ? estate.referring('adapter', 'guestId', route.guestId).flatMap(({ id }) => estate.referring('address', 'adapterId', id))
      : route.hostId
        ? estate.referring('address', 'hostId', route.hostId)
        : []
    const near =
      route.guestId || route.hostId
        ? addresses.flatMap(({ subnetId }) => estate.find('subnet', subnetId) ?? [])
        : estate.all('subnet').filter(({ gateway }) => gateway !== null)
    if (near.some((subnet) => isNearGateway(prefixOf(subnet), route.via))) return []
    return [
      {
        severity: 'warning',
        sentence: `The route to ${route.prefix} on ${routerName(estate, route)} goes via ${route.via}, which is on none of its segments.`,
        evidence: [{ label: 'near', value: near.map(({ prefix }) => prefix).join(', ') || 'nothing' }],
        remedy: 'Enter the address of the next router on a segment the machine is on.',
      },
    ]
  },
})
