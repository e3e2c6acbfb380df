import { runs } from '../testing/tier.js'
import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { applyAll } from '../commands/index.js'
import { isHostLabel, makeIds, seededRandom, type Estate } from '../estate/index.js'
import { NetworkEstate } from '../testing/network-estate.js'
import { testContext } from '../testing/small-estate.js'
import { ipFromNumber } from '../networks/index.js'
import {
  addressPlanCsv,
  dhcpReservations,
  dhcpReservationsCsv,
  hostsLines,
  importNames,
  ipOfReverse,
  nameTable,
  readNames,
  reverseName,
  zoneFile,
  zoneSerial,
  zonesOf,
  type Zone,
} from './index.js'

const newId = makeIds(() => Date.UTC(2027, 0, 20), seededRandom(8))
let folder = ''
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'insel-zones-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A network of each sort: private, public and cut from a /24, IPv6; a name server, a printer, a guest on two networks. */
function build(): NetworkEstate {
  const net = new NetworkEstate()
    .net('mgmt', '10.61.10.0/24', '10.61.10.1', { role: 'management' })
    .net('office', '10.61.40.0/23', '10.61.40.1', {}, { nameServers: '10.61.40.5 192.0.2.5' })
    .net('public', '192.0.2.0/26', '192.0.2.1', { role: 'public' }, { nameServers: '10.61.40.5' })
  net.record('subnet', { networkId: net.id('public'), prefix: '2001:db8:61::/64', gateway: '2001:db8:61::1' }, 'six/subnet')
  net
    .host('gannet', 'mgmt office public', { legs: [{ net: 'mgmt', ip: '10.61.10.11' }] })
    .guest('dns-1', 'gannet', [{ net: 'office', ip: '10.61.40.5' }])
    .guest('edge', 'gannet', [
      { net: 'public', ip: '192.0.2.10' },
      { net: 'office', ip: '10.61.41.7' },
    ])
  net.record('address', { subnetId: net.id('six/subnet'), ip: '2001:db8:61::10', adapterId: net.id('edge#1') })
  net.record('address', {
    subnetId: net.id('office/subnet'),
    ip: '10.61.40.60',
    kind: 'DHCP reservation',
    name: 'printer-1',
    mac: '00:00:5e:00:53:60',
  })
  return net.guest('old_box', 'gannet', [{ net: 'office', ip: '10.61.40.9' }])
}
const estate = build().estate()
const zone = (name: string): Zone => {
  const found = zonesOf(estate).find((one) => one.name === name)
  if (!found)
    throw new Error(
      `${name} among ${zonesOf(estate)
        .map((one) => one.name)
        .join(', ')}`,
    )
  return found
}

/** What BIND's own checker says of a zone; its zone in canonical text. */
function bind(of: Zone, text: string): { output: string; status: number | null; records: string[] } {
  const [file, canonical] = [join(folder, 'zone'), join(folder, 'canonical')]
  writeFileSync(file, text)
  const checked = spawnSync('named-checkzone', ['-k', 'fail', '-M', 'fail', of.name, file], { encoding: 'utf8' })
  spawnSync('named-compilezone', ['-F', 'text', '-s', 'full', '-o', canonical, of.name, file])
  const records =
    checked.status === 0
      ? readFileSync(canonical, 'utf8')
          .trim()
          .split('\n')
          .map((line) => line.replace(/\s+/g, ' '))
      : []
  return { output: checked.stdout + checked.stderr, status: checked.status, records }
}

describe('names', () => {
  // RFC 1123, section 2.1 allows a leading digit; RFC 952 gives the letters.
  it.each(['a', '3com', 'stream-edge-1', 'A'.repeat(63)])('%s is one', (text) => expect(isHostLabel(text)).toBe(true))
  it.each(['', '-a', 'a-', 'old_box', 'a.b', 'a'.repeat(64), 'säge'])('“%s” is none', (text) => expect(isHostLabel(text)).toBe(false))
  it('are the machine’s own at its first address of a family, and name the network at others', () =>
    expect(nameTable(estate).names.map(({ label, ip }) => `${label} ${ip}`)).toEqual([
      'gannet 10.61.10.11',
      'dns-1 10.61.40.5',
      'edge 192.0.2.10',
      'edge 2001:db8:61::10',
      'edge-office 10.61.41.7',
      'printer-1 10.61.40.60',
    ]))
  it('that break the rule are left out, with the reason', () =>
    expect(nameTable(estate).unnamed).toEqual([
      { what: 'guest old_box', reason: '“old_box” is not a host name: letters, digits and hyphens, no hyphen at an end (RFC 1123).' },
    ]))
})

