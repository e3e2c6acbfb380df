import type { TransferSample } from './progress.js'

/** What a tool said of its progress. */
export interface ProgressLine {
  /** Bytes moved so far, where it said so. */
  readonly bytes: number | undefined
  /** Share of the whole, 0 to 1, where it said so. */
  readonly fraction: number | undefined
  /** Seconds since it began, where it said so. */
  readonly seconds: number | undefined
}

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
const bytesIn = (amount: string, unit: string): number => Math.round(Number(amount.replaceAll(',', '')) * (units[unit.toLowerCase()] ?? 1))
const clock = (text: string): number => text.split(':').reduce((sum, part) => sum * 60 + Number(part), 0)

/**
 * Reads a line in which a tool says how far it is: `dd status=progress`, `rsync --info=progress2`, `pv`, or a bare percentage or size.
 *
 * @example readProgress('1073741824 bytes (1.1 GB, 1.0 GiB) copied, 3 s, 358 MB/s') // { bytes: 1073741824, seconds: 3, … }
 * @returns undefined where nothing of it is progress
 */
export function readProgress(line: string): ProgressLine | undefined {
  const text = line.trim()
  const dd = /^(\d{1,18}) bytes\b.{0,60}? copied, (\d{1,9}(?:[.,]\d{1,9})?) s\b/.exec(text)
  if (dd) return { bytes: Number(dd[1]), seconds: Number((dd[2] ?? '').replace(',', '.')), fraction: undefined }
  const rsync = /^([\d,]{1,24}) {1,20}(\d{1,3})% {1,20}[\d.,]{1,12}[kMGT]?B\/s {1,20}(\d{1,5}:\d{2}:\d{2})/.exec(text)
  // Its clock is the time left until the whole is done, then the time it took.
  if (rsync) return { bytes: bytesIn(rsync[1] ?? '', ''), fraction: Number(rsync[2]) / 100, seconds: undefined }
  const pv = /^(\d{1,9}(?:[.,]\d{1,3})?) ?([kKMGT]i?)?B (\d{1,5}(?::\d{2}){1,3}) \[/.exec(text)
  if (pv) {
    const percent = /(\d{1,3})%/.exec(text)
    return {
      bytes: bytesIn((pv[1] ?? '').replace(',', '.'), pv[2] ?? ''),
      seconds: clock(pv[3] ?? '0'),
      fraction: percent ? Number(percent[1]) / 100 : undefined,
    }
  }
  const percent = /^(\d{1,3}(?:[.,]\d{1,3})?) ?%$/.exec(text)
  if (percent) return { bytes: undefined, fraction: Number((percent[1] ?? '').replace(',', '.')) / 100, seconds: undefined }
  const bare = /^(\d{1,18}(?:[.,]\d{1,3})?) ?([kMGT]i?)?B$/i.exec(text)
  if (bare) return { bytes: bytesIn((bare[1] ?? '').replace(',', '.'), bare[2] ?? ''), fraction: undefined, seconds: undefined }
  return undefined
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
}

/**
 * The readings in a pasted text: one to a line, or parted by carriage returns as tools write them over each other. A line may begin with a time;
 * without one the seconds that the tool counts are taken, the last line being of now; without these, lines a second apart.
 *
 * @param total bytes of the whole, for what was said as a share
 * @param now when the last line was said, milliseconds since 1970
 * @example readProgressText('2027-03-09T22:00:00Z 12%', 1e9, now).samples[0]?.bytes // 120000000
 */
export function readProgressText(text: string, total: number, now: number): ProgressReading {
  const said = text.split(/[\r\n]+/).filter((line) => line.trim() !== '')
  const lines = said.flatMap((line) => {
    const { at, rest } = stampOf(line.trim())
    const read = readProgress(rest)
    const moved = read?.bytes ?? (read?.fraction === undefined ? undefined : read.fraction * total)
    if (!read || moved === undefined || (read.fraction ?? 0) > 1) return []
    return [{ at, seconds: read.seconds, bytes: Math.round(moved) }]
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
