import { counted } from '../units/index.js'
import { DEPTH_MAX } from './safe-text.js'

/** What a JSON text may be made of. */
export interface JsonLimits {
  /** Members and elements of everything in it, counted together. */
  readonly values: number
  /** How deep lists and objects may nest. */
  readonly depth?: number
}

const [SPACE, QUOTE, BACKSLASH, COMMA, LIST, LIST_END, OBJECT, OBJECT_END] = [0x20, 0x22, 0x5c, 0x2c, 0x5b, 0x5d, 0x7b, 0x7d]

/**
 * Judges a JSON text by one pass over its bytes, before it is parsed: parsing takes time and memory by what a text is made of, not by its
 * length alone. Whether it is JSON is left to the parser.
 *
 * @param bytes UTF-8
 * @returns the limit that was met, in a sentence; undefined where it may be parsed
 * @example jsonShapeFault(new TextEncoder().encode('[[1]]'), { values: 10, depth: 1 }) // 'The JSON nests deeper than 1 level.'
 */
export function jsonShapeFault(bytes: Uint8Array, { values, depth: depthMax = DEPTH_MAX }: JsonLimits): string | undefined {
  let [depth, count, isOpened] = [0, 0, false]
  for (let at = 0; at < bytes.length; at++) {
    const byte = bytes[at] ?? 0
    if (byte <= SPACE) continue
    // What comes behind an opening bracket is the first element, unless it closes at once.
    if (isOpened && byte !== LIST_END && byte !== OBJECT_END) count++
    isOpened = false
    if (byte === QUOTE) {
      for (at++; at < bytes.length && bytes[at] !== QUOTE; at++) if (bytes[at] === BACKSLASH) at++
    } else if (byte === COMMA) count++
    else if (byte === LIST || byte === OBJECT) {
      isOpened = true
      if (++depth > depthMax) return `The JSON nests deeper than ${counted(depthMax, 'level')}.`
    } else if (byte === LIST_END || byte === OBJECT_END) depth--
    if (count > values) return `The JSON holds more than ${counted(values, 'value')}.`
  }
  return undefined
}