describe('zone files', () => {
  it('there is one for each zone, forward first; a /26 of public space is a part of its /24 (RFC 2317)', () =>
    expect(zonesOf(estate).map(({ name }) => name)).toEqual([
      'skerry.example',
      '0.0.0.0.1.6.0.0.8.b.d.0.1.0.0.2.ip6.arpa',
      '0/26.2.0.192.in-addr.arpa',
      '10.61.10.in-addr.arpa'.replace('10.61.10', '10.61.10'),
      '40.61.10.in-addr.arpa',
      '41.61.10.in-addr.arpa',
    ]))
  // BIND 9’s named-checkzone (Debian bind9-utils) is the judge; “out-of-zone” would pass with exit code 0, so the output is read.
  it.each(zonesOf(estate).map(({ name }) => name))('%s is accepted by named-checkzone', (name) => {
    const { output, status } = bind(zone(name), zoneFile(estate, zone(name), 2027011801))
    expect([status, output]).toEqual([0, expect.stringMatching(/loaded serial 2027011801\s+OK/)])
    expect(output).not.toMatch(/ignoring|warning/i)
  })
  it('the canonical records are the ones meant', () => {
    const { records } = bind(zone('skerry.example'), zoneFile(estate, zone('skerry.example'), 2027011801))
    expect(records.filter((line) => !line.includes(' SOA '))).toEqual([
      'skerry.example. 3600 IN NS dns-1.skerry.example.',
      'dns-1.skerry.example. 3600 IN A 10.61.40.5',
      'edge.skerry.example. 3600 IN A 192.0.2.10',
      'edge.skerry.example. 3600 IN AAAA 2001:db8:61::10',
      'edge-office.skerry.example. 3600 IN A 10.61.41.7',
      'gannet.skerry.example. 3600 IN A 10.61.10.11',
      'printer-1.skerry.example. 3600 IN A 10.61.40.60',
    ])
    const part = bind(zone('0/26.2.0.192.in-addr.arpa'), zoneFile(estate, zone('0/26.2.0.192.in-addr.arpa'), 1))
    expect(part.records.at(-1)).toBe('10.0/26.2.0.192.in-addr.arpa. 3600 IN PTR edge.skerry.example.')
  })
  // RFC 2317, section 4: what the keeper of the /24 adds; its own example is 0/25 of 192.0.2.
  it('a part of a /24 says what its keeper adds', () =>
    expect(zoneFile(estate, zone('0/26.2.0.192.in-addr.arpa'), 1)).toContain(';   10  IN  CNAME 10.0/26.2.0.192.in-addr.arpa.'))
  it('reverse names agree with Python’s ipaddress, and read back (1,000 random addresses)', () => {
    const ips = [
      ...fc.sample(fc.nat(0xffffffff), 500).map((value) => ipFromNumber(4, BigInt(value))),
      ...fc.sample(fc.bigInt({ min: 0n, max: (1n << 128n) - 1n }), 500).map((value) => ipFromNumber(6, value)),
    ]
    const theirs = JSON.parse(
      execFileSync(
        'python3',
        ['-c', 'import ipaddress, json, sys\nprint(json.dumps([ipaddress.ip_address(a).reverse_pointer for a in json.load(sys.stdin)]))'],
        {
          input: JSON.stringify(ips),
          encoding: 'utf8',
        },
      ),
    ) as string[]
    expect(ips.map(reverseName)).toEqual(theirs)
    expect(theirs.map(ipOfReverse)).toEqual(ips)
  })
  // RFC 3596, section 2.5: its own example.
  it('nibbles as RFC 3596 writes them', () =>
    expect(reverseName('4321:0:1:2:3:4:567:89ab')).toBe('b.a.9.8.7.6.5.0.4.0.0.0.3.0.0.0.2.0.0.0.1.0.0.0.0.0.0.0.1.2.3.4.ip6.arpa'))
})

describe('the serial', () => {
  // RFC 1912, section 2.2: YYYYMMDDnn.
  it('is the day and the number of the change on it', () => {
    const changes = [
      { revision: 1, day: '2027-01-17' },
      { revision: 2, day: '2027-01-18' },
      { revision: 3, day: '2027-01-18' },
    ]
    expect([1, 2, 3].map((count) => zoneSerial(changes.slice(0, count)))).toEqual([2027011700, 2027011800, 2027011801])
  })
  it('only grows, whatever the days, and fits 32 bits (RFC 1982)', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 28 }), { minLength: 1, maxLength: 300 }), (days) => {
        const changes = days.map((day, index) => ({ revision: index + 1, day: `2027-02-${String(day).padStart(2, '0')}` }))
        let before = 0
        for (let count = 1; count <= changes.length; count++) {
          const serial = zoneSerial(changes.slice(0, count))
          expect(serial).toBeGreaterThan(before)
          before = serial
        }
        expect(before).toBeLessThan(2 ** 32)
      }),
      { numRuns: 30 },
    ))
})

