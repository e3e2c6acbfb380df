import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { type Host } from '../estate/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { checkManagement } from './management.js'
import { managementPlan } from './management-plan.js'
import { maskLength, readShownNetwork } from './shown-network.js'

const hostId = idOf('gannet')
const net = '01890000-0000-7000-8000-0000000000e1'
const subnet = '01890000-0000-7000-8000-0000000000e2'
const port = (name: string): Command => ({ type: 'port.add', record: { hostId, name, cable: 'present', role: 'management' } })
const plan: Command[] = [
  { type: 'network.add', record: { id: net, name: 'mgmt', role: 'management', vlanId: 10 } },
  { type: 'subnet.add', record: { id: subnet, networkId: net, prefix: '10.61.10.0/24', gateway: '10.61.10.1' } },
  { type: 'pool.add', record: { subnetId: subnet, first: '10.61.10.100', last: '10.61.10.199' } },
  { type: 'address.assign', hostId, subnetId: subnet, ip: '10.61.10.7', kind: 'fixed' },
]
const estateWith = (...commands: Command[]) => applyAll(smallEstate(), [...plan, ...commands], testContext(61)).estate
const signs = (text: string, ...commands: Command[]) => {
  const estate = estateWith(...(commands.length > 0 ? commands : [port('eno1'), port('eno2')]))
  return checkManagement(estate, estate.find('host', hostId) as Host, readShownNetwork(text).shown).map(({ sentence }) => sentence)
}
const good = 'Address: 10.61.10.7\nNetmask: 255.255.255.0\nGateway: 10.61.10.1\nDNS: 10.61.10.53\nHostname: gannet.skerry.example\nVLAN: 10'
const but = (label: string, value: string) => good.replace(new RegExp(`^${label}.*$`, 'm'), `${label}: ${value}`)

