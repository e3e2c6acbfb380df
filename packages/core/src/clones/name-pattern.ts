import { counted } from '../units/index.js'

/** More names at once than anybody reads. */
export const NAMES_MAX = 1000

/** Names that a pattern stands for, or what is wrong with it. */
export type NamesReading = { readonly ok: true; readonly names: readonly string[] } | { readonly ok: false; readonly sentence: string }

const RANGE = /\{([^{}]*)\}/
const wrong = (sentence: string): NamesReading => ({ ok: false, sentence })

/**
 * The names that a text stands for: patterns and names, one to a line or parted by commas or spaces. `{01..05}` counts and keeps its
 * leading zeros, `{a..c}` goes through letters, `{web,mail}` takes each; several in one name are combined.
 *
 * @example expandNames('edge-{01..03}') // { ok: true, names: ['edge-01', 'edge-02', 'edge-03'] }
 */
export function expandNames(text: string): NamesReading {
  const names: string[] = []
  for (const word of wordsOf(text)) {
    const reading = expand(word)
    if (!reading.ok) return reading
    names.push(...reading.names)
    if (names.length > NAMES_MAX) return wrong(`These are more than ${counted(NAMES_MAX, 'name')}; make several batches of them.`)
  }
  return names.length === 0
    ? wrong('Names are missing: write a pattern such as edge-{01..05}, or one name to a line.')
    : { ok: true, names }
}

/** Parted by lines, commas and spaces, but not inside of braces. */
const wordsOf = (text: string): readonly string[] => text.match(/(?:\{[^{}\n]*\}|[^\s,;{}]|[{}])+/g) ?? []

function expand(word: string): NamesReading {
  const found = RANGE.exec(word)
  if (!found)
    return /[{}]/.test(word) ? wrong(`“${word}” has a brace without its other half; write edge-{01..05}.`) : { ok: true, names: [word] }
  const parts = partsOf(found[1] ?? '', word)
  if ('sentence' in parts) return wrong(parts.sentence)
  const names: string[] = []
  for (const part of parts.parts) {
    const rest = expand(word.slice(0, found.index) + part + word.slice(found.index + found[0].length))
    if (!rest.ok) return rest
    names.push(...rest.names)
    if (names.length > NAMES_MAX) return wrong(`“${word}” stands for more than ${counted(NAMES_MAX, 'name')}; make it shorter.`)
  }
  return { ok: true, names }
}

function partsOf(inside: string, word: string): { readonly parts: readonly string[] } | { readonly sentence: string } {
  const numbers = /^\s*(\d{1,9})\s*\.\.\s*(\d{1,9})\s*$/.exec(inside)
  if (numbers) {
    const [first, last] = [numbers[1] ?? '', numbers[2] ?? '']
    const width = first.startsWith('0') || last.startsWith('0') ? Math.max(first.length, last.length) : 0
    return counting(Number(first), Number(last), word, (value) => String(value).padStart(width, '0'))
  }
  const letters = /^\s*([a-z])\s*\.\.\s*([a-z])\s*$/i.exec(inside)
  if (letters)
    return counting((letters[1] ?? 'a').charCodeAt(0), (letters[2] ?? 'a').charCodeAt(0), word, (value) => String.fromCharCode(value))
  const list = inside.split(',').map((part) => part.trim())
  return inside.includes('..') || list.some((part) => part === '' || /\s/.test(part))
    ? { sentence: `“{${inside}}” in “${word}” cannot be read: write {01..05}, {a..c} or {web,mail}.` }
    : { parts: list }
}

function counting(first: number, last: number, word: string, say: (value: number) => string) {
  if (last < first) return { sentence: `“${word}” counts backwards; put the smaller one first.` }
  if (last - first >= NAMES_MAX) return { sentence: `“${word}” stands for more than ${counted(NAMES_MAX, 'name')}; make it shorter.` }
  return { parts: Array.from({ length: last - first + 1 }, (_, index) => say(first + index)) }
}
