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

/**
 * The readings in a pasted text: one to a line, or parted by carriage returns as tools write them over each other.
 *
 * @param total bytes of the whole, for what was said as a share
 * @param begunAt when the tool began, milliseconds since 1970, for those that say seconds
 * @param everyMs how far readings are apart that say no time
 */
export function readProgressText(text: string, total: number, begunAt: number, everyMs = 1000): readonly TransferSample[] {
  const lines = text.split(/[\r\n]+/).flatMap((line) => readProgress(line) ?? [])
  return lines.flatMap(({ bytes, fraction, seconds }, index): TransferSample[] => {
    const moved = bytes ?? (fraction === undefined ? undefined : fraction * total)
    if (moved === undefined || (fraction !== undefined && fraction > 1)) return []
    return [{ at: begunAt + (seconds === undefined ? index * everyMs : seconds * 1000), bytes: Math.min(total, moved) }]
  })
}
