import type { Estate } from '../estate/index.js'
import { compareIps, contains, familyOf, ipFromNumber, ipToNumber, isPrivate, type Prefix, prefixOf } from '../networks/index.js'
import { fullName, nameTable, type NamedAddress } from './name-table.js'
import { compareNames, groupBy } from '../lists/index.js'

/** A zone that can be written from the record: forward, or reverse for a prefix. */
export interface Zone {
  /** Its name, without a dot at the end. */
  readonly name: string
  readonly kind: 'forward' | 'reverse'
  readonly names: readonly NamedAddress[]
  /** For a reverse zone of less than a /24 that somebody else delegates: the prefix, RFC 2317. */
  readonly part?: Prefix
}

/** Times of a zone, seconds, in the range that RFC 1912, section 2.2 advises. */
const times = { ttl: 3600, refresh: 7200, retry: 1800, expire: 1209600, minimum: 3600 }

/** Every zone for which names are recorded, forward ones first. */
export function zonesOf(estate: Estate): readonly Zone[] {
  const named = nameTable(estate).names.filter(({ zone }) => zone !== undefined)
  const reversed = named.map((one) => ({ one, ...reverseZone(estate, one) }))
  return [
    ...[...groupBy(named, ({ zone }) => zone ?? '')].map(([name, names]): Zone => ({ name, kind: 'forward', names })),
    ...[...groupBy(reversed, ({ name }) => name)].map(([name, list]): Zone => {
      const part = list[0]?.part
      return { name, kind: 'reverse', names: list.map(({ one }) => one), ...(part ? { part } : {}) }
    }),
  ].sort((a, b) => (a.kind === b.kind ? compareNames(a.name, b.name) : a.kind === 'forward' ? -1 : 1))
}

/** The reverse zone an address belongs to: its /24 where the space is private, only its own part where it is not. */
function reverseZone(estate: Estate, { ip, address }: NamedAddress): { name: string; part?: Prefix } {
  const subnet = estate.find('subnet', address.subnetId)
  const prefix = subnet && contains(prefixOf(subnet), ip) ? prefixOf(subnet) : undefined
  if (familyOf(ip) === 6) return { name: nibbleZone(ip, prefix ? prefix.bits - (prefix.bits % 4) : 64) }
  const [a, b, c] = ip.split('.')
  const whole = `${c}.${b}.${a}.in-addr.arpa`
  if (!prefix || prefix.bits <= 24 || isPrivate(ip)) return { name: whole }
  return { name: `${ipFromNumber(4, prefix.first).split('.')[3] ?? ''}/${prefix.bits}.${whole}`, part: prefix }
}

/**
 * The reverse name of an address.
 *
 * @see RFC 1035, section 3.5; RFC 3596, section 2.5 (nibbles)
 * @example reverseName('10.61.30.2') // '2.30.61.10.in-addr.arpa'
 */
export function reverseName(ip: string): string {
  return familyOf(ip) === 4 ? `${ip.split('.').reverse().join('.')}.in-addr.arpa` : `${nibbles(ip).reverse().join('.')}.ip6.arpa`
}

const nibbles = (ip: string) => Array.from(ipToNumber(ip).toString(16).padStart(32, '0'))
const nibbleZone = (ip: string, bits: number) =>
  `${nibbles(ip)
    .slice(0, bits / 4)
    .reverse()
    .join('.')}.ip6.arpa`

/**
 * A zone as a master file.
 *
 * @param serial of its SOA record, such as `zoneSerial` gives
 * @see RFC 1035, section 5 (form); RFC 1912, section 2.2 (serial and times); RFC 2317 (parts of a /24); RFC 3596 (AAAA, nibbles)
 */
