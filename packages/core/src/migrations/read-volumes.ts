import { parseSize } from '../units/index.js'

/** A volume as it was read. */
export interface ReadVolume {
  /** The number of its disk. */
  readonly disk: number
  readonly name: string
  readonly fileSystem: string | null
  readonly sizeBytes: number
  readonly usedBytes: number | null
  readonly isTaken: boolean
}

/** What was read of a text of volumes, and the lines that were not. */
export interface VolumesReading {
  readonly volumes: readonly ReadVolume[]
  readonly problems: readonly { readonly line: number; readonly sentence: string }[]
}

const DF_HEADING = /^filesystem\s+(type\s+)?(\S+)\s+used\b/i
/** The heading in other languages: words, one of them with a percent sign, and where it is mounted. */
const OTHER_HEADING = /^\p{L}.{5,120}\s(?:\p{L}{2,8}%|%\p{L}{1,6}\.?)\s+\p{L}/u
/** File systems that are none of a disk. */
const NOT_ON_DISK = /^(tmpfs|devtmpfs|overlay|squashfs|efivarfs|proc|sysfs|none|udev|run)$/i
const HOW =
  'Write a line a volume: its disk’s number, name, file system, size, used, such as “1 /srv ext4 120G 42G”; end with “leave” for one that is not moved.'

/**
 * Reads volumes: as `df -T` prints them, with or without `-B1` and `-h`, or typed a line each.
 *
 * @example readVolumes('1 C: NTFS 100G 40G\n1 D: NTFS 130G 21G leave').volumes[1]?.isTaken // false
 */
export function readVolumes(text: string): VolumesReading {
  const lines = text.split(/\r?\n/)
  const heading = lines.findIndex((line) => DF_HEADING.test(line.trim()))
  const other = heading < 0 ? lines.findIndex((line) => OTHER_HEADING.test(line.trim())) : -1
  if (other >= 0)
    return {
      volumes: [],
      problems: [
        { line: other + 1, sentence: 'This is df in another language than English; run it again as LC_ALL=C df -T, and paste that.' },
      ],
    }
  const unit = heading < 0 ? undefined : dfUnit(DF_HEADING.exec(lines[heading]?.trim() ?? '')?.[2] ?? '')
  const hasType = heading >= 0 && /^filesystem\s+type/i.test(lines[heading]?.trim() ?? '')
  const volumes: ReadVolume[] = []
  const problems: { line: number; sentence: string }[] = []
  for (const [index, line] of lines.entries()) {
    if (line.trim() === '' || index === heading || (heading >= 0 && index < heading)) continue
    const read = heading >= 0 ? readDf(line, unit, hasType) : readTyped(line)
    if (read === undefined) continue
    if ('sentence' in read) problems.push({ line: index + 1, ...read })
    else volumes.push(read)
  }
  return { volumes, problems }
}

/** Bytes of one unit of df's columns; undefined: each says its own. */
function dfUnit(heading: string): number | undefined {
  const blocks = /^(\d+)([KMG]?)B?-blocks$/i.exec(heading)
  if (!blocks) return undefined
  return Number(blocks[1]) * ({ K: 2 ** 10, M: 2 ** 20, G: 2 ** 30 }[(blocks[2] ?? '').toUpperCase()] ?? 1)
}

const sizeOf = (text: string, unit: number | undefined): number | undefined => {
  if (unit !== undefined && /^\d{1,18}$/.test(text)) return Number(text) * unit
  const reading = parseSize(text, 'disk')
  return reading.ok ? reading.bytes : undefined
}

function readDf(line: string, unit: number | undefined, hasType: boolean): ReadVolume | { readonly sentence: string } | undefined {
  const [device = '', ...rest] = line.trim().split(/\s+/)
  const fileSystem = hasType ? (rest.shift() ?? null) : null
  const [size = '', used = ''] = rest
  const name = rest.slice(4).join(' ')
  if (NOT_ON_DISK.test(device) || (fileSystem !== null && NOT_ON_DISK.test(fileSystem))) return undefined
  const [sizeBytes, usedBytes] = [sizeOf(size, unit), sizeOf(used, unit)]
  if (!sizeBytes || name === '') return { sentence: `“${line.trim().slice(0, 60)}” is not a line of df.` }
  return { disk: diskOf(device), name, fileSystem, sizeBytes, usedBytes: usedBytes ?? null, isTaken: true }
}

/** The number of the disk that a device is on: sda and vda are 1, sdb 2, nvme1n1 2; volume groups are taken to be on the first. */
function diskOf(device: string): number {
  const lettered = /\/dev\/(?:sd|vd|hd|xvd)([a-z])\d*$/.exec(device)
  if (lettered) return (lettered[1] ?? 'a').charCodeAt(0) - 96
  const numbered = /\/dev\/(?:nvme|mmcblk)(\d{1,2})/.exec(device)
  return numbered ? Number(numbered[1]) + 1 : 1
}

function readTyped(line: string): ReadVolume | { readonly sentence: string } {
  const words = line.trim().split(/\s+/)
  const isTaken = !/^(leave|left|no)$/i.test(words.at(-1) ?? '')
  const [disk = '', name = '', fileSystem = '', size = '', used = ''] = isTaken ? words : words.slice(0, -1)
  const [sizeBytes, usedBytes] = [sizeOf(size, undefined), used === '' ? null : sizeOf(used, undefined)]
  if (!/^\d{1,2}$/.test(disk) || name === '' || !sizeBytes || usedBytes === undefined)
    return { sentence: `“${line.trim().slice(0, 60)}” cannot be read. ${HOW}` }
  return { disk: Number(disk), name: name.slice(0, 60), fileSystem: fileSystem === '-' ? null : fileSystem, sizeBytes, usedBytes, isTaken }
}
