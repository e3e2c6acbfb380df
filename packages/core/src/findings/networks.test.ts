import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { soundNetwork, type NetworkEstate } from '../testing/network-estate.js'
import { testContext, TODAY } from '../testing/small-estate.js'
import { Findings, fixOf } from './index.js'

const ofNetworks = (net: NetworkEstate, ...commands: Command[]) => {
  const estate = applyAll(net.estate(), commands, testContext(5)).estate
  // Whatever is said of memory, backups and the like is not asked here.
  const list = Findings.of(estate, TODAY)
    .list()
    .filter(({ ruleId }) => /^(subnet|pool|network|address|lease|attachment|forward|route|intent|adapter)\.|name-not-for-dns/.test(ruleId))
  return { estate, list }
}
const update = (kind: string, id: string, changes: object) => ({ type: `${kind}.update`, id, changes }) as Command
const add = (kind: string, record: object) => ({ type: `${kind}.add`, record }) as Command

describe('rules of networks and addresses', () => {
  it('stay quiet on a sound estate', () => expect(ofNetworks(soundNetwork()).list).toEqual([]))
  it('and on link-local gateways of IPv6, the usual ones (RFC 4861), also recorded on two segments (RFC 4291)', () => {
    const net = soundNetwork()
    const six = ['office', 'lab'].flatMap((name, index): Command[] => {
      const id = `01890000-0000-7000-8000-00000000660${index}`
      const adapterId = net.id(`gate#${index + 1}`)
      return [
        add('subnet', { id, networkId: net.id(name), prefix: `fd00:61:${index}::/64`, gateway: 'fe80::1' }),
        add('address', { subnetId: id, adapterId, ip: `fd00:61:${index}::1` }),
        add('address', { subnetId: id, adapterId, ip: 'fe80::1' }),
      ]
    })
    const heard = [
      add('address', {
        subnetId: '01890000-0000-7000-8000-000000006600',
        adapterId: net.id('desk#1'),
        ip: 'fd00:61:0::9',
        gateway: 'fe80::2',
      }),
      add('route', { guestId: net.id('desk'), prefix: 'fd00:99::/64', via: 'fe80::7' }),
    ]
    expect(ofNetworks(net, ...six, ...heard).list).toEqual([])
    // Halved, both halves stay on the segment where the gateway is.
    const halved = ofNetworks(net, ...six, { type: 'subnet.split', subnetId: '01890000-0000-7000-8000-000000006600' }).estate
    expect(halved.all('subnet').filter(({ gateway }) => gateway === 'fe80::1')).toHaveLength(3)
  })
  it.each<[rule: string, (net: NetworkEstate) => Command[], sentence: string, isMended?: boolean]>([
    [
      'subnet.overlap',
      (n) => [add('subnet', { networkId: n.id('lab'), prefix: '10.1.0.128/25' })],
      '10.1.0.128/25 of lab shares addresses with 10.1.0.0/24 of office.',
    ],
    [
      'subnet.gateway',
      (n) => [update('subnet', n.id('office/subnet'), { gateway: '10.9.0.1' })],
      'The gateway 10.9.0.1 of 10.1.0.0/24 lies outside 10.1.0.0/24: no machine there can reach it.',
      true,
    ],
    [
      'subnet.gateway',
      (n) => [update('subnet', n.id('office/subnet'), { gateway: '10.1.0.255' })],
      'The gateway 10.1.0.255 of 10.1.0.0/24 is the broadcast address: no machine there can reach it.',
      true,
    ],
    [
      'pool.unsound',
      (n) => [add('pool', { subnetId: n.id('lab/subnet'), first: '10.3.0.1', last: '10.3.0.8' })],
      'The DHCP range 10.3.0.1 to 10.3.0.8 of 10.3.0.0/24 assigns the gateway 10.3.0.1.',
      true,
    ],
    [
      'pool.unsound',
      (n) => [add('pool', { subnetId: n.id('office/subnet'), first: '10.1.0.150', last: '10.1.0.210' })],
      'The DHCP range 10.1.0.150 to 10.1.0.210 of 10.1.0.0/24 assigns addresses of the range 10.1.0.100 to 10.1.0.199.',
    ],
    // RFC 1918: 10.0.0.0/8, 172.16.0.0/12, 192.168.0.0/16; 172.32.0.0 is beyond.
    [
      'subnet.not-of-its-role',
      (n) => [add('subnet', { networkId: n.id('lab'), prefix: '172.32.0.0/24' })],
      '172.32.0.0/24 on lab is public address space: unless it is yours, its true owner cannot be reached.',
    ],
    [
      'subnet.not-of-its-role',
      (n) => [update('network', n.id('lab'), { role: 'public' })],
      '10.3.0.0/24 on the public network lab is private: the internet does not route to it.',
    ],
    [
      'network.duplicate-vlan',
      () => [add('network', { name: 'other', vlanId: 10 })],
      'other and office both have VLAN 10: they are one segment on the wire.',
    ],
    [
      'guest.name-not-for-dns',
      (n) => [update('guest', n.id('desk'), { name: 'the_desk' })],
      'The guest’s name “the_desk” is not a host name: it is left out of the zone files.',
      true,
    ],
    [
      'host.name-not-for-dns',
      (n) => [update('host', n.id('gannet'), { name: 'desk' })],
      'desk is the name of a host and of a guest: in one zone it would mean both.',
    ],
    [
      'address.duplicate-name',
      (n) => [add('address', { subnetId: n.id('office/subnet'), ip: '10.1.0.30', kind: 'reserved', name: 'desk' })],
      '10.1.0.30 is named desk, and so is guest desk, in skerry.example.',
    ],
    [
      'address.reservation-without-mac',
      (n) => [add('address', { subnetId: n.id('office/subnet'), ip: '10.1.0.30', kind: 'DHCP reservation', name: 'phone' })],
      '10.1.0.30 is reserved for phone, but no MAC is recorded: DHCP cannot recognise the machine.',
    ],
    [
      'lease.against-plan',
      (n) => [add('lease', { subnetId: n.id('office/subnet'), ip: '10.1.0.9', mac: '00:00:5e:00:53:01', seenAt: '2027-01-18T08:00:00Z' })],
      '10.1.0.9 belongs to adapter 1 of desk (02:00:00:00:00:01) and was seen with 00:00:5e:00:53:01: two machines may have it.',
    ],
    [
      'lease.against-plan',
      (n) => [add('lease', { subnetId: n.id('office/subnet'), ip: '10.1.0.77', mac: '00:00:5e:00:53:01', seenAt: '2027-01-18T08:00:00Z' })],
      '10.1.0.77 is in use by 00:00:5e:00:53:01, but not recorded.',
      true,
    ],
    [
      'attachment.not-carried',
      (n) => [update('switch', n.id('sw0'), { taggedVlans: '10,20' })],
      'VLAN 30 of lab is not allowed on switch sw0 of gannet.',
      true,
    ],
    [
      'attachment.not-carried',
      (n) => ['eno1', 'eno2'].map((port) => update('port', n.id(port), { farVlans: '10,20', farEnd: 'sw-a 12' })),
      'VLAN 30 of lab is not allowed on the far end of eno1 of gannet (sw-a 12).',
    ],
    [
      'attachment.not-carried',
      (n) => ['eno1', 'eno2'].map((port) => update('port', n.id(port), { medium: 'wireless' })),
      'The uplink of sw0 on gannet is Wi-Fi: a Wi-Fi station cannot send frames for other addresses (IEEE 802.11), so office cannot be bridged.',
    ],
    [
      'attachment.mtu',
      (n) => [update('switch', n.id('sw0'), { mtu: 1500 })],
      'storage has the MTU 9000, and on gannet less passes: switch sw0: 1500.',
      true,
    ],
    [
      'attachment.mtu',
      (n) => [update('port', n.id('eno2'), { farMtu: 1500 })],
      'storage has the MTU 9000, and on gannet less passes: far end of eno2: 1500.',
    ],
    [
      'attachment.one-uplink',
      (n) => [update('port', n.id('eno2'), { switchId: null })],
      'storage leaves gannet by one port, eno1: a fault there stops every guest on shared stores.',
    ],
    [
      'subnet.gateway-forwards-nothing',
      (n) => [update('guest', n.id('gate'), { isRouter: false })],
      'The gateway 10.3.0.1 of 10.3.0.0/24 is gate, which is not recorded as forwarding packets.',
      true,
    ],
    [
      'forward.leads-nowhere',
      (n) => [add('forward', { hostId: n.id('gannet'), hostPort: 8080, adapterId: n.id('desk#1'), guestPort: 80 })],
      'tcp port 8080 of gannet has no target: adapter 1 of desk is not behind NAT there.',
    ],
    [
      'route.unreachable',
      (n) => [add('route', { guestId: n.id('desk'), prefix: '10.7.0.0/16', via: '10.9.0.1' })],
      'The route to 10.7.0.0/16 on desk goes via 10.9.0.1, which is on none of its segments.',
    ],
    [
      'address.not-for-machines',
      (n) => [update('address', n.id('desk#1.ip'), { ip: '10.1.0.255' })],
      '10.1.0.255 of adapter 1 of desk is the broadcast address of 10.1.0.0/24.',
      true,
    ],
    [
      'address.set-differently',
      (n) => [update('address', n.id('desk#1.ip'), { length: 16 })],
      'adapter 1 of desk has the length /16, planned /24.',
      true,
    ],
    [
      'address.set-differently',
      (n) => [update('address', n.id('desk#1.ip'), { gateway: '10.9.0.1' })],
      'adapter 1 of desk has the gateway 10.9.0.1, planned 10.1.0.1; that gateway lies outside 10.1.0.0/24.',
      true,
    ],
    [
      'adapter.not-connected',
      (n) => [update('adapter', n.id('desk#1'), { isConnected: false })],
      'Adapter 1 of desk has 10.1.0.9 and is not connected at power-on: after the next start it will not answer.',
      true,
    ],
    [
      'intent.not-met',
      (n) => [add('intent', { fromNetworkId: n.id('lab'), toKind: 'outside' })],
      'lab must reach outside, and does not: It arrives at outside, but the reply does not get back: The site gateway has no route to 10.3.0.0/24, to which gate beside it forwards.',
    ],
    [
      'intent.not-met',
      (n) => [add('intent', { fromNetworkId: n.id('lab'), toNetworkId: n.id('office'), wanted: 'must not reach' })],
      'lab must not reach office, and does in part.',
    ],
  ])('%s', (rule, change, sentence, isMended = false) => {
    const net = soundNetwork()
    const { estate, list } = ofNetworks(net, ...change(net))
    const finding = list.find(({ ruleId, sentence: said }) => ruleId === rule && said === sentence)
    expect(finding?.sentence ?? list.map(({ ruleId, sentence: said }) => `${ruleId}: ${said}`)).toBe(sentence)
    expect(finding?.evidence.length).toBeGreaterThan(0)
    expect(finding?.remedy.length).toBeGreaterThan(20)
    if (!finding || !isMended) return
    const fix = fixOf(estate, finding)
    expect(fix?.length).toBeGreaterThan(0)
    const after = Findings.of(applyAll(estate, fix ?? [], testContext(6)).estate, TODAY).list()
    expect(after.map(({ id }) => id)).not.toContain(finding.id)
  })
  it('a translated network may repeat a prefix: it hides nobody', () => {
    const net = soundNetwork().net('inner', '10.1.0.0/24', '10.1.0.1')
    net.record('attachment', { hostId: net.id('gannet'), networkId: net.id('inner'), kind: 'translated' })
    expect(ofNetworks(net).list.map(({ ruleId }) => ruleId)).not.toContain('subnet.overlap')
  })
  it('an intention that nothing speaks against stays quiet, and one that turns good is settled', () => {
    const net = soundNetwork()
    expect(ofNetworks(net, add('intent', { fromNetworkId: net.id('office'), toKind: 'outside' })).list).toEqual([])
    const routed = [
      add('intent', { fromNetworkId: net.id('lab'), toKind: 'outside' }),
      add('route', { prefix: '10.3.0.0/24', via: '10.1.0.254' }),
    ]
    expect(ofNetworks(net, ...routed).list).toEqual([])
  })
})
