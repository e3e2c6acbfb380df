import { execFileSync } from 'node:child_process'
import fc from 'fast-check'
import { Address4, Address6 } from 'ip-address'
import { describe, expect, it } from 'vitest'
import { applyAll } from '../commands/index.js'
import { canonicalIp, Estate, readField } from '../estate/index.js'
import { subnetKind } from '../estate/kinds/networks.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import {
  contains,
  generateMac,
  ipFromNumber,
  ipToNumber,
  isLocallyAdministered,
  isWithin,
  nextFree,
  overlaps,
  parsePrefix,
  prefixAround,
  siblingOf,
  usableCount,
  usableRange,
} from './index.js'

const prefixes4 = fc.tuple(fc.nat(0xffffffff), fc.integer({ min: 0, max: 32 })).map(([value, bits]) => {
  const size = 2 ** (32 - bits)
  return `${ipFromNumber(4, BigInt(Math.floor(value / size) * size))}/${bits}`
})
const ips6 = fc.bigInt({ min: 0n, max: (1n << 128n) - 1n })

/** What Python's standard library says of IPv4 and IPv6 networks, asked once for a list. */
function askPython<T>(program: string, input: unknown): T {
  return JSON.parse(
    execFileSync('python3', ['-c', `import ipaddress, json, sys\nasked = json.load(sys.stdin)\n${program}`], {
      input: JSON.stringify(input),
      encoding: 'utf8',
    }),
  ) as T
}

describe('prefixes', () => {
  // Common knowledge of the field: 2^(32-p) - 2; RFC 3021 for /31.
  it.each([
    ['10.61.30.0/24', 254n],
    ['10.61.30.0/23', 510n],
    ['10.61.30.0/28', 14n],
    ['10.61.30.0/31', 2n],
    ['10.61.30.7/32', 1n],
  ])('%s has %d usable addresses', (text, count) => expect(usableCount(parsePrefix(text))).toBe(count))

  it('agree with Python’s ipaddress on first, last and the machines’ range (2,000 random IPv4 prefixes)', () => {
    const list = fc.sample(prefixes4, 2000)
    const theirs = askPython<[string, string, number][]>(
      'print(json.dumps([(str(n[0]), str(n[-1]), n.num_addresses - 2 if n.prefixlen < 31 else n.num_addresses) for n in map(ipaddress.ip_network, asked)]))',
      list,
    )
    list.forEach((text, index) => {
      const prefix = parsePrefix(text)
      expect([ipFromNumber(4, prefix.first), ipFromNumber(4, prefix.last), Number(usableCount(prefix))]).toEqual(theirs[index])
    })
  })

  it('overlap as Python’s ipaddress says (2,000 random pairs)', () => {
    const pairs = fc.sample(fc.tuple(prefixes4, prefixes4), 2000)
    const theirs = askPython<boolean[]>(
      'print(json.dumps([ipaddress.ip_network(a).overlaps(ipaddress.ip_network(b)) for a, b in asked]))',
      pairs,
    )
    expect(pairs.map(([a, b]) => overlaps(parsePrefix(a), parsePrefix(b)))).toEqual(theirs)
  })

  it('nest as Python’s ipaddress says, and have the other half it says (2,000 random pairs)', () => {
    const pairs = fc.sample(
      fc.tuple(prefixes4, fc.integer({ min: 0, max: 32 })).map(([text, bits]): [string, string] => [
        text,
        // Half of the time the second holds the first, so that both answers come up.
        prefixAround(text.split('/')[0] ?? '', Math.min(bits, Number(text.split('/')[1]) + (bits % 2))).text,
      ]),
      2000,
    )
    const theirs = askPython<[boolean, string | null][]>(
      [
        'def half(n): return str(next(m for m in n.supernet().subnets() if m != n)) if n.prefixlen else None',
        'nets = [tuple(map(ipaddress.ip_network, p)) for p in asked]',
        'print(json.dumps([(a.subnet_of(b), half(a)) for a, b in nets]))',
      ].join('\n'),
      pairs,
    )
    expect(pairs.map(([a, b]) => [isWithin(parsePrefix(a), parsePrefix(b)), siblingOf(parsePrefix(a)) ?? null])).toEqual(theirs)
  })

  it('membership agrees with the ip-address package', () =>
    fc.assert(
      fc.property(prefixes4, fc.nat(0xffffffff), (text, value) => {
        const ip = ipFromNumber(4, BigInt(value))
        expect(contains(parsePrefix(text), ip)).toBe(new Address4(ip).isInSubnet(new Address4(text)))
      }),
    ))

  it('the text of an IPv6 address is RFC 5952’s, as Python and the ip-address package write it', () => {
    const list = fc.sample(ips6, 1000)
    const theirs = askPython<string[]>('print(json.dumps([str(ipaddress.IPv6Address(int(n))) for n in asked]))', list.map(String))
    list.forEach((value, index) => {
      const text = ipFromNumber(6, value)
      expect(ipToNumber(text)).toBe(value)
      // RFC 5952, section 5 writes IPv4-mapped addresses with dots; Python 3.11 does not.
      if (value >> 32n !== 0xffffn) expect(text).toBe(theirs[index])
      expect(new Address6(text).bigInt()).toBe(value)
    })
  })

  // RFC 5952, section 4: its own examples.
  it.each([
    ['2001:0DB8::0001', '2001:db8::1'],
    ['2001:db8:0:0:0:0:2:1', '2001:db8::2:1'],
    ['2001:db8:0:1:1:1:1:1', '2001:db8:0:1:1:1:1:1'],
    ['2001:0:0:1:0:0:0:1', '2001:0:0:1::1'],
  ])('%s is written %s', (typed, canonical) => expect(canonicalIp(typed)).toBe(canonical))

  it.each(['10.1', '010.1.2.3', '10.61.30.256', '1.2.3.4.5', 'fe80::1%eth0', '', '10.61.30.5/24'])('“%s” is no address', (text) =>
    expect(canonicalIp(text)).toBeUndefined(),
  )

  it('a prefix with host bits is refused with the prefix that was meant', () =>
    expect(readField(subnetKind.fields.prefix, '10.61.30.5/24')).toEqual({
      ok: false,
      sentence: 'Prefix 10.61.30.5/24 is an address inside a prefix; the prefix itself is 10.61.30.0/24.',
    }))

  it('both ends of a /31 are usable (RFC 3021)', () =>
    expect(usableRange(parsePrefix('192.0.2.0/31'))).toEqual({ first: ipToNumber('192.0.2.0'), last: ipToNumber('192.0.2.1') }))
})

