import ipaddr from 'ipaddr.js'
import type { TextShape } from './field.js'

export const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/
export const NAME = /^[a-z0-9]([a-z0-9._-]*[a-z0-9])?$/i

// Control characters other than tab and line feed: they break exports and screens, and nobody means them.
// oxlint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/u
// Characters that turn the direction of what follows: a name, a command or an address would be shown as another one.
// Unicode Technical Report 36, section 2.4; the property is of UAX #9.
const DIRECTION = /\p{Bidi_Control}/u
// Half of a pair that stands for one character (The Unicode Standard, D75): no encoding can write it.
const HALF = /\p{Surrogate}/u

const unwanted = [
  [CONTROL, 'contains a control character'],
  [DIRECTION, 'contains a character that changes the direction of writing'],
  [HALF, 'contains half of a character'],
] as const

/**
 * What is wrong with a text whatever its shape, to be said after what the text is; undefined when nothing is.
 *
 * @example unreadable('na\u202eme') // 'contains a character that changes the direction of writing (U+202E, at place 3); remove it'
 */
export function unreadable(text: string): string | undefined {
  for (const [characters, sentence] of unwanted) {
    const found = characters.exec(text)
    if (!found) continue
    const code = (found[0].codePointAt(0) ?? 0).toString(16).toUpperCase().padStart(4, '0')
    return `${sentence} (U+${code}, at place ${found.index + 1}); remove it`
  }
  return undefined
}

/** A shape's own form of a text, or the sentence for a text that is not of that shape. */
type Shaping = { value: string } | { sentence: string }

export const shapes: Record<TextShape, (text: string) => Shaping> = {
  line: (t) => (/[\n\u2028\u2029]/.test(t) ? { sentence: 'must be one line; remove the line break' } : { value: t }),
  note: (t) => ({ value: t }),
  words: (t) => ({
    value: [
      ...new Set(
        t
          .toLowerCase()
          .split(/[\s,;]+/)
          .filter(Boolean),
      ),
    ]
      .sort()
      .join(' '),
  }),
  sha256: (t) => {
    const digits = t.toLowerCase().replace(/[\s:]/g, '')
    return /^[0-9a-f]{64}$/.test(digits)
      ? { value: digits }
      : {
          sentence: `must be 64 hexadecimal digits (SHA-256); it has ${digits.length} characters${/^[0-9a-f]*$/.test(digits) ? '' : ', not all hexadecimal'}`,
        }
  },
  name: (t) =>
    t.length <= 63 && NAME.test(t)
      ? { value: t }
      : {
          sentence: `can only have letters, digits, hyphens, dots and underscores, up to 63, and must start and end with a letter or digit; “${t}” does not fit`,
        },
  domain: (t) => {
    const ok = t.length <= 253 && t.split('.').every((l) => l.length <= 63 && /^[a-z0-9]([a-z0-9-]*[a-z0-9])?$/i.test(l))
    return ok ? { value: t.toLowerCase() } : { sentence: `must be a domain such as skerry.example (RFC 1123), not “${t}”` }
  },
  ip: (t) => {
    const value = canonicalIp(t)
    if (value) return { value }
    const [address = '', zone] = t.split('%')
    return zone !== undefined && canonicalIp(address)
      ? { sentence: `is written with a zone; leave “%${zone}” out, the record says itself which adapter or network it is on (RFC 4007)` }
      : { sentence: `must be an IPv4 or IPv6 address such as 10.61.30.47, not “${t}”` }
  },
  ips: (t) => {
    const words = t.split(/[\s,;]+/).filter(Boolean)
    const bad = words.find((word) => !canonicalIp(word))
    return bad === undefined
      ? { value: [...new Set(words.map((word) => canonicalIp(word) ?? word))].join(' ') }
      : { sentence: `must be addresses separated by spaces or commas; “${bad}” is not an address` }
  },
  vlans: shapeVlans,
  label: (t) =>
    isHostLabel(t)
      ? { value: t.toLowerCase() }
      : { sentence: `can only have letters, digits and hyphens, up to 63, no hyphen at an end (RFC 1123); “${t}” does not fit` },
  prefix: shapePrefix,
  subnet: shapeSubnet,
  mac: (t) => {
    const digits = t.toLowerCase().replace(/[:.-]/g, '')
    if (!/^[0-9a-f]{12}$/.test(digits)) return { sentence: `must be twelve hexadecimal digits such as 02:1a:4b:30:00:2f, not “${t}”` }
    if (parseInt(digits.slice(0, 2), 16) & 1)
      return { sentence: `“${t}” is a group address (its first octet is odd); an adapter needs an individual one` }
    if (/^0+$/.test(digits)) return { sentence: `“${t}” stands for no address; leave it empty where the address is not known` }
    return { value: digits.match(/../g)?.join(':') ?? '' }
  },
  macPrefix: (t) => {
    const digits = t.toLowerCase().replace(/[:.-]/g, '')
    if (!/^[0-9a-f]{6}$/.test(digits)) return { sentence: `must be six hexadecimal digits such as 02:1a:4b, not “${t}”` }
    return { value: digits.match(/../g)?.join(':') ?? '' }
  },
  date: (t) =>
    /^\d{4}-\d\d-\d\d$/.test(t) && isRealDate(t) ? { value: t } : { sentence: `must be a date such as 2027-03-09, not “${t}”` },
  instant: (t) => {
    const value = instantOf(t)
    return value === undefined ? { sentence: `must be a time with its zone such as 2027-03-09T22:00:00Z, not “${t}”` } : { value }
  },
  moment: (t) => {
    const value = instantOf(/^\d{4}-\d\d-\d\d$/.test(t) ? `${t}T00:00:00Z` : t)
    return value === undefined ? { sentence: `must be a date or a time such as 2027-03-09 or 2027-03-09T22:00:00Z, not “${t}”` } : { value }
  },
  id: (t) => (UUID.test(t) ? { value: t } : { sentence: `must be a UUID in lower case, not “${t}”` }),
  orderKey: (t) => (/^[0-9A-Za-z]+$/.test(t) ? { value: t } : { sentence: `can only have letters and digits, not “${t}”` }),
  timeZone: (t) => {
    try {
      return { value: new Intl.DateTimeFormat('en', { timeZone: t }).resolvedOptions().timeZone }
    } catch (error) {
      if (!(error instanceof RangeError)) throw error
      return { sentence: `must be a time zone such as Europe/Lisbon; “${t}” is not known` }
    }
  },
}