describe('names out', () => {
  it('hosts(5) lines', () =>
    expect(hostsLines(estate).split('\n').slice(1, 3)).toEqual([
      '10.61.10.11      gannet.skerry.example gannet',
      '10.61.40.5       dns-1.skerry.example dns-1',
    ]))
  it('DHCP reservations, as rows and as CSV', () => {
    expect(dhcpReservations(estate)).toEqual([
      {
        ip: '10.61.40.60',
        mac: '00:00:5e:00:53:60',
        hostname: 'printer-1',
        subnet: '10.61.40.0/23',
        gateway: '10.61.40.1',
        domain: 'skerry.example',
      },
    ])
    expect(dhcpReservationsCsv(estate).split('\r\n')).toEqual([
      'ip,mac,hostname,subnet,gateway,domain',
      '10.61.40.60,00:00:5e:00:53:60,printer-1,10.61.40.0/23,10.61.40.1,skerry.example',
      '',
    ])
  })
  it('the address plan as CSV, with formulas kept from being ones', () => {
    const [first] = estate.all('address')
    const noted = applyAll(estate, [{ type: 'address.update', id: first?.id ?? '', changes: { note: '=1+1' } }], testContext(3)).estate
    expect(addressPlanCsv(noted)).toContain("'=1+1")
    expect(addressPlanCsv(noted).split('\r\n')[0]).toBe('ip,kind,network,vlan,subnet,machine,mac,name,note')
  })
})