describe('what an installer shows of its network', () => {
  it('as planned: nothing to say', () => expect(signs(good)).toEqual([]))

  it('the port it speaks of is one of the host’s, with its MAC, and carries management', () => {
    const ports: Command[] = [
      { type: 'port.add', record: { hostId, name: 'eno1', cable: 'present', role: 'management', mac: '00:00:5e:00:53:11' } },
      port('eno2'),
      { type: 'port.add', record: { hostId, name: 'ens1f0', cable: 'present', role: 'storage', mac: '00:00:5e:00:53:31' } },
    ]
    expect(signs(`Interface ....... eno1\n${good}\nMAC Address: 00-00-5E-00-53-11`, ...ports)).toEqual([])
    expect(signs(`Network adapter: ens1f0 (connected)\n${good}`, ...ports)).toEqual([
      'The installer uses ens1f0, which is planned for storage, not for management.',
    ])
    expect(signs(`HWaddr 00:00:5e:00:53:31\nDevice nic7\n${good}`, ...ports)).toEqual([
      'The installer uses ens1f0, which is planned for storage, not for management.',
    ])
    expect(signs(`Interface: nic7\n${good}`, ...ports)).toEqual(['The installer speaks of nic7; gannet has no port of that name recorded.'])
    expect(signs(`Interface: eno1\nether 00:00:5e:00:53:99\n${good}`, ...ports)).toEqual([
      'eno1 shows the MAC 00:00:5e:00:53:99; recorded is 00:00:5e:00:53:11.',
    ])
    expect(signs(`MAC: 00:00:5e:00:53:99\n${good}`, ...ports)).toEqual(['The MAC 00:00:5e:00:53:99 belongs to no recorded port of gannet.'])
    expect(readShownNetwork('MAC: 00:00:5e').unread).toHaveLength(1)
    // The word before an adapter says nothing of a MAC.
    expect(readShownNetwork('Ethernet adapter eno1').shown.port).toBe('eno1')
    expect(readShownNetwork('Interface speed 1G').unread).toHaveLength(1)
  })

  // Common practice, no source, unless a standard is named in the sentence.
  it.each([
    ['no lease', but('Address', '169.254.10.20'), /is self-assigned: no DHCP server answered \(169\.254\.0\.0\/16, RFC 3927\)/],
    ['itself as name server', but('DNS', '127.0.0.1'), /The name server is 127\.0\.0\.1, the host itself/],
    ['/16, recorded is /24', but('Netmask', '255.255.0.0'), /The mask is \/16, recorded is \/24/],
    ['inside a pool', but('Address', '10.61.10.120'), /is in the DHCP range 10\.61\.10\.100 to 10\.61\.10\.199/],
    ['name not fully qualified', but('Hostname', 'gannet'), /“gannet” is not fully qualified/],
    ['no name', but('Hostname', 'localhost'), /The host name is localhost/],
    ['a name RFC 1123 does not know', but('Hostname', 'gan_net.skerry.example'), /is not a host name/],
    ['no gateway', but('Gateway', '0.0.0.0'), /cannot reach anything outside its own subnet/],
    ['gateway outside the prefix', but('Gateway', '10.61.99.1'), /is outside 10\.61\.10\.7\/24/],
    ['another network', but('Address', '172.16.4.4'), /is in no recorded subnet/],
    ['the broadcast address', but('Address', '10.61.10.255'), /is the broadcast address/],
    ['the network’s address', but('Address', '10.61.10.0'), /is the network’s own address/],
    ['the wrong VLAN', but('VLAN', '20'), /tags VLAN 20; mgmt is VLAN 10/],
    ['nothing at all', 'Hostname: gannet.skerry.example', /shows no address/],
  ])('%s', (_, text, sign) => expect(signs(text).some((sentence) => sign.test(sentence))).toBe(true))

  // RFC 4861, section 4.2: the gateway an IPv6 host hears of is the router's link-local address.
  it.each(['fe80::1', 'fe80::1%eno1', 'fe80::1 dev eno1'])('%s is a good gateway of IPv6', (gateway) => {
    const six: Command[] = [
      { type: 'subnet.update', id: subnet, changes: { prefix: 'fd00:61::/64', gateway: 'fd00:61::1' } },
      ...plan.filter(({ type }) => type === 'address.assign').map((command) => ({ ...command, ip: 'fd00:61::7' }) as Command),
    ]
    const estate = applyAll(smallEstate(), [...plan.slice(0, 2), ...six], testContext(62)).estate
    const { shown } = readShownNetwork(`Address: fd00:61::7\nPrefix: 64\nGateway: ${gateway}\nHostname: gannet.skerry.example`)
    const said = checkManagement(estate, estate.find('host', hostId) as Host, shown).map(({ sentence }) => sentence)
    expect(said.filter((sentence) => /gateway/i.test(sentence))).toEqual([])
    expect(shown.gateway).toBe('fe80::1')
  })

  it('one uplink, or Wi-Fi, from the port plan', () => {
    expect(signs(good, port('eno1'))).toEqual(['Management has one uplink, eno1.'])
    expect(signs(good, { type: 'port.add', record: { hostId, name: 'wl0', medium: 'wireless', role: 'management' } })).toEqual([
      'wl0 is Wi-Fi: it cannot carry the management network.',
      'No wired port is planned for management.',
    ])
  })

  // RFC 3021: both ends of a /31 are addresses of machines.
  it('the ends of a /31 are usable', () => expect(signs('Address: 10.99.0.0/31').join()).not.toMatch(/own address|broadcast/))

  // Written here by hand, in the forms that screens and configuration files have; common practice, no source.
  it.each([
    [
      'labels with remarks, a spaced prefix',
      ['Hostname (FQDN): skua.skerry.example', 'IP Address (CIDR):   10.61.10.7 / 24', 'Gateway:  10.61.10.1', 'DNS Server:  10.61.10.53'],
    ],
    [
      'settings of a file',
      ['HOSTNAME="skua.skerry.example"', 'IPADDR0=10.61.10.7', 'PREFIX0=24', 'GATEWAY0=10.61.10.1', 'DNS1=10.61.10.53'],
    ],
    [
      'rows of dots',
      [
        '   Host Name . . . . . . . . . . . . : skua.skerry.example',
        '   IPv4 Address. . . . . . . . . . . : 10.61.10.7(Preferred)',
        '   Subnet Mask . . . . . . . . . . . : 255.255.255.0',
        '   Default Gateway . . . . . . . . . : 10.61.10.1',
        '   DNS Servers . . . . . . . . . . . : 10.61.10.53',
      ],
    ],
    [
      'a mask behind the address',
      ['hostname.....skua.skerry.example', 'Address 10.61.10.7 netmask 255.255.255.0', 'gw = 10.61.10.1', 'nameserver 10.61.10.53'],
    ],
    [
      'a frame',
      [
        '│ Hostname:  skua.skerry.example │',
        '│ IP address: 10.61.10.7/255.255.255.0 │',
        '│ Router: 10.61.10.1 │',
        '│ Name_Server_1: 10.61.10.53 │',
      ],
    ],
    ['one line', ['IP: 10.61.10.7, Netmask: 255.255.255.0, Gateway: 10.61.10.1, DNS: 10.61.10.53, Name: skua.skerry.example']],
    ['a table with tabs', ['Name\tskua.skerry.example', 'IPv4\t10.61.10.7/24', 'Gateway\t10.61.10.1', 'DNS\t10.61.10.53']],
  ])('reads %s', (_, lines) => {
    const { shown, unread } = readShownNetwork(lines.join('\n'))
    expect(unread).toEqual([])
    expect(shown).toEqual({
      address: '10.61.10.7',
      length: 24,
      gateway: '10.61.10.1',
      nameServers: ['10.61.10.53'],
      hostName: 'skua.skerry.example',
    })
  })

  it('a second name server on a line of its own, and an address of IPv6 without a colon before it', () =>
    expect(readShownNetwork('DNS Servers: 10.61.10.53\n             10.61.10.54\nGateway fe80::1')).toEqual({
      shown: { nameServers: ['10.61.10.53', '10.61.10.54'], gateway: 'fe80::1' },
      unread: [],
      isUnknown: false,
    }))

  it('reads the words installers use, and a prefix behind the address', () => {
    const { shown, unread } = readShownNetwork(
      'IPv4 address = 10.61.10.7/24\nDefault gateway 10.61.10.1\nPrimary DNS server: 10.61.10.53\nAlternate DNS server: none\nFQDN gannet.skerry.example\n',
    )
    expect(unread).toEqual([])
    expect(shown).toEqual({
      address: '10.61.10.7',
      length: 24,
      gateway: '10.61.10.1',
      nameServers: ['10.61.10.53'],
      hostName: 'gannet.skerry.example',
    })
  })

  it('says which line it could not read and what was expected, and keeps the rest', () => {
    const { shown, unread } = readShownNetwork('Address: 10.61.10.7\nNetmask: 255.0.255.0\nuplink speed 1G\nVLAN: 5000\nDNS: one.two')
    expect(shown.address).toBe('10.61.10.7')
    expect(unread.map(({ line, sentence }) => `${line} ${sentence}`)).toEqual([
      '2 “255.0.255.0” is neither a mask such as 255.255.255.0 nor a prefix length.',
      '3 An address, mask, gateway, name server, host name, VLAN, port or MAC was expected, named at the start of the line.',
      '4 “5000” is not a VLAN ID: 1 to 4094 (IEEE 802.1Q).',
      '5 “one.two” is not a name server address.',
    ])
  })

  it('masks and lengths are each other’s inverse', () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 32 }), (length) => {
        const bits = '1'.repeat(length).padEnd(32, '0')
        expect(maskLength((bits.match(/.{8}/g) ?? []).map((byte) => parseInt(byte, 2)).join('.'))).toBe(length)
      }),
    ))

  it('never throws, whatever is pasted', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        expect(() => signs(text)).not.toThrow()
      }),
      { numRuns: 60 },
    ))

  it('the plan: name and prefix', () => {
    const estate = estateWith()
    expect(managementPlan(estate, estate.find('host', hostId) as Host)).toMatchObject({
      ip: '10.61.10.7',
      length: 24,
      fullName: 'gannet.skerry.example',
      vlanId: 10,
    })
  })
})