export function zoneFile(estate: Estate, zone: Zone, serial: number): string {
  const servers = nameServersOf(estate, zone)
  const domain = zone.kind === 'forward' ? zone.name : (zone.names[0]?.zone ?? zone.name)
  const records = zone.kind === 'forward' ? forwardRecords(zone) : reverseRecords(zone)
  const width = Math.max(8, ...records.map(([owner]) => owner.length))
  const line = (owner: string, type: string, value: string) => `${owner.padEnd(width)}  IN  ${type.padEnd(5)} ${value}`
  return [
    `; ${zone.name}, written by Insel`,
    `$ORIGIN ${zone.name}.`,
    `$TTL ${times.ttl}`,
    line('@', 'SOA', `${servers[0] ?? 'ns.invalid.'} hostmaster.${domain}. (`),
    `${' '.repeat(width)}      ${String(serial).padEnd(12)} ; serial`,
    `${' '.repeat(width)}      ${String(times.refresh).padEnd(12)} ; refresh`,
    `${' '.repeat(width)}      ${String(times.retry).padEnd(12)} ; retry`,
    `${' '.repeat(width)}      ${String(times.expire).padEnd(12)} ; expire`,
    `${' '.repeat(width)}      ${String(times.minimum).padEnd(12)} ; minimum`,
    `${' '.repeat(width)}      )`,
    ...(servers.length > 0 ? servers : ['ns.invalid.']).map((server) => line('@', 'NS', server)),
    ...(servers.length > 0 ? [] : ['; no name server is recorded: set one on the subnets, or add yours here']),
    ...records.map(([owner, type, value]) => line(owner, type, value)),
    ...delegation(zone, servers),
    '',
  ].join('\n')
}

type ZoneRecord = readonly [owner: string, type: 'A' | 'AAAA' | 'PTR', value: string]

function forwardRecords({ names }: Zone): ZoneRecord[] {
  return [...names]
    .sort((a, b) => compareNames(a.label, b.label) || familyOf(a.ip) - familyOf(b.ip))
    .map(({ label, ip }) => [label, familyOf(ip) === 4 ? 'A' : 'AAAA', ip])
}

function reverseRecords({ name, names, part }: Zone): ZoneRecord[] {
  // An address that is recorded twice has one reverse name: that of the first.
  const once = new Map([...names].reverse().map((named) => [named.ip, named]))
  return [...once.values()]
    .sort((a, b) => compareIps(a.ip, b.ip))
    .map(({ ip, label, zone }) => [
      part ? (ip.split('.')[3] ?? '') : reverseName(ip).slice(0, -name.length - 1),
      'PTR',
      `${fullName({ label, zone })}.`,
    ])
}

/** What whoever delegates the part has to put into the /24's zone, as comments: RFC 2317, section 4. */
function delegation({ name, names, part }: Zone, servers: readonly string[]): string[] {
  if (!part) return []
  const label = name.split('.')[0] ?? ''
  const lasts = [...new Set(names.map(({ ip }) => Number(ip.split('.')[3])))].sort((a, b) => a - b)
  return [
    '; For the zone above (RFC 2317): its keeper adds',
    ...servers.map((server) => `;   ${label}  IN  NS    ${server}`),
    ...lasts.map((last) => `;   ${last}  IN  CNAME ${last}.${name}.`),
  ]
}

/** The name servers of a zone: recorded machines that its subnets name, by their full names. */
function nameServersOf(estate: Estate, { names }: Zone): string[] {
  const subnets = new Set(names.map(({ address }) => address.subnetId))
  const asked = [...subnets].flatMap((id) => estate.find('subnet', id)?.nameServers?.split(' ') ?? [])
  const all = nameTable(estate).names
  return [...new Set(asked)].flatMap((ip) => {
    const named = all.find((one) => one.ip === ip && one.zone !== undefined)
    return named ? [`${fullName(named)}.`] : []
  })
}

/**
 * The serial of the zones at a revision of the estate: YYYYMMDDnn of its changes, growing with every revision. A day
 * with more than a hundred changes runs on into the next day's numbers, and later days go on from there.
 *
 * @param changes revision and UTC day (`YYYY-MM-DD`) of every change up to that revision, in order
 * @see RFC 1912, section 2.2
 * @example zoneSerial([{ revision: 1, day: '2027-01-18' }, { revision: 2, day: '2027-01-18' }]) // 2027011801
 */
export function zoneSerial(changes: Iterable<{ readonly revision: number; readonly day: string }>): number {
  let [serial, last] = [0, 0]
  for (const { revision, day } of changes) {
    serial = Math.max(Number(day.replaceAll('-', '')) * 100, serial + Math.max(1, revision - last))
    last = revision
  }
  return serial
}
