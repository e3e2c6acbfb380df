import { counted } from '../units/index.js'
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
 * @param membersMax how many members one object may have; as many as there are where it is left out
 * @returns the first fault, undefined where there is none
 * @example jsonFault({ name: 'a\u0000' })?.path // 'name'
 */
export const jsonFault = (value: unknown, membersMax = Infinity): JsonFault | undefined => faultIn(value, DEPTH_MAX, membersMax)

/**
 * Nothing is made but for a fault: of millions of values each would cost more than the value itself.
 *
 * @param deeper how many levels may follow; so the calls nest no deeper than that
 */
function faultIn(value: unknown, deeper: number, membersMax: number): JsonFault | undefined {
  if (typeof value === 'string') {
    const message = textFault(value)
    return message === undefined ? undefined : { path: '', message }
  }
  if (typeof value !== 'object' || value === null) return undefined
  if (deeper === 0) return { path: '', message: `The value nests deeper than ${DEPTH_MAX} levels.` }
  if (Array.isArray(value)) {
    for (let at = 0; at < value.length; at++) {
      const fault = faultIn(value[at], deeper - 1, membersMax)
      if (fault) return under(String(at), fault)
    }
    return undefined
  }
  let members = 0
  for (const name in value) {
    if (++members > membersMax) return { path: '', message: `An object can have at most ${counted(membersMax, 'member')}.` }
    // Names that every object of JavaScript knows: a look-up by one finds what nobody wrote.
    const message = name in Object.prototype ? `There is no field “${name}” here.` : textFault(name)
    const fault =
      message === undefined ? faultIn((value as Readonly<Record<string, unknown>>)[name], deeper - 1, membersMax) : { path: '', message }
    if (fault) return under(name, fault)
  }
  return undefined
}

const under = (name: string, { path, message }: JsonFault): JsonFault => {
  const shown = name.replaceAll(/[^\p{Letter}\p{Number}_.-]/gu, '?').slice(0, 60)
  return { path: path === '' ? shown : `${shown}.${path}`, message }
}

const textFault = (text: string): string | undefined =>
  text.includes('\0')
    ? 'A text contains a NUL character; remove it.'
    : HALF.test(text)
      ? 'A text contains half a character (a lone surrogate); remove it.'
      : undefined
