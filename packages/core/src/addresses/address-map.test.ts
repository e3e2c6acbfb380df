import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { readField, type Estate } from '../estate/index.js'
import { switchKind } from '../estate/kinds/networks.js'
import { NetworkEstate } from '../testing/network-estate.js'
import { testContext } from '../testing/small-estate.js'
import {
  addressBlocks,
  addressCells,
  carriesVlan,
  freeRuns,
  ipToNumber,
  macRows,
  nextFree,
  parsePrefix,
  prefixOf,
  readSeen,
  usableRange,
} from '../index.js'

function build(): NetworkEstate {
  const net = new NetworkEstate()
    .net('office', '10.61.40.0/24', '10.61.40.1')
    .pool('office', '10.61.40.100', '10.61.40.199')
    .host('gannet', 'office', { legs: [{ net: 'office', ip: '10.61.40.11' }] })
    .host('fulmar', 'office')
    .guest('a', 'gannet', [{ net: 'office', ip: '10.61.40.20' }])
    .guest('b', 'fulmar', [{ net: 'office', ip: '10.61.40.120' }])
    .guest('c', 'gannet', [{ net: 'office' }])
    .guest('d', 'fulmar', [{ net: 'office' }])
  const subnetId = net.id('office/subnet')
  return net
    .record('lease', { subnetId, ip: '10.61.40.101', mac: '00:00:5e:00:53:01', name: 'laptop', seenAt: '2027-01-18T08:00:00Z' })
    .record('lease', { subnetId, ip: '10.61.40.20', mac: '00:00:5e:00:53:02', seenAt: '2027-01-18T08:00:00Z' })
}
const net = build()
const estate = net.estate()
const subnetOf = (of: Estate, id = net.id('office/subnet')) => {
  const found = of.find('subnet', id)
  if (!found) throw new Error(id)
  return found
}
const after = (...commands: Command[]) => applyAll(estate, commands, testContext(3)).estate

describe('the map of a subnet', () => {
  const cells = addressCells(estate, subnetOf(estate), parsePrefix('10.61.40.0/24'))
  it.each([
    [0, 'not assignable', 'the network’s own address'],
    [1, 'gateway', 'gateway of the site'],
    [11, 'fixed', 'host gannet'],
    [20, 'conflict', 'adapter 1 of a has the MAC 02:00:00:00:00:01, seen was 00:00:5e:00:53:02'],
    [50, 'free', 'free'],
    [100, 'DHCP range', 'assigned by DHCP'],
    [101, 'leased', 'seen with 00:00:5e:00:53:01 (laptop)'],
    [120, 'conflict', 'adapter 1 of b, fixed inside a DHCP range'],
    [255, 'not assignable', 'the broadcast address'],
  ])('.%d is %s', (last, state, says) => expect(cells[last]).toMatchObject({ ip: `10.61.40.${last}`, state, says }))
  it('a /16 is 256 parts of a /24 each, with what is in them', () => {
    const big = new NetworkEstate()
      .net('campus', '10.61.0.0/16')
      .host('h', 'campus')
      .guest('g', 'h', [{ net: 'campus', ip: '10.61.7.9' }])
    const blocks = addressBlocks(big.estate(), subnetOf(big.estate(), big.id('campus/subnet')), parsePrefix('10.61.0.0/16'))
    expect(blocks).toHaveLength(256)
    expect(blocks.filter(({ recorded }) => recorded > 0).map(({ prefix }) => prefix.text)).toEqual(['10.61.7.0/24'])
  })
  it('a prefix of 5,000 parts of a /8 too, at once', () =>
    expect(addressBlocks(estate, subnetOf(estate), parsePrefix('10.0.0.0/8'))).toHaveLength(256))
})

