import { counted } from '../units/index.js'

/** The largest text that is read, bytes of UTF-16 halves counted as characters. */
export const TEXT_MAX = 5_000_000
/** Deeper JSON is not read: no tool writes it, and it is a way to exhaust a reader. */
export const DEPTH_MAX = 64

// Control characters other than tab, line feed and carriage return.
// oxlint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/

/**
 * Why a text is not read at all, in a sentence; undefined when it may be.
 *
 * @example refusal('<?xml version="1.0"?>') // 'This is XML. …'
 */
export function refusal(text: string): string | undefined {
  if (text.length > TEXT_MAX)
    return `This is ${(text.length / 1e6).toFixed(1)} MB; at most ${TEXT_MAX / 1e6} MB are read. Paste one tool’s output at a time.`
  const control = CONTROL.exec(text)
  if (control) {
    const code = control[0].charCodeAt(0).toString(16).padStart(4, '0')
    return `Line ${lineAt(text, control.index)} holds a control character (U+${code.toUpperCase()}): this is not text. Paste the tool’s output, not a binary file.`
  }
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    return 'This is XML with its own declarations; it is not read. Use the tool’s JSON output, such as lshw -json.'
  if (/^\s*<(\?xml|[a-z])/i.test(text)) return 'This is XML. Use the tool’s JSON output, such as lshw -json.'
  return undefined
}

/**
 * Says so where a text has more lines than are read at once: what a text costs follows from its lines more than from its length.
 *
 * @example tooManyLines('a\nb', 1) // 'The text has more than 1 line. Split it.'
 */
export function tooManyLines(text: string, most: number): string | undefined {
  let lines = 1
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1))
    if (++lines > most) return `The text has more than ${counted(most, 'line')}. Split it.`
  return undefined
}

/** The number of the line a character is on, from 1. */
export const lineAt = (text: string, index: number): number => text.slice(0, index).split('\n').length

/** Gives the line of ever later characters, each part of the text counted once. */
function lineCounter(text: string): (index: number) => number {
  let [at, line] = [0, 1]
  return (index) => {
    for (let next = text.indexOf('\n', at); next >= 0 && next < index; next = text.indexOf('\n', next + 1)) {
      line++
      at = next + 1
    }
    return line
  }
}

/** A piece of a text: a JSON document or lines between such, with the line it starts on. */
export interface Piece {
  readonly kind: 'json' | 'lines'
  readonly text: string
  readonly line: number
  /** For JSON: how deep it nests, and whether it ends. */
  readonly depth: number
  readonly isWhole: boolean
}

/**
 * Cuts a text into JSON documents, each beginning a line, and the lines between them.
 *
 * @param most pieces; a text of more is cut no further
 */
export function cut(text: string, most: number): readonly Piece[] {
  const pieces: Piece[] = []
  const starts = /^[ \t]*[{[]/gm
  const lineOf = lineCounter(text)
  let from = 0
  const addLines = (until: number) => {
    const lines = text.slice(from, until)
    if (lines.trim() !== '') pieces.push({ kind: 'lines', text: lines, line: lineOf(from), depth: 0, isWhole: true })
  }
  for (let match = starts.exec(text); match && pieces.length < most; match = starts.exec(text)) {
    const start = match.index + match[0].length - 1
    addLines(match.index)
    const { end, depth, isWhole } = endOfJson(text, start)
    pieces.push({ kind: 'json', text: text.slice(start, end), line: lineOf(start), depth, isWhole })
    from = end
    starts.lastIndex = end
  }
  if (pieces.length < most) addLines(text.length)
  return pieces
}

/** Where a JSON document that starts here ends, by its brackets; strings are stepped over. */
function endOfJson(text: string, start: number): { end: number; depth: number; isWhole: boolean } {
  let [level, depth] = [0, 0]
  for (let at = start; at < text.length; at++) {
    const character = text[at]
    if (character === '"') {
      for (at++; at < text.length && text[at] !== '"'; at++) if (text[at] === '\\') at++
    } else if (character === '{' || character === '[') depth = Math.max(depth, ++level)
    else if ((character === '}' || character === ']') && --level === 0) return { end: at + 1, depth, isWhole: true }
  }
  return { end: text.length, depth, isWhole: false }
}

/** A JSON document, or the line and the sentence that say what is wrong with it. */
export function parsePiece(piece: Piece): { readonly value: unknown } | { readonly line: number; readonly sentence: string } {
  if (piece.depth > DEPTH_MAX)
    return { line: piece.line, sentence: `This JSON nests ${piece.depth} deep; at most ${DEPTH_MAX} levels are read.` }
  try {
    return { value: JSON.parse(piece.text) as unknown }
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
    const position = /position (\d+)/.exec(error.message)?.[1]
    const line = piece.line + lineAt(piece.text, position === undefined || !piece.isWhole ? piece.text.length : Number(position)) - 1
    return {
      line,
      sentence: piece.isWhole
        ? 'This is not JSON, or it is cut off. Paste the tool’s output whole and unchanged.'
        : 'The JSON document that starts above does not end. Paste the whole output.',
    }
  }
}
