import { DEPTH_MAX } from './safe-text.js'

/** A place in a value read from JSON, and what is wrong there. */
export interface JsonFault {
  readonly path: string
  readonly message: string
}

/** Half of a pair that is one character: no text of it can be stored or sent (Unicode, section 3.9). */
const HALF = /\p{Surrogate}/u

/**
 * What in a value from JSON no record and no reader can hold: half characters and NUL in texts and names, names that mean
 * something to JavaScript's objects, nesting without end.
 *
 * @returns the first fault, undefined where there is none
 * @example jsonFault({ name: 'a\u0000' })?.path // 'name'
 */
export function jsonFault(value: unknown): JsonFault | undefined {
  // By hand instead of by recursion, which deep nesting would exhaust.
  const open: { readonly value: unknown; readonly path: string; readonly depth: number }[] = [{ value, path: '', depth: 0 }]
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    if (typeof at.value === 'string') {
      const message = textFault(at.value)
      if (message) return { path: at.path, message }
    }
    if (typeof at.value !== 'object' || at.value === null) continue
    if (at.depth >= DEPTH_MAX) return { path: at.path, message: `The value nests deeper than ${DEPTH_MAX} levels.` }
    for (const [name, inner] of Object.entries(at.value)) {
      const shown = name.replaceAll(/[^\p{Letter}\p{Number}_.-]/gu, '?').slice(0, 60)
      const path = at.path === '' ? shown : `${at.path}.${shown}`
      // Names that every object of JavaScript knows: a look-up by one finds what nobody wrote.
      const message = name in Object.prototype ? `There is no field “${name}” here.` : textFault(name)
      if (message) return { path, message }
      open.push({ value: inner, path, depth: at.depth + 1 })
    }
  }
  return undefined
}

const textFault = (text: string): string | undefined =>
  text.includes('\0')
    ? 'A text contains a NUL character; remove it.'
    : HALF.test(text)
      ? 'A text contains half a character (a lone surrogate); remove it.'
      : undefined