describe('the next address to give out', () => {
  const handing = (handOut: 'from the low end' | 'from the high end' | 'by host block') =>
    after({ type: 'subnet.update', id: net.id('office/subnet'), changes: { handOut } })
  it('from the low end, from the high end, or beside the host’s other guests', () => {
    expect(nextFree(estate, subnetOf(estate))).toBe('10.61.40.2')
    expect(nextFree(handing('from the high end'), subnetOf(handing('from the high end')))).toBe('10.61.40.254')
    const blocks = handing('by host block')
    // gannet’s guest a is in .16 to .31; fulmar’s b is fixed in the pool .112 to .127, so it begins its own block.
    expect(nextFree(blocks, subnetOf(blocks), net.id('gannet'))).toBe('10.61.40.16')
    expect(nextFree(blocks, subnetOf(blocks), net.id('fulmar'))).toBe('10.61.40.32')
    // Of two blocks where a host's guests are the lower one, whichever was recorded first.
    const both = applyAll(
      blocks,
      [
        { type: 'guest.migrate', guestId: net.id('b'), toHostId: net.id('gannet'), method: 'cold copy' },
        { type: 'address.update', id: net.id('a#1.ip'), changes: { ip: '10.61.40.240' } },
        { type: 'address.update', id: net.id('b#1.ip'), changes: { ip: '10.61.40.60' } },
      ] as Command[],
      testContext(4),
    ).estate
    expect(nextFree(both, subnetOf(both), net.id('gannet'))).toBe('10.61.40.48')
    const assigned = applyAll(blocks, [{ type: 'address.assign', adapterId: net.id('d#1'), kind: 'fixed' }], testContext(3)).estate
    expect(assigned.referring('address', 'adapterId', net.id('d#1'))[0]?.ip).toBe('10.61.40.32')
  })
  it('free runs and what is taken make the prefix, without touching', () => {
    const { first, last } = prefixOf(subnetOf(estate))
    const free = freeRuns(estate, subnetOf(estate))
    for (const run of free) expect(run.first >= first && run.last <= last && run.first <= run.last).toBe(true)
    expect(free.map((run) => Number(run.last - run.first + 1n))).toEqual([9, 8, 79, 55])
  })
})

describe('subnets split, merged, moved', () => {
  const facts = (of: Estate) =>
    of
      .all('subnet')
      .map((subnet) => [
        subnet.prefix,
        subnet.gateway,
        of.referring('address', 'subnetId', subnet.id).length,
        of.referring('pool', 'subnetId', subnet.id).map(({ first, last }) => `${first} ${last}`),
      ])
  const id = net.id('office/subnet')
  it('a split leaves each thing in its half, a pool in both', () =>
    expect(facts(after({ type: 'subnet.split', subnetId: id }))).toEqual([
      ['10.61.40.0/25', '10.61.40.1', 3, ['10.61.40.100 10.61.40.127']],
      ['10.61.40.128/25', null, 0, ['10.61.40.128 10.61.40.199']],
    ]))
  it('a merge takes the split back', () => {
    const split = after({ type: 'subnet.split', subnetId: id })
    const upper = split.all('subnet').find(({ prefix }) => prefix === '10.61.40.128/25')
    expect(facts(applyAll(split, [{ type: 'subnet.merge', subnetId: upper?.id ?? '', withId: id }], testContext(4)).estate)).toEqual(
      facts(estate),
    )
  })
  it('a move keeps the host part of everything', () => {
    const moved = after({ type: 'subnet.move', subnetId: id, prefix: '10.62.7.0/24' })
    expect(facts(moved)).toEqual([['10.62.7.0/24', '10.62.7.1', 3, ['10.62.7.100 10.62.7.199']]])
    expect(
      moved
        .all('address')
        .map(({ ip }) => ip)
        .sort(),
    ).toEqual(['10.62.7.11', '10.62.7.120', '10.62.7.20'])
  })
  it('no address is lost, whatever is done in a row', () =>
    fc.assert(
      fc.property(fc.array(fc.nat(5), { maxLength: 6 }), (steps) => {
        let now = estate
        for (const step of steps) {
          const [first, second] = [...now.all('subnet')].sort((a, b) => (prefixOf(a).first < prefixOf(b).first ? -1 : 1))
          const command: Command =
            step < 3 || !second
              ? { type: 'subnet.split', subnetId: first?.id ?? '' }
              : { type: 'subnet.merge', subnetId: first?.id ?? '', withId: second.id }
          try {
            now = applyAll(now, [command], testContext(9)).estate
          } catch (error) {
            if (!(error instanceof Error) || error.name !== 'CommandError') throw error
          }
          expect(now.count('address')).toBe(3)
          for (const address of now.all('address')) {
            const { first: low, last: high } = prefixOf(subnetOf(now, address.subnetId))
            expect(ipToNumber(address.ip) >= low && ipToNumber(address.ip) <= high).toBe(true)
          }
        }
      }),
      { numRuns: 60 },
    ))
  it.each<[Command, string]>([
    [
      { type: 'subnet.move', subnetId: id, prefix: '10.62.7.0/25' },
      '10.62.7.0/25 has a different length from 10.61.40.0/24; renumbering keeps /24.',
    ],
    [{ type: 'subnet.merge', subnetId: id, withId: id }, '10.61.40.0/24 and 10.61.40.0/24 are not the two halves of one prefix.'],
    [
      { type: 'address.reserve', subnetId: id, first: '10.61.40.18', last: '10.61.40.22' },
      '10.61.40.20 is used by adapter 1 of a; choose a run without it.',
    ],
    [
      { type: 'address.reserve', subnetId: id, first: '10.61.40.30', last: '10.61.40.22' },
      'The run ends (10.61.40.22) before it starts (10.61.40.30); swap the two.',
    ],
    [{ type: 'address.reserve', subnetId: id, first: '10.61.41.30', last: '10.61.41.32' }, '10.61.41.30 is not in 10.61.40.0/24.'],
  ])('%o is refused', (command, sentence) => expect(() => after(command)).toThrow(sentence))
  it('a run is reserved in one go', () =>
    expect(
      after({ type: 'address.reserve', subnetId: id, first: '10.61.40.30', last: '10.61.40.39', note: 'cameras' })
        .all('address')
        .filter(({ kind, note }) => kind === 'reserved' && note === 'cameras'),
    ).toHaveLength(10))
})