describe('names in', () => {
  const reasons = (text: string, of: Estate = estate) =>
    importNames(of, text, newId).rejected.map(({ line, reason }) => `${line}: ${reason}`)
  it('what was written reads back as known: hosts(5), zone files, the address plan', () => {
    for (const text of [hostsLines(estate), ...zonesOf(estate).map((one) => zoneFile(estate, one, 1))]) {
      const { commands, rejected, known } = importNames(estate, text, newId)
      expect([commands, rejected]).toEqual([[], []])
      expect(known).toBeGreaterThan(0)
    }
  })
  it('a zone file with everything RFC 1035 allows: relative names, blanks, parentheses, comments, times', () => {
    const text = [
      '$ORIGIN skerry.example.',
      '$TTL 1h',
      '@ IN SOA dns-1 hostmaster ( 1 ; serial',
      '   7200 1800 1209600 3600 )',
      '     NS dns-1',
      'camera-1 300 IN A 10.61.40.70 ; the yard',
      '         IN AAAA 2001:db8:61::70',
      'www CNAME edge',
      'lost A 172.16.1.1',
      'broken A 10.61.40.700',
      '$INCLUDE other.zone',
    ].join('\n')
    expect(readNames(text).entries.map(({ name, ip }) => `${name} ${ip}`)).toEqual([
      'camera-1.skerry.example 10.61.40.70',
      'camera-1.skerry.example 2001:db8:61::70',
      'lost.skerry.example 172.16.1.1',
    ])
    expect(reasons(text)).toEqual([
      '8: CNAME records name no address of a machine.',
      '9: 172.16.1.1 is in no recorded subnet; add the subnet first.',
      '10: “10.61.40.700” is not an address for A.',
      '11: $INCLUDE is not followed here; paste what it stands for.',
    ])
    // BIND reads the accepted part the same way.
    const part = text
      .split('\n')
      .filter((line) => !/broken|\$INCLUDE/.test(line))
      .join('\n')
    writeFileSync(join(folder, 'in'), part.replace('NS dns-1', 'NS ns.other.example.').replace('SOA dns-1', 'SOA ns.other.example.'))
    execFileSync('named-compilezone', ['-F', 'text', '-o', join(folder, 'out'), 'skerry.example', join(folder, 'in')])
    const theirs = readFileSync(join(folder, 'out'), 'utf8')
      .split('\n')
      .map((line) => line.split(/\s+/))
      .filter((words) => words[3] === 'A' || words[3] === 'AAAA')
    expect(theirs.map((words) => `${words[0]?.replace(/\.$/, '') ?? ''} ${words[4] ?? ''}`).sort()).toEqual(
      readNames(part)
        .entries.map(({ name, ip }) => `${name} ${ip}`)
        .sort(),
    )
  })
  // RFC 1035, section 5.1: a relative $ORIGIN is relative to the one before; a blank owner is the last stated, whatever the origin is now.
  it('origins that follow each other, and owners across them', () => {
    const text = [
      '$ORIGIN skerry.example.',
      '$TTL 1h',
      '@ IN SOA ns.other.example. hostmaster 1 2 3 4 5',
      ' IN NS ns.other.example.',
      '$ORIGIN yard',
      'camera-1 IN A 10.61.40.70',
      '$ORIGIN skerry.example.',
      ' IN A 10.61.40.71',
      'camera-2 IN A 10.61.40.72',
    ].join('\n')
    const entries = readNames(text).entries.map(({ name, ip }) => `${name} ${ip}`)
    expect(entries).toEqual([
      'camera-1.yard.skerry.example 10.61.40.70',
      'camera-1.yard.skerry.example 10.61.40.71',
      'camera-2.skerry.example 10.61.40.72',
    ])
    // BIND reads it the same way.
    writeFileSync(join(folder, 'origins'), `${text}\n`)
    execFileSync('named-compilezone', ['-F', 'text', '-o', join(folder, 'origins.out'), 'skerry.example', join(folder, 'origins')])
    const theirs = [...readFileSync(join(folder, 'origins.out'), 'utf8').matchAll(/^(\S+)\.\s+\d+\s+IN\s+A\s+(\S+)$/gm)].map(
      ([, name, ip]) => `${name} ${ip}`,
    )
    expect(theirs.sort()).toEqual(entries.sort())
  })
  it('a parenthesis that is not closed costs its own record only', () => {
    const text =
      '$ORIGIN skerry.example.\ncamera-1 A 10.61.40.70\nlost TXT ( "begun\ncamera-2 A 10.61.40.71\n@ SOA a b ( 1\n 2 3 4 5 )\ncamera-3 A 10.61.40.72\n'
    const { entries, rejected } = readNames(text)
    expect(entries.map(({ name }) => name)).toEqual(['camera-1.skerry.example', 'camera-2.skerry.example', 'camera-3.skerry.example'])
    expect(rejected.map(({ line, reason }) => `${line}: ${reason}`)).toEqual([
      '3: A parenthesis opens here and is not closed; close it. The lines after it were read by themselves.',
    ])
  })
  it('a machine’s address is assigned to it, another is reserved under its name, a MAC makes it a reservation', () => {
    const net = build().guest('fresh', 'gannet', [{ net: 'office' }])
    const text =
      'IP;Hostname;MAC\n10.61.40.33;fresh;\n10.61.40.34;scanner;\n10.61.40.35;phone-7;00-00-5E-00-53-77\n10.61.40.5;someone;\n10.61.40.36;a b;\n'
    const { form, commands, rejected } = importNames(net.estate(), text, newId)
    expect(form).toBe('CSV')
    expect(commands.map((command) => command.type)).toEqual(['address.assign', 'address.add', 'address.add'])
    expect(commands[2]).toMatchObject({ record: { kind: 'DHCP reservation', mac: '00:00:5e:00:53:77' } })
    expect(rejected.map(({ line, reason }) => `${line}: ${reason}`)).toEqual([
      '5: 10.61.40.5 is recorded as dns-1; the text names it someone.',
      '6: “a b” is not a host name: letters, digits and hyphens, no hyphen at an end (RFC 1123).',
    ])
    const after = applyAll(net.estate(), commands, testContext(3)).estate
    expect(nameTable(after).names.map(({ label }) => label)).toEqual(expect.arrayContaining(['fresh', 'scanner', 'phone-7']))
  })
  it('bad lines are told with their line, and no text breaks the reader', () => {
    expect(
      reasons(
        '10.61.40.300 a\n# nothing\n10.61.40.20\n127.0.0.1 localhost\n10.61.40.21 x.elsewhere.example\n10.61.40.22 y.lab.skerry.example',
      ),
    ).toEqual([
      '1: “10.61.40.300” is not an address; a line starts with one (hosts(5)).',
      '3: There is no name after the address.',
      '4: It is a loopback address, not one of the network.',
      '5: x.elsewhere.example is not in the zone skerry.example of 10.61.40.0/23.',
      '6: y.lab.skerry.example is below the zone skerry.example: recorded names have one label. It is taken when the search domain of its network is lab.skerry.example.',
    ])
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), (text) => void importNames(estate, text, newId)),
      { numRuns: runs(100, 1000) },
    )
    expect(reasons('x'.repeat(2_000_001))[0]).toContain('at most 2000000 are read')
  })
})
