import { numberStyleOf, numberStyles, readNumber, type NumberStyle } from '../units/index.js'
import type { TransferSample } from './progress.js'

/** What a tool said of its progress in a line. */
export interface ProgressLine {
  /** Bytes moved so far, where it said so. */
  readonly bytes: number | undefined
  /** Share of the whole, 0 to 1, where it said so. */
  readonly fraction: number | undefined
  /** Seconds since it began, where it said so. */
  readonly seconds: number | undefined
}

/** A number that may be read in two ways, and for each way of writing numbers what it would be. */
export interface NumberDoubt {
  readonly said: string
  readonly answers: readonly { readonly style: NumberStyle; readonly says: string; readonly bytes: number }[]
}

/** A line as one tool writes it. */
interface ToolLine extends ProgressLine {
  readonly doubt?: NumberDoubt | undefined
  /** The file that rsync is at: its number where it is done, and whether others come after it. */
  readonly file?: { readonly number: number; readonly hasMore: boolean } | undefined
  /** Whether it is rsync's, which counts one file, or all of them. */
  readonly isRsync?: true
}

const NONE = { bytes: undefined, fraction: undefined, seconds: undefined } as const
const units: Readonly<Record<string, number>> = {
  '': 1,
  k: 1e3,
  m: 1e6,
  g: 1e9,
  t: 1e12,
  ki: 2 ** 10,
  mi: 2 ** 20,
  gi: 2 ** 30,
  ti: 2 ** 40,
}
const unitOf = (letters: string): number => units[letters.toLowerCase()] ?? 1

