export type SpecMeaning =
  'name' | 'processors' | 'memory' | 'disks' | 'host' | 'networks' | 'store' | 'purpose' | 'option' | 'tag' | 'filler' | 'unread'

/** A stretch of the line and how it was read. */
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

/** The one part of a line that is too long to be read; undefined for any other line. */
export const tooLong = (line: string): SpecPart | undefined =>
  line.length > LINE_MAX
    ? {
        text: line,
        start: 0,
        end: line.length,
        meaning: 'unread',
        problem: `The line has ${line.length} characters; at most ${LINE_MAX} are read. Describe one thing on a line.`,
      }
    : undefined