describe('what was seen', () => {
  // Forms of ip-neighbour(8) and arp(8); the lease line is in the form of dnsmasq(8): time, MAC, address, name, client id.
  it('is read from the tools’ own lines, and replaces what was seen before', () => {
    const text = [
      '10.61.40.102 dev eth0 lladdr 00:00:5e:00:53:0a REACHABLE',
      '10.61.40.103 dev eth0 FAILED',
      '10.61.40.104   ether   00:00:5e:00:53:0b   C   eth0',
      '1800000000 00:00:5e:00:53:0c 10.61.40.101 tablet 01:00:00:5e:00:53:0c',
      '10.99.0.1 00:00:5e:00:53:0d',
    ].join('\n')
    const { commands, rejected } = readSeen(estate, text, '2027-01-19T08:00:00.000Z', () => '01890000-0000-7000-8000-00000000ffff')
    expect(commands.map((command) => command.type)).toEqual(['lease.add', 'lease.add', 'lease.update'])
    expect(commands[2]).toMatchObject({ changes: { mac: '00:00:5e:00:53:0c', name: 'tablet' } })
    expect(rejected.map(({ line, reason }) => `${line}: ${reason}`)).toEqual([
      '2: No machine answered.',
      '5: 10.99.0.1 is in no recorded subnet.',
    ])
  })
})