/** Seconds of `mm:ss`, `hh:mm:ss` or `d:hh:mm:ss`. @example clock('1:00:01:00') // 86460 */
function clock(text: string): number {
  const [seconds = 0, minutes = 0, hours = 0, days = 0] = text.split(':').map(Number).reverse()
  return ((days * 24 + hours) * 60 + minutes) * 60 + seconds
}
const decimal = (text: string): number => Number(text.replace(',', '.'))
const whole = (text: string): number => Number(text.replace(/[., '\u00a0\u202f]/g, ''))

/**
 * `dd` of GNU in any language: a count of bytes, in brackets the same in larger units, and the seconds it took; of BSD and macOS: bytes
 * transferred in so many secs. Of the languages the words alone differ, and in some they come first.
 */
const DD = /^(?:[\p{L}\p{M}]{1,24} )?(\d{1,18}) ?[\p{L}\p{M}]{1,20}[ (（,，、]/u
/** Between its bytes and its seconds: words, and sizes in brackets. */
const DD_BETWEEN = /^[^()（）,，、]{0,60}(?:[(（][^()（）]{1,80}[)）][^()（）,，、\d]{0,60})?$/u
/** After a comma, its seconds. */
const DD_SECONDS = /[,，、] ?(\d{1,9}(?:[.,]\d{1,9})?) s(?![\p{L}])/u
const DD_BSD = /^(\d[\d.,'\u00a0\u202f]{0,23}) bytes? (?:\([^()]{1,80}\) )?transferred (?:in )?(\d{1,9}(?:[.,]\d{1,9})?) ?s(?:ecs)?\b/
const RSYNC =
  /^(\d[\d.,'\u00a0\u202f]{0,23})([KMGT]?) {1,20}(\d{1,3})% {1,20}[\d.,]{1,12}[kKMGT]?B\/s {1,20}\d{1,5}:\d{2}:\d{2}(?: {1,4}\(xfr#(\d{1,9}), (?:to|ir)-chk=(\d{1,9})\/\d{1,9}\))?/
const PV = /^(\d[\d.,'\u00a0\u202f]{0,23}) ?([kKMGT]i?)?B (\d{1,5}(?::\d{2}){1,3}) \[/
const PERCENT = /^(\d{1,3}(?:[.,]\d{1,6})?) ?%$/
const SIZE = /^(\d[\d.,'\u00a0\u202f]{0,23}) ?([kKMGT]i?)?B$/i

/** A number of units; where it may be two, both. */
function sized(said: string, letters: string, style: NumberStyle | undefined): Pick<ToolLine, 'bytes' | 'doubt'> {
  const read = readNumber(said, style)
  if (read.ok) return { bytes: Math.round(read.value * unitOf(letters)) }
  if (!read.isAmbiguous) return { bytes: undefined }
  const answers = numberStyles.flatMap((one) => {
    const reading = readNumber(said, one)
    return reading.ok ? [{ style: one, says: `${reading.value} ${letters}B`, bytes: Math.round(reading.value * unitOf(letters)) }] : []
  })
  return { bytes: undefined, doubt: { said: `${said} ${letters}B`, answers } }
}

function toolLine(line: string, style: NumberStyle | undefined): ToolLine | undefined {
  const text = line.trim()
  if (text.length > 400) return undefined
  const dd = DD.exec(text)
  const took = dd && DD_SECONDS.exec(text)
  if (took && DD_BETWEEN.test(text.slice(dd[0].length - 1, took.index)))
    return { ...NONE, bytes: Number(dd[1]), seconds: decimal(took[1] ?? '') }
  const bsd = DD_BSD.exec(text)
  if (bsd) return { ...NONE, bytes: whole(bsd[1] ?? ''), seconds: decimal(bsd[2] ?? '') }
  const rsync = RSYNC.exec(text)
  if (rsync) {
    const [, amount = '', unit = '', percent, number, left] = rsync
    return {
      // Its clock is the time left until the whole is done, then the time it took. Bytes have no decimals; with -h, G is 10^9.
      ...NONE,
      ...(unit ? sized(amount, unit, style) : { bytes: whole(amount) }),
      fraction: Number(percent) / 100,
      file: number === undefined ? undefined : { number: Number(number), hasMore: Number(left) > 0 },
      isRsync: true,
    }
  }
  const pv = PV.exec(text)
  if (pv) {
    const percent = /(\d{1,3})%/.exec(text)
    return {
      ...sized(pv[1] ?? '', pv[2] ?? '', style),
      seconds: clock(pv[3] ?? '0'),
      fraction: percent ? Number(percent[1]) / 100 : undefined,
    }
  }
  const percent = PERCENT.exec(text)
  if (percent) return { ...NONE, fraction: decimal(percent[1] ?? '') / 100 }
  const bare = SIZE.exec(text)
  return bare ? { ...NONE, ...sized(bare[1] ?? '', bare[2] ?? '', style) } : undefined
}

/**
 * Reads a line in which a tool says how far it is: `dd status=progress` in any language, or of another system, `rsync --info=progress2`,
 * `pv`, or a bare percentage or size.
 *
 * @example readProgress('1073741824 bytes (1.1 GB, 1.0 GiB) copied, 3 s, 358 MB/s') // { bytes: 1073741824, seconds: 3, … }
 * @returns undefined where nothing of it is progress, or where it may be read in two ways
 */
export function readProgress(line: string): ProgressLine | undefined {
  const read = toolLine(line, undefined)
  if (!read || read.doubt || (read.bytes === undefined && read.fraction === undefined)) return undefined
  const { bytes, fraction, seconds } = read
  return { bytes, fraction, seconds }
}

/** A time before a line, as a shell or `ts` puts it there; without a zone it is UTC. */
const STAMP = /^\[?(\d{4}-\d\d-\d\d)[T ](\d\d:\d\d(?::\d\d(?:\.\d{1,9})?)?) ?(Z|[+-]\d\d:?\d\d)?\]?[ ,;\t]{1,8}/

function stampOf(line: string): { readonly at: number | undefined; readonly rest: string } {
  const found = STAMP.exec(line)
  if (!found) return { at: undefined, rest: line }
  const at = Date.parse(`${found[1] ?? ''}T${found[2] ?? ''}${found[3] ?? 'Z'}`)
  return { at: Number.isNaN(at) ? undefined : at, rest: line.slice(found[0].length) }
}

/** What was read of a pasted text, and how many lines of it were not progress. */
export interface ProgressReading {
  readonly samples: readonly TransferSample[]
  readonly unread: number
  /** A number that may be read in two ways: then nothing is taken until somebody says which. */
  readonly doubt?: NumberDoubt
  /** Why these lines do not say how far the whole is. */
  readonly refusal?: string
}

/** Numbers alone, as `pv -n` writes them: percent, with -b bytes, with -t the seconds before. */
const NUMBERS = /^(?:(\d{1,9}\.\d{1,4}) )?(\d{1,18})$/

/** A text of nothing but such numbers, none smaller than the one before; of one number alone only a percentage is believed. */
function numbersAlone(lines: readonly string[]): readonly ToolLine[] | undefined {
  const read = lines.map((line) => NUMBERS.exec(line))
  if (!read.every((found) => found !== null)) return undefined
  const numbers = read.map((found) => Number(found[2]))
  const isPercent = numbers.every((number) => number <= 100)
  if ((!isPercent && numbers.length < 2) || numbers.some((number, at) => number < (numbers[at - 1] ?? 0))) return undefined
  return read.map((found, at) => ({
    bytes: isPercent ? undefined : numbers[at],
    fraction: isPercent ? (numbers[at] ?? 0) / 100 : undefined,
    seconds: found[1] === undefined ? undefined : Number(found[1]),
  }))
}

/** What was said, with bytes of all files where rsync counted each by itself; or why that cannot be. */
function overFiles(lines: readonly (ToolLine | undefined)[]): readonly (ToolLine | undefined)[] | string {
  const own = lines.filter((line) => line?.isRsync)
  const restarts = own.some((line, at) => at > 0 && (line?.bytes ?? 0) < (own[at - 1]?.bytes ?? 0) && own[at - 1]?.fraction === 1)
  // A file that is done while others are left is not the whole.
  const isOneOfMany = own.length > 0 && own.every((line) => line?.fraction === 1 && line.file?.hasMore)
  if (!restarts && !isOneOfMany) return lines
  const firstDone = own.find((line) => line?.file)?.file?.number
  if (firstDone !== undefined && firstDone > 1)
    return `These lines count each file by itself, and begin with file ${firstDone}: what came before is not in them. Send them from the first file on, or let rsync say the whole with --info=progress2.`
  let [before, last] = [0, 0]
  return lines.map((line) => {
    if (!line?.isRsync || line.bytes === undefined) return line
    if (line.bytes < last) before += last
    last = line.bytes
    return { ...line, bytes: before + line.bytes, fraction: undefined }
  })
}

/** More than the whole by so much is not what is meant. */
const BEYOND = 1.02

/**
 * The readings in a pasted text: one to a line, or parted by carriage returns as tools write them over each other. A line may begin with a time;
 * without one the seconds that the tool counts are taken, the last line being of now; without these, lines a second apart. How numbers are
 * written follows from those that can be read in one way only, or from what has to be moved; otherwise it is asked.
 *
 * @param total bytes of the whole, for what was said as a share
 * @param now when the last line was said, milliseconds since 1970
 * @param style how numbers are written, where somebody said so
 * @example readProgressText('2027-03-09T22:00:00Z 12%', 1e9, now).samples[0]?.bytes // 120000000
 */
export function readProgressText(text: string, total: number, now: number, style?: NumberStyle): ProgressReading {
  const said = text.split(/[\r\n]+/).filter((line) => line.trim() !== '')
  const stamped = said.map((line) => stampOf(line.trim()))
  const alone = numbersAlone(stamped.map(({ rest }) => rest.trim()))
  const known = style ?? numberStyleOf(stamped.flatMap(({ rest }) => numbersIn(rest)))
  const read = alone ?? stamped.map(({ rest }) => toolLine(rest, known)).map((line) => line && settledBy(line, total))
  const doubt = read.find((line) => line?.doubt)?.doubt
  if (doubt) return { samples: [], unread: 0, doubt }
  const counted = overFiles(read)
  if (typeof counted === 'string') return { samples: [], unread: 0, refusal: counted }
  const lines = counted.flatMap((line, index) => {
    const moved = line?.bytes ?? (line?.fraction === undefined ? undefined : line.fraction * total)
    if (!line || moved === undefined || (line.fraction ?? 0) > 1) return []
    return [{ at: stamped[index]?.at, seconds: line.seconds, bytes: Math.round(moved) }]
  })
  const last = lines.findLast(({ seconds }) => seconds !== undefined)?.seconds ?? 0
  return {
    samples: lines.map(({ at, seconds, bytes }, index) => ({
      at: Math.round(at ?? (seconds === undefined ? now - (lines.length - 1 - index) * 1000 : now - (last - seconds) * 1000)),
      bytes,
    })),
    unread: said.length - lines.length,
  }
}

/** The numbers in a line, which may say how it writes them: sizes, rates, seconds, percentages. */
const numbersIn = (line: string): readonly string[] =>
  line
    .slice(0, 400)
    .match(/\d[\d.,]*/g)
    ?.map((text) => text.replace(/[.,]$/, '')) ?? []

/** A number that may be two is the one that is not more than the whole, where only one is not. */
function settledBy(line: ToolLine, total: number): ToolLine {
  if (!line.doubt) return line
  const [only, ...others] = line.doubt.answers.filter(({ bytes }) => bytes <= total * BEYOND)
  return only && others.length === 0 ? { ...line, bytes: only.bytes, doubt: undefined } : line
}

/** What is asked about a number that may be two. @example sayDoubt(doubt) // '“4,200 GB” may be 4200 GB or 4.2 GB; say which, and the lines are read.' */
export const sayDoubt = ({ said, answers }: NumberDoubt): string =>
  `“${said}” may be ${answers.map(({ says }) => says).join(' or ')}; say which, and the lines are read.`
