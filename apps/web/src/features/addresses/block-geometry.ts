import { ipFromNumber, type Prefix } from '@insel/core'

/** A place in a drawing, as shares of its width and height. */
export interface Place {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/**
 * Where a prefix is in the drawing of its block: each bit halves the place, now across, now down, so that areas are to scale
 * and every prefix is a rectangle.
 *
 * @example placeOf(parsePrefix('10.0.0.0/8'), parsePrefix('10.128.0.0/9')) // { x: 0.5, y: 0, width: 0.5, height: 1 }
 */
export function placeOf(block: Prefix, prefix: Prefix): Place {
  let [x, y, width, height] = [0, 0, 1, 1]
  const full = block.family === 4 ? 32 : 128
  for (let bits = block.bits; bits < prefix.bits; bits++) {
    const isUpper = (prefix.first >> BigInt(full - bits - 1)) & 1n
    if ((bits - block.bits) % 2 === 0) {
      width /= 2
      if (isUpper) x += width
    } else {
      height /= 2
      if (isUpper) y += height
    }
  }
  return { x, y, width, height }
}

/**
 * What tells a prefix from the others of its block where there is little room: its own octets.
 *
 * @returns empty where that says nothing, as for IPv6
 * @example shortName(parsePrefix('10.61.0.0/16'), parsePrefix('10.61.40.0/23')) // '.40'
 */
export function shortName(block: Prefix, prefix: Prefix): string {
  if (prefix.family !== 4) return ''
  const octets = (prefix.text.split('/')[0] ?? '').split('.')
  const own = octets.slice(Math.floor(block.bits / 8), Math.ceil(prefix.bits / 8))
  return own.length > 0 ? `.${own.join('.')}` : ''
}

/** The address at a point of the drawing, down to prefixes of a length. */
export function ipAt(block: Prefix, x: number, y: number, bits: number): string {
  const full = block.family === 4 ? 32 : 128
  let value = block.first
  let [left, top, width, height] = [0, 0, 1, 1]
  const inside = (at: number) => Math.max(0, Math.min(0.999_999, at))
  for (let bit = block.bits; bit < bits; bit++) {
    const step = 1n << BigInt(full - bit - 1)
    if ((bit - block.bits) % 2 === 0) {
      width /= 2
      if (inside(x) >= left + width) {
        left += width
        value += step
      }
    } else {
      height /= 2
      if (inside(y) >= top + height) {
        top += height
        value += step
      }
    }
  }
  return ipFromNumber(block.family, value)
}