describe('a screen in another language', () => {
  // Labels of installers and consoles in German, French and Spanish; from memory.
  it.each([
    [
      'IPv4-Adresse  . . . . . . . . . . : 10.61.10.7(Bevorzugt)\nSubnetzmaske  . . . . . . . . . . : 255.255.255.0\nStandardgateway . . . . . . . . . : 10.61.10.1\nPhysische Adresse . . . . . . . . : 00-00-5E-00-53-11\nRechnername: gannet',
    ],
    [
      'Adresse IPv4. . . . . . . . . . . : 10.61.10.7\nMasque de sous-réseau . . . . . . : 255.255.255.0\nPasserelle par défaut . . . . . . : 10.61.10.1\nAdresse physique  . . . . . . . . : 00-00-5E-00-53-11\nNom : gannet',
    ],
    [
      'Dirección IP: 10.61.10.7\nMáscara de subred: 255.255.255.0\nPuerta de enlace predeterminada: 10.61.10.1\nDirección MAC: 00:00:5e:00:53:11\nNombre del equipo: gannet',
    ],
  ])('is read: %s', (text) =>
    expect(readShownNetwork(text)).toEqual({
      shown: { address: '10.61.10.7', length: 24, gateway: '10.61.10.1', mac: '00:00:5e:00:53:11', hostName: 'gannet', nameServers: [] },
      unread: [],
      isUnknown: false,
    }),
  )

  it('that is not read is no sign of anything; what is read in part does not say that an address is missing', () => {
    const unknown = readShownNetwork('IP-osoite: 10.61.10.7\nAliverkon peite: 255.255.255.0')
    expect(unknown).toMatchObject({ isUnknown: true, shown: { nameServers: [] } })
    const estate = estateWith()
    const host = estate.find('host', hostId) as Host
    const partly = readShownNetwork('IP-osoite: 10.61.10.7\nGateway: 10.61.10.1')
    expect(partly.isUnknown).toBe(false)
    expect(checkManagement(estate, host, partly.shown, partly.unread.length > 0).map(({ sentence }) => sentence)).not.toContain(
      'The installer shows no address.',
    )
    expect(checkManagement(estate, host, partly.shown).map(({ sentence }) => sentence)).toContain('The installer shows no address.')
  })
})
