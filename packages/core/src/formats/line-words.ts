import { distance } from 'fastest-levenshtein'

export type SpecMeaning =
  'name' | 'processors' | 'memory' | 'disks' | 'host' | 'networks' | 'store' | 'purpose' | 'option' | 'tag' | 'filler' | 'unread'

/** A stretch of a line and how it was read. */
export interface SpecPart {
  readonly text: string
  readonly start: number
  readonly end: number
  readonly meaning: SpecMeaning
  /** What is wrong with it. */
  readonly problem?: string
  /** A word of the estate or the language that it may have meant. */
  readonly suggestion?: string
}

/** The longest line that is read, characters: nobody types more of one thing. */
const LINE_MAX = 2000

function withoutCommas(text: string): string {
  let end = text.length
  while (text[end - 1] === ',') end--
  return text.slice(0, end)
}

/** What is wrong with a part of a line, and what may have been meant. */
export interface Trouble {
  readonly problem?: string | undefined
  readonly suggestion?: string | undefined
}

/**
 * The words of a line that describes one thing, taken one after the other; each part is kept with its place and what it was read as. Commas
 * between words are dropped, those inside a list (`office,storage`) kept. A line that is too long has no words, and says so.
 *
 * @example
 * const words = new LineWords('gannet 2x16, 128G')
 * words.take(1, 'name')
 * words.word() // '2x16'
 */
export class LineWords {
  readonly parts: SpecPart[] = []
  readonly #line: string
  readonly #words: readonly { readonly text: string; readonly start: number }[]
  #at = 0

  constructor(line: string) {
    const isTooLong = line.length > LINE_MAX
    this.#line = line
    this.#words = isTooLong
      ? []
      : [...line.matchAll(/\S+/g)]
          .map(({ 0: raw, index }) => ({ text: withoutCommas(raw), start: index }))
          .filter(({ text }) => text !== '')
    if (isTooLong) {
      const problem = `The line has ${line.length} characters; at most ${LINE_MAX} are read. Describe one thing on a line.`
      this.parts.push({ text: line, start: 0, end: line.length, meaning: 'unread', problem })
    }
  }

  get isOver(): boolean {
    return this.#at >= this.#words.length
  }
  /** Whether nothing is taken yet. */
  get isAtStart(): boolean {
    return this.#at === 0
  }

  /** The word that comes next, or one after it; empty beyond the end. */
  word(offset = 0): string {
    return this.#words[this.#at + offset]?.text ?? ''
  }

  /** Takes so many words as one part. */
  take(count: number, meaning: SpecMeaning, { problem, suggestion }: Trouble = {}): void {
    const [first, last] = [this.#words[this.#at], this.#words[this.#at + count - 1]]
    this.#at += count
    if (!first || !last) return
    const end = last.start + last.text.length
    this.parts.push({
      text: this.#line.slice(first.start, end),
      start: first.start,
      end,
      meaning,
      ...(problem ? { problem } : {}),
      ...(suggestion ? { suggestion } : {}),
    })
  }
}

/**
 * The word that was probably meant; undefined where none is near.
 *
 * @example nearest('gannte', ['gannet', 'fulmar']) // 'gannet'
 */
export function nearest(word: string, candidates: readonly string[]): string | undefined {
  const ranked = candidates
    .map((candidate) => ({ candidate, steps: distance(word.toLowerCase(), candidate.toLowerCase()) }))
    .sort((a, b) => a.steps - b.steps)[0]
  return ranked && ranked.steps <= Math.max(1, Math.floor(ranked.candidate.length / 3)) ? ranked.candidate : undefined
}