/** RFC 3339, section 5.6; seconds may be left out, as browsers do. */
const INSTANT = /^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:\d\d)$/i

/**
 * An instant in UTC; undefined for a text that is none, or one outside the years 1 to 9999, which no database and no calendar here holds.
 *
 * @source RFC 3339, section 5.6: four digits of a year
 */
function instantOf(text: string): string | undefined {
  const time = INSTANT.test(text) && isRealDate(text.slice(0, 10)) ? Date.parse(text) : NaN
  if (Number.isNaN(time)) return undefined
  const instant = new Date(time).toISOString()
  return /^(?!0000)\d{4}-/.test(instant) ? instant : undefined
}

function isRealDate(text: string): boolean {
  if (text.startsWith('0000')) return false
  const date = new Date(`${text}T00:00:00Z`)
  return !Number.isNaN(date.getTime()) && date.toISOString().startsWith(text)
}

/** Characters of an address, with at least two of what is between its parts. */
const ADDRESS = /^(?:\d{1,3}\.){3}\d{1,3}$|^(?=[^:]*:[^:]*:)[0-9a-f:.]{2,45}$/i

/** The one text form of an address (RFC 5952 for IPv6), or undefined when the text is no address. */
export function canonicalIp(input: string): string | undefined {
  // What cannot be one is refused before the library is asked, which tries by throwing.
  if (!ADDRESS.test(input)) return undefined
  if (!input.includes(':')) return ipaddr.IPv4.isValidFourPartDecimal(input) && !/(^|\.)0\d/.test(input) ? input : undefined
  if (!ipaddr.IPv6.isValid(input)) return undefined
  return ipaddr.IPv6.parse(input).toRFC5952String()
}

function shapePrefix(input: string): Shaping {
  const [address = '', length = '', ...rest] = input.split('/')
  const ip = canonicalIp(address)
  const bits = ip?.includes(':') ? 128 : 32
  if (!ip || rest.length > 0 || !/^(0|[1-9]\d{0,2})$/.test(length) || Number(length) > bits)
    return { sentence: `must be a prefix such as 10.61.30.0/24, not “${input}”` }
  const cidr = `${ip}/${length}`
  const start =
    bits === 32 ? ipaddr.IPv4.networkAddressFromCIDR(cidr).toString() : ipaddr.IPv6.networkAddressFromCIDR(cidr).toRFC5952String()
  return start === ip ? { value: cidr } : { sentence: `${cidr} is an address inside a prefix; the prefix itself is ${start}/${length}` }
}

/** Prefixes in which no machine of a segment has its address. */
const notSegments = [
  ['127.0.0.0/8', 'loopback (RFC 1122)'],
  ['::1/128', 'loopback (RFC 4291)'],
  ['224.0.0.0/4', 'multicast (RFC 5771)'],
  ['ff00::/8', 'multicast (RFC 4291)'],
] as const

/** A prefix that a segment can have. */
function shapeSubnet(input: string): Shaping {
  const shaped = shapePrefix(input)
  if ('sentence' in shaped) return shaped
  const { value } = shaped
  if (value.endsWith('/0')) return { sentence: `${value} is every address there is, not a segment’s; give its own prefix` }
  const own = ipaddr.parseCIDR(value)
  const taken = notSegments.find(([prefix]) => {
    const [first, bits] = ipaddr.parseCIDR(prefix)
    return first.kind() === own[0].kind() && own[1] >= bits && own[0].match(first, bits)
  })
  return taken ? { sentence: `${value} is for ${taken[1]}; machines on a segment have no address in it` } : shaped
}

/**
 * Whether a text is one label of a host name: letters, digits and hyphens, up to 63, no hyphen at an end.
 *
 * @see RFC 1123, section 2.1; RFC 952
 * @example isHostLabel('stream-edge-1') // true
 */
export const isHostLabel = (text: string): boolean => /^[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?$/i.test(text)

/** VLAN IDs and ranges of them, sorted and joined where they touch: `10,20-30`. */
function shapeVlans(input: string): Shaping {
  const ranges: [number, number][] = []
  for (const word of input.toLowerCase() === 'all' ? ['1-4094'] : input.split(/[\s,;]+/).filter(Boolean)) {
    const match = /^(\d{1,4})(?:-(\d{1,4}))?$/.exec(word)
    const [first, last] = [Number(match?.[1]), Number(match?.[2] ?? match?.[1])]
    if (!match || first < 1 || last > 4094 || first > last)
      return { sentence: `must be VLAN IDs from 1 to 4094 (IEEE 802.1Q) such as 10,20-30; “${word}” is not` }
    ranges.push([first, last])
  }
  const joined: [number, number][] = []
  for (const [first, last] of ranges.sort((a, b) => a[0] - b[0])) {
    const before = joined.at(-1)
    if (before && first <= before[1] + 1) before[1] = Math.max(before[1], last)
    else joined.push([first, last])
  }
  return { value: joined.map(([first, last]) => (first === last ? String(first) : `${first}-${last}`)).join(',') }
}