describe('the next free address', () => {
  const estate = smallEstate()
  const subnet = (name: string) => {
    const found = estate.find('subnet', idOf(name))
    if (!found) throw new Error(name)
    return found
  }
  it('is the lowest outside pools, gateway and what is recorded', () => {
    expect(nextFree(estate, subnet('officeNet'))).toBe('10.61.30.100')
    expect(nextFree(estate, subnet('studioNet'))).toBe('10.61.40.3')
  })
  it('is none when all are taken, and the command says so', () => {
    const fill = Array.from({ length: 12 }, () => ({
      type: 'address.assign' as const,
      hostId: idOf('gannet'),
      subnetId: idOf('studioNet'),
      kind: 'fixed' as const,
    }))
    const full = applyAll(estate, fill, testContext()).estate
    expect(nextFree(full, subnet('studioNet'))).toBeUndefined()
    expect(() => applyAll(full, fill.slice(0, 1), testContext())).toThrow('10.61.40.0/28 has no free address outside its DHCP ranges')
  })
  it('agrees with Python’s ipaddress on what is left (1,000 random subnets)', () => {
    const cases = fc
      .sample(
        fc.record({
          last: fc.nat(255),
          bits: fc.integer({ min: 26, max: 31 }),
          taken: fc.array(fc.nat(63), { maxLength: 70 }),
          gateway: fc.nat(63),
          pool: fc.tuple(fc.nat(63), fc.nat(63)),
        }),
        1000,
      )
      .map(({ last, bits, taken, gateway, pool }) => {
        const prefix = prefixAround(`10.9.8.${last}`, bits)
        const at = (place: number) => ipFromNumber(4, prefix.first + (BigInt(place) % (prefix.last - prefix.first + 1n)))
        const [a, b] = pool.map(at).sort((x, y) => (ipToNumber(x) < ipToNumber(y) ? -1 : 1)) as [string, string]
        return { prefix: prefix.text, taken: [...new Set(taken.map(at))], gateway: at(gateway), pool: [a, b] as const }
      })
    const theirs = askPython<(string | null)[]>(
      [
        'def free(c):',
        "    n = ipaddress.ip_network(c['prefix'])",
        "    a, b = map(ipaddress.ip_address, c['pool'])",
        "    gone = {ipaddress.ip_address(t) for t in c['taken'] + [c['gateway']]}",
        '    return next((str(h) for h in n.hosts() if h not in gone and not a <= h <= b), None)',
        'print(json.dumps([free(c) for c in asked]))',
      ].join('\n'),
      cases,
    )
    const ours = cases.map(({ prefix, taken, gateway, pool }) => {
      const subnetId = idOf('officeNet')
      const records = {
        subnet: [{ ...subnet('officeNet'), prefix, gateway }],
        pool: [{ id: 'pool', subnetId, first: pool[0], last: pool[1], note: '' }],
      }
      const address = taken.map((ip, index) => ({
        id: `a${index}`,
        subnetId,
        ip,
        kind: 'fixed' as const,
        adapterId: null,
        hostId: null,
        name: null,
        mac: null,
        length: null,
        gateway: null,
        note: '',
      }))
      const made = Estate.fromRecords({ ...records, address })
      const [only] = made.all('subnet')
      return (only && nextFree(made, only)) ?? null
    })
    expect(ours).toEqual(theirs)
  })
  it('is found at once in an IPv6 /64', () => {
    const six = applyAll(
      estate,
      [
        {
          type: 'subnet.add',
          record: { id: idOf('estate').replace('8000', '9000'), networkId: idOf('office'), prefix: '2001:db8:30::/64' },
        },
      ],
      testContext(),
    ).estate
    const record = six.find('subnet', idOf('estate').replace('8000', '9000'))
    expect(record && nextFree(six, record)).toBe('2001:db8:30::1')
  })
})

describe('MAC addresses', () => {
  it('are new, under the prefix, individual and unique', () => {
    const taken = new Set<string>()
    for (let i = 0; i < 500; i++) {
      const mac = generateMac('02:1a:4b', '01890a5d-ac96-774b-bcce-b30209fffff0', (m) => taken.has(m))
      expect(taken.has(mac)).toBe(false)
      expect(mac).toMatch(/^02:1a:4b(:[0-9a-f]{2}){3}$/)
      taken.add(mac)
    }
  })
  // RFC 9542, section 2.1: the second hexadecimal digit of a locally administered unicast address is 2, 6, A or E.
  it('locally administered ones are told by their second digit', () =>
    fc.assert(
      fc.property(
        fc.nat(255),
        (first) =>
          isLocallyAdministered(`${first.toString(16).padStart(2, '0')}:00:00:00:00:01`) === ((first & 2) === 2 && (first & 1) === 0),
      ),
    ))
})