describe('what several systems say was seen', () => {
  const read = (text: string) => {
    const { commands, rejected } = readSeen(estate, text, '2027-01-19T08:00:00.000Z', () => '01890000-0000-7000-8000-00000000ffff')
    const said = commands.map((command) => {
      const { ip, mac, name } = {
        ...('record' in command ? command.record : {}),
        ...('changes' in command ? command.changes : {}),
      } as Record<string, string>
      return [ip, mac, name]
    })
    return { said, reasons: rejected.map(({ line, reason }) => `${line}: ${reason}`) }
  }
  // The lines are written by hand in the forms of arp(8) of net-tools and of the BSDs, and of tables with hyphens; from memory.
  it.each([
    ['? (10.61.40.102) at 00:00:5e:00:53:0a [ether] on eth0', null],
    ['scanner.skerry.example (10.61.40.102) at 00:00:5e:00:53:0a [ether] on eth0', 'scanner.skerry.example'],
    ['? (10.61.40.102) at 0:0:5e:0:53:a on en0 ifscope [ethernet]', null],
    ['? (10.61.40.102) at 0:0:5e:0:53:a on em0 expires in 1187 seconds [ethernet]', null],
    [
      'Interface: 10.61.40.20 --- 0x4\n  Internet Address      Physical Address      Type\n  10.61.40.102          00-00-5e-00-53-0a     dynamic',
      null,
    ],
    [
      'Address                  HWtype  HWaddress           Flags Mask            Iface\n10.61.40.102   ether   00:00:5e:00:53:0a   CM                    eth0',
      null,
    ],
    ['10.61.40.102 dev eth0 lladdr 00:00:5e:00:53:0a router STALE', null],
    ['10.61.40.102 0000.5e00.530a', null],
  ])('%s', (text, name) => expect(read(text)).toEqual({ said: [['10.61.40.102', '00:00:5e:00:53:0a', name]], reasons: [] }))

  // iproute2 6.1 of Debian 12 (ip neigh, ip -s neigh), /proc/net/arp of Linux and net-tools 2.10 (arp -n, arp -a), printed on this machine
  // in a network namespace of its own, with the addresses changed to those of the subnet.
  it.each([
    '10.61.40.102 dev v0 lladdr 00:00:5e:00:53:0a STALE proto dhcp ',
    '10.61.40.102 dev v0 lladdr 00:00:5e:00:53:0a PROBE ',
    '10.61.40.102 dev v0 lladdr 00:00:5e:00:53:0a extern_learn PERMANENT ',
    '10.61.40.102 dev v0 lladdr 00:00:5e:00:53:0a  ref 1 used 0/60/0probes 1 PROBE ',
    '10.61.40.102 dev v0 lladdr 00:00:5e:00:53:0a extern_learn  used 0/0/0probes 0 PERMANENT ',
    '10.61.40.102 dev v0 lladdr 00:00:5e:00:53:0a router  used 0/0/0probes 0 PERMANENT ',
    '10.61.40.102 dev v0 lladdr 00:00:5e:00:53:0a managed REACHABLE ',
    'IP address       HW type     Flags       HW address            Mask     Device\n10.61.40.102      0x1         0x6         00:00:5e:00:53:0a     *        v0',
    'Address                  HWtype  HWaddress           Flags Mask            Iface\n10.61.40.102              ether   00:00:5e:00:53:0a   CM                    v0',
    '? (10.61.40.102) at 00:00:5e:00:53:0a [ether] PERM on v0',
    '_gateway (10.61.40.102) at 00:00:5e:00:53:0a [ether] on v0',
    // Tables of another system in other languages, and of a BSD; from memory.
    'Schnittstelle: 10.61.40.20 --- 0x4\n  Internetadresse       Physische Adresse     Typ\n  10.61.40.102          00-00-5e-00-53-0a     statisch',
    'Interface : 10.61.40.20 --- 0x4\n  Adresse Internet      Adresse physique      Type\n  10.61.40.102          00-00-5e-00-53-0a     dynamique',
    'Interfaz: 10.61.40.20 --- 0x4\n  Dirección de Internet          Dirección física      Tipo\n  10.61.40.102          00-00-5e-00-53-0a     estático',
    'Host                                 Ethernet Address    Netif Expire    Flags\n10.61.40.102                         00:00:5e:00:53:0a   em0 19m59s',
  ])('no word of it is a name: %s', (text) =>
    expect(read(text)).toEqual({ said: [['10.61.40.102', '00:00:5e:00:53:0a', null]], reasons: [] }),
  )

  it('an entry without a machine is none: incomplete, or with a MAC of zeros', () =>
    expect(
      read(
        '10.61.40.102 dev v0 managed INCOMPLETE \n10.61.40.103      0x1         0x0         00:00:00:00:00:00     *        v0\n? (10.61.40.104) at <incomplete> on v0',
      ),
    ).toEqual({ said: [], reasons: ['1: No machine answered.', '2: No machine answered.', '3: No machine answered.'] }))

  // dhcpd.leases(5): blocks, a later one of an address replaces an earlier.
  const block = (ip: string, octet: string, state: string, more = '') =>
    `lease ${ip} {\n  starts 1 2027/01/18 08:00:00;\n  binding state ${state};\n  hardware ethernet 00:00:5e:00:53:${octet};\n${more}}\n`
  it('leases in blocks: their names, who gave one back, and a block that does not end', () =>
    expect(
      read(
        `# all times in UTC\n${block('10.61.40.102', '0a', 'active', '  client-hostname "camera-7";\n')}${block('10.61.40.103', '0b', 'active')}${block('10.61.40.103', '0b', 'free')}lease 10.61.40.104 {\n  hardware ethernet 00:00:5e:00:53:0c;`,
      ),
    ).toEqual({
      said: [
        ['10.61.40.102', '00:00:5e:00:53:0a', 'camera-7'],
        ['10.61.40.104', '00:00:5e:00:53:0c', null],
      ],
      reasons: ['13: The lease is free.'],
    }))
})

describe('VLANs and MACs', () => {
  it.each([
    ['30, 10,20-29', '10,20-30'],
    ['all', '1-4094'],
    ['5-5', '5'],
  ])('“%s” is kept as %s', (typed, kept) => expect(readField(switchKind.fields.taggedVlans, typed)).toEqual({ ok: true, value: kept }))
  // IEEE 802.1Q: 1 to 4094.
  it.each(['0', '4095', '10-5', 'ten', '1-5000'])('“%s” is refused', (typed) =>
    expect(readField(switchKind.fields.taggedVlans, typed).ok).toBe(false),
  )
  it('are carried when a range holds them', () =>
    expect([10, 19, 25, 31].map((vlan) => carriesVlan('10,20-30', vlan))).toEqual([true, false, true, false]))
  it('every MAC is listed with who has it, also those only seen', () =>
    expect(macRows(estate).map(({ owner, isLocal }) => `${owner} ${isLocal}`)).toEqual([
      'seen at 10.61.40.101, laptop false',
      'seen at 10.61.40.20 false',
      'adapter 1 of a true',
      'adapter 1 of b true',
      'adapter 1 of c true',
      'adapter 1 of d true',
    ]))
  it('usable ends hold for every part that is drawn', () =>
    expect(usableRange(parsePrefix('10.61.40.0/31'))).toEqual({ first: ipToNumber('10.61.40.0'), last: ipToNumber('10.61.40.1') }))
})
