import { isLong } from './tier.js'

/** Texts made to exhaust a reader: long runs of what its expressions and loops step over, ending in what does not fit. */

/** Long enough that what grows faster than the text is seen; the long run takes a hundred thousand characters. */
export const HOSTILE_LENGTH = isLong ? 100_000 : 30_000
const run = (piece: string, end: string, length: number) =>
  piece.repeat(Math.ceil((length - end.length) / piece.length)).slice(0, length - end.length) + end

/** Pieces that a reader of ours steps over one by one; each is repeated, and ends in something else. */
const pieces = [
  '1',
  '1h',
  'a',
  'A.',
  ' ',
  '\t',
  '\n',
  '\r\n',
  ' \n',
  '0',
  '-',
  ',',
  ';',
  '+',
  '1G+',
  '1x1 ',
  '"',
  '\\',
  '\\"',
  '"\\"',
  '(',
  ')',
  '( ',
  '{',
  '[',
  '{}\n',
  '[]\n',
  '{"a":[',
  '<a>',
  '<a b="',
  '&amp;',
  '&#x',
  ':',
  'a:',
  ' a: b\n',
  '::',
  '10.0.0.',
  '10.0.0.1 a\n',
  '10.0.0.1 00:00:5e:00:53:01\n',
  'fe80:',
  '/',
  '1/',
  '=',
  'net a ',
  'on a ',
  '#a ',
  'disk/',
  'mem',
  'ram gib ',
  'flags : ',
  'Handle 0x\n\ta: b\n',
  'Settings for a:\n\t1baseT\n',
  'MemTotal: 1 kB\n',
  'a IN A 10.0.0.1\n',
  '$TTL 1\n',
  '$ORIGIN a.\n',
  'SHA256(a)= 0\n',
  '2027-01-01 00:00,1\n',
  '\u0301',
  '\ud800',
  'Ａ',
] as const

/** What a run ends in, so that what began to fit does not. */
const ends = ['!', '\n! A 10.0.0.1'] as const
/** Beginnings that lead a reader into one of its branches. */
const beginnings = [
  '$TTL 1\nh ',
  'time,name,memory\n',
  'name,vcpu,memory\n',
  '{"blockdevices":[',
  '<Envelope xmlns="a">',
  'h 4cpu ',
] as const

/** A text of any length. */
export interface HostileText {
  readonly name: string
  readonly text: string
  /** The same, longer or shorter. */
  of(length: number): string
}

/** Every text, made one at a time: each piece with each end, and behind one of the beginnings in turn. */
export function* hostileTexts(): Generator<HostileText> {
  const make = (beginning: string, piece: string, end: string) => ({
    name: JSON.stringify(`${beginning}${piece}…${end}`),
    text: beginning + run(piece, end, HOSTILE_LENGTH),
    of: (length: number) => beginning + run(piece, end, length),
  })
  for (const [index, piece] of pieces.entries()) {
    for (const end of ends) yield make('', piece, end)
    yield make(beginnings[index % beginnings.length] ?? '', piece, '!')
  }
}
