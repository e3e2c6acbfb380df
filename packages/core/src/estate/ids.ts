import { parse, v5 } from 'uuid'

const hexBytes = Array.from({ length: 256 }, (_, byte) => byte.toString(16).padStart(2, '0'))
const hexOf = (byte: number): string => hexBytes[byte] ?? ''

/**
 * A maker of UUIDv7 ids (RFC 9562): ordered by time, unique by chance.
 *
 * @param now milliseconds since 1970, asked for each id
 * @param random whole random numbers in 0..255, `count` of them
 * @example makeIds(() => Date.now(), (count) => crypto.getRandomValues(new Uint8Array(count)))
 */
export function makeIds(now: () => number, random: (count: number) => Uint8Array): () => string {
  let last = 0
  let counter = 0
  return () => {
    const time = Math.max(now(), last)
    counter = time === last ? counter + 1 : 0
    if (counter > 0xfff) {
      last = time + 1
      counter = 0
    } else last = time
    const [variant = 0, ...rest] = random(8)
    const time12 = last.toString(16).padStart(12, '0')
    const tail = hexOf((variant & 0x3f) | 0x80) + rest.map(hexOf).join('')
    return `${time12.slice(0, 8)}-${time12.slice(8)}-${(0x7000 | counter).toString(16)}-${tail.slice(0, 4)}-${tail.slice(4)}`
  }
}

/** Whole numbers that look random but follow from a seed (mulberry32), for demo data, benchmarks and tests. */
export function seededRandom(seed: number): (count: number) => Uint8Array {
  let state = seed >>> 0
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return (t ^ (t >>> 14)) >>> 0
  }
  return (count) => Uint8Array.from({ length: count }, () => next() & 0xff)
}

/**
 * The id of what is made for one record after the pattern of another: the same two always give the same id, wherever and in whatever
 * list it is made. Ordered by time like the first.
 *
 * A UUIDv8 (RFC 9562, section 5.8): the time of the first, then the hash of a UUIDv5 in the first's namespace.
 *
 * @param madeFor the id of the record it is made for, such as the copy of a guest
 * @param of the id of what it is copied from, such as a disk of the original; or another name that is used once for each `madeFor`
 * @example derivedId(copy.id, disk.id) // the id of the copy's disk
 */
export function derivedId(madeFor: string, of: string): string {
  if (namespace.of !== madeFor) namespace = { of: madeFor, bytes: parse(madeFor) }
  return `${madeFor.slice(0, 13)}-8${v5(utf8.encode(of), namespace.bytes).slice(15)}`
}
const utf8 = new TextEncoder()
/** Of the record that something was made for last: several things are made for each. */
let namespace: { readonly of: string; readonly bytes: Uint8Array } = { of: '', bytes: new Uint8Array() }
