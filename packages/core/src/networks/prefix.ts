import ipaddr from 'ipaddr.js'

export type Family = 4 | 6

/** A prefix with its ends as numbers, so that membership is two comparisons. */
export interface Prefix {
  readonly family: Family
  readonly bits: number
  readonly first: bigint
  readonly last: bigint
  readonly text: string
}

/** The family of an address in its canonical form. */
export const familyOf = (ip: string): Family => (ip.includes(':') ? 6 : 4)

/**
 * An address as a number.
 *
 * @param ip a valid address, as `readField` leaves it
 * @throws Error when the text is no address
 * @example ipToNumber('10.61.0.1') // 171769857n
 */
export function ipToNumber(ip: string): bigint {
  if (familyOf(ip) === 4) return BigInt(ip.split('.').reduce((sum, octet) => sum * 256 + Number(octet), 0))
  return ipaddr.IPv6.parse(ip)
    .toByteArray()
    .reduce((sum, byte) => (sum << 8n) | BigInt(byte), 0n)
}

/**
 * The canonical text of an address: dotted decimal, or RFC 5952.
 *
 * @example ipFromNumber(4, 171769857n) // '10.61.0.1'
 */
export function ipFromNumber(family: Family, value: bigint): string {
  const length = family === 4 ? 4 : 16
  const bytes = Array.from({ length }, (_, index) => Number((value >> BigInt(8 * (length - 1 - index))) & 255n))
  return family === 4 ? bytes.join('.') : new ipaddr.IPv6(bytes).toRFC5952String()
}

/**
 * Reads a prefix in its canonical form.
 *
 * @param text such as `10.61.30.0/24`, without host bits, as `readField` leaves it
 * @example parsePrefix('10.61.30.0/24').last // 171777791n
 */
export function parsePrefix(text: string): Prefix {
  const [address = '', length = ''] = text.split('/')
  const family = familyOf(address)
  const bits = Number(length)
  const first = ipToNumber(address)
  const size = 1n << BigInt((family === 4 ? 32 : 128) - bits)
  return { family, bits, first, last: first + size - 1n, text }
}

/**
 * The prefix that an address and a length make.
 *
 * @example prefixAround('10.61.30.47', 24).text // '10.61.30.0/24'
 */
export function prefixAround(ip: string, bits: number): Prefix {
  const family = familyOf(ip)
  const hostBits = BigInt((family === 4 ? 32 : 128) - bits)
  const first = (ipToNumber(ip) >> hostBits) << hostBits
  return { family, bits, first, last: first + (1n << hostBits) - 1n, text: `${ipFromNumber(family, first)}/${bits}` }
}

/** Whether an address is in a prefix. */
export function contains(prefix: Prefix, ip: string): boolean {
  if (familyOf(ip) !== prefix.family) return false
  const value = ipToNumber(ip)
  return value >= prefix.first && value <= prefix.last
}

/** The same for an address that is a number already, where it is asked often. */
export const holds = ({ family, first, last }: Prefix, of: Family, value: bigint): boolean =>
  family === of && value >= first && value <= last

/** Whether two prefixes share an address. */
export const overlaps = (a: Prefix, b: Prefix): boolean => a.family === b.family && a.first <= b.last && b.first <= a.last

/**
 * The addresses of a prefix that a machine may have: without network and broadcast address in IPv4, but both ends of
 * a /31 and the one of a /32; in IPv6 all but the subnet-router anycast address.
 *
 * @see RFC 3021 for /31; RFC 4291, 2.6.1 for IPv6
 * @example usableRange(parsePrefix('10.61.30.0/28')) // 10.61.30.1 .. 10.61.30.14
 */
export function usableRange({ family, bits, first, last }: Prefix): { first: bigint; last: bigint } {
  if (family === 4) return bits >= 31 ? { first, last } : { first: first + 1n, last: last - 1n }
  return bits >= 127 ? { first, last } : { first: first + 1n, last }
}

/**
 * How many addresses machines may have in a prefix.
 *
 * @example usableCount(parsePrefix('10.61.30.0/24')) // 254n
 */
export function usableCount(prefix: Prefix): bigint {
  const range = usableRange(prefix)
  return range.last - range.first + 1n
}

/**
 * The other half of the prefix of which this one is a half.
 *
 * @returns undefined for a prefix of length 0
 * @example siblingOf(parsePrefix('10.61.30.0/24')) // '10.61.31.0/24'
 */
export function siblingOf({ family, bits, first, last }: Prefix): string | undefined {
  return bits === 0 ? undefined : `${ipFromNumber(family, first ^ (last - first + 1n))}/${bits}`
}

/** Whether one prefix is in another, or is the same. */
export const isWithin = (inner: Prefix, outer: Prefix): boolean =>
  inner.family === outer.family && inner.first >= outer.first && inner.last <= outer.last

const privatePrefixes = [
  // RFC 1918, RFC 6598, RFC 3927, RFC 4193, RFC 4291: not carried by the public network.
  '10.0.0.0/8',
  '172.16.0.0/12',
  '192.168.0.0/16',
  '100.64.0.0/10',
  '169.254.0.0/16',
  'fc00::/7',
  'fe80::/10',
].map(parsePrefix)

/**
 * Whether an address is private: the public network carries nothing to it.
 *
 * @see RFC 1918, RFC 6598, RFC 3927, RFC 4193, RFC 4291
 * @example isPrivate('10.61.30.5') // true
 */
export const isPrivate = (ip: string): boolean => privatePrefixes.some((prefix) => contains(prefix, ip))

const linkLocal = parsePrefix('fe80::/10')
/** Whether an address is good on its own segment only, and may be there again on every other: IPv6 link-local, RFC 4291 section 2.5.6. */
export const isLinkLocal = (ip: string): boolean => contains(linkLocal, ip)

/**
 * Whether a machine finds a gateway without a router: it is in the prefix that the machine treats as directly connected, or it is the
 * link-local address by which IPv6 routers announce themselves.
 *
 * @see RFC 4861, section 4.2: a router advertisement comes from a link-local address, which becomes the gateway
 * @example isNearGateway(parsePrefix('2001:db8:1::/64'), 'fe80::1') // true
 */
export const isNearGateway = (near: Prefix, gateway: string): boolean =>
  contains(near, gateway) || (near.family === 6 && isLinkLocal(gateway))

/** The two halves of a prefix, the lower first. */
export function halvesOf({ family, bits, first, last }: Prefix): readonly [lower: Prefix, upper: Prefix] {
  const half = (from: bigint) => parsePrefix(`${ipFromNumber(family, from)}/${bits + 1}`)
  return [half(first), half(first + (last - first + 1n) / 2n)]
}

/** The order of addresses in lists: IPv4 before IPv6, then by number. */
export function compareIps(a: string, b: string): number {
  const [one, other] = [ipToNumber(a), ipToNumber(b)]
  return familyOf(a) - familyOf(b) || (one < other ? -1 : one > other ? 1 : 0)
}
