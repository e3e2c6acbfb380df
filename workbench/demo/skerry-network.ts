import type { Command, NewRecord } from '@insel/core'
import type { Teller } from './skerry-hardware.js'

/** What the telling of the networks needs besides ids. */
export interface NetworkTeller extends Teller {
  readonly portOf: (host: string, name: string) => string
  readonly attachmentOf: (host: string, network: string) => string
  readonly addressOf: (ip: string) => string
  readonly subnetOf: (prefix: string) => string
  readonly adapterOf: (guest: string, position: number) => string
  readonly ipOf: (guest: string) => string
}

/** Switches and their uplinks: what each carries here and, as far as somebody looked, at the far end. */
const switches: readonly {
  readonly host: string
  readonly name: string
  readonly bond: NewRecord<'switch'>['bond']
  readonly vlans: string
  readonly mtu?: number
  readonly carries: readonly string[]
  readonly uplinks: readonly (readonly [port: string, farEnd: string, farVlans: string | null])[]
}[] = [
  ...(['gannet', 'fulmar'] as const).flatMap((host, index) => [
    {
      host,
      name: 'sw-mgmt',
      bond: 'active and standby' as const,
      vlans: '10',
      carries: ['mgmt'],
      uplinks: [
        ['eno1', `core-a port ${3 + index}`, '10'],
        ['eno2', `core-b port ${3 + index}`, '10'],
      ] as const,
    },
    {
      host,
      name: 'sw-store',
      bond: 'LACP' as const,
      vlans: '20',
      mtu: 9000,
      carries: ['storage'],
      uplinks: [
        ['ens1f0', `core-a port ${13 + index}`, '20'],
        ['ens1f1', `core-b port ${13 + index}`, '20'],
      ] as const,
    },
    {
      host,
      name: 'sw-guests',
      bond: 'none' as const,
      vlans: '30,40,50,60',
      carries: ['studio', 'office', 'public', 'backup'],
      uplinks: [['ens2f0', `core-a port ${23 + index}`, '30,40,50,60']] as const,
    },
  ]),
  // The far end at the mast was never told of the backup VLAN.
  {
    host: 'tern',
    name: 'sw-mast',
    bond: 'none',
    vlans: '10,60,80',
    carries: ['mgmt', 'mast', 'backup'],
    uplinks: [['eno1', 'mast-sw port 2', '10,80']],
  },
]

/** The networks as they are lived in: wiring, name servers, reservations, what was seen, who is meant to reach whom. */
export function networksLived({ id, newId, portOf, attachmentOf, addressOf, subnetOf, adapterOf, ipOf }: NetworkTeller): Command[] {
  const wired = switches.flatMap(({ host, name, bond, vlans, mtu, carries, uplinks }): Command[] => {
    const switchId = newId()
    return [
      {
        type: 'switch.add',
        record: { id: switchId, hostId: id('host', host), name, bond: bond ?? 'none', taggedVlans: vlans, mtu: mtu ?? 1500 },
      },
      ...uplinks.map(([port, farEnd, farVlans]): Command => ({
        type: 'port.update',
        id: portOf(host, port),
        changes: { switchId, farEnd, farVlans, ...(mtu ? { farMtu: mtu } : {}) },
      })),
      ...carries.map((network): Command => ({ type: 'attachment.update', id: attachmentOf(host, network), changes: { switchId } })),
    ]
  })
  const office = subnetOf('10.61.40.0/23')
  const nameServers = ipOf('dns-1')
  const served = ['10.61.10.0/24', '10.61.30.0/24', '10.61.40.0/23', '10.61.80.0/24', '192.0.2.0/26'].map((prefix): Command => ({
    type: 'subnet.update',
    id: subnetOf(prefix),
    changes: { nameServers },
  }))
  const device = (ip: string, name: string, mac: string, note = ''): Command => ({
    type: 'address.add',
    record: { id: newId(), subnetId: office, ip, kind: 'DHCP reservation', name, mac, note },
  })
  const seen = (ip: string, mac: string, name: string | null): Command => ({
    type: 'lease.add',
    record: { id: newId(), subnetId: office, ip, mac, name, seenAt: '2027-01-18T07:52:00.000Z' },
  })
  const network = (name: string) => ({ kind: 'network' as const, networkId: id('network', name), name: null })
  const role = (name: string) => ({ kind: 'role' as const, networkId: null, name })
  const outside = { kind: 'outside' as const, networkId: null, name: null }
  type Side = ReturnType<typeof network> | ReturnType<typeof role> | typeof outside
  const intent = (from: Side, wanted: 'must reach' | 'must not reach', to: Side): Command => ({
    type: 'intent.add',
    record: {
      id: newId(),
      fromKind: from.kind,
      fromNetworkId: from.networkId,
      fromName: from.name,
      toKind: to.kind,
      toNetworkId: to.networkId,
      toName: to.name,
      wanted,
    },
  })
  return [
    ...wired,
    ...served,
    { type: 'address.update', id: addressOf('10.61.40.254'), changes: { name: 'gate-inside' } },
    { type: 'subnet.update', id: subnetOf('10.61.40.0/23'), changes: { handOut: 'by host block' } },
    {
      type: 'address.reserve',
      subnetId: subnetOf('10.61.30.0/24'),
      first: '10.61.30.200',
      last: '10.61.30.215',
      note: 'outside broadcast van',
    },
    {
      type: 'address.add',
      record: { id: newId(), subnetId: subnetOf('2001:db8:61::/64'), ip: '2001:db8:61::10', adapterId: adapterOf('stream-edge-1', 1) },
    },
    device('10.61.41.20', 'printer-desk', '00:00:5e:00:53:a1', 'beside the kitchen'),
    device('10.61.41.21', 'printer-studio', '00:00:5e:00:53:a2'),
    device('10.61.41.30', 'phone-reception', '00:00:5e:00:53:a8'),
    ...['laptop-mh', 'laptop-tl', 'tablet-news', null, 'laptop-ob'].map((name, index) =>
      seen(`10.61.40.${101 + index * 3}`, `00:00:5e:00:53:c${index}`, name),
    ),
    {
      type: 'filter.add',
      record: {
        id: newId(),
        position: 10,
        action: 'deny',
        fromPrefix: '10.61.40.0/23',
        toPrefix: '10.61.10.0/24',
        note: 'desks stay out of management',
      },
    },
    {
      type: 'forward.add',
      record: { id: newId(), hostId: id('host', 'puffin'), hostPort: 8022, adapterId: adapterOf('build', 1), guestPort: 22 },
    },
    intent(network('office'), 'must reach', outside),
    intent(network('office'), 'must not reach', role('management')),
    intent(outside, 'must not reach', role('guests')),
    intent(outside, 'must reach', role('public')),
    intent(role('lab'), 'must not reach', network('office')),
    intent(network('mast'), 'must reach', network('studio')),
    intent(network('studio'), 'must not reach', role('storage')),
  ]
}
