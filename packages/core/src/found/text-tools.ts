import { MiB } from '../units/index.js'
import { present } from '../formats/index.js'
import { plainTools } from './plain-tools.js'
import type { FoundModule, FoundPart, Unread } from './found.js'
import { clockIn } from './tools.js'

interface Section {
  readonly source: string
  readonly part: FoundPart
}

/** How what a tool prints begins. */
const beginnings = {
  free: /^\s+total\s+used\s+free/,
  meminfo: /^MemTotal:/,
  dmidecode: /^(# dmidecode|Handle 0x|SMBIOS [\d.]+ present)/,
  ethtool: /^Settings for \S+:/,
  firmware: /^firmware=(UEFI|BIOS)$/,
  hostname: /^hostname=\S+$/,
} as const
/**
 * How the same tools begin in other languages: `df` and `free` with their headings, whatever their words, and `lscpu` with the
 * architecture. `df` ends with where it is mounted, and has one word with a percent sign; `free` has five or six words and no digit, far in.
 */
const OTHER_LANGUAGE: readonly RegExp[] = [
  /^\p{L}.{5,120}\s(?:\p{L}{2,8}%|%\p{L}{1,6}\.?)\s+\p{L}/u,
  /^ {8,20}\p{L}[\p{L}.]{2,14}(?:\s+\p{L}[\p{L}./]{2,14}){3,5}$/u,
  /^(?:Architektur|Arquitectura|Architettura|Architectuur|Архитектура|Arkitektur|Arquitetura|Mimari|架构|アーキテクチャ)\s?:\s/,
]
const isInOtherLanguage = (line: string): boolean => line.length < 300 && OTHER_LANGUAGE.some((pattern) => pattern.test(line))
const beginsTool = (line: string): boolean =>
  line.startsWith('### ') || Object.values(beginnings).some((begins) => begins.test(line)) || plainTools.some((tool) => tool.begins(line))

/** Reads the tools that write lines: lscpu, lsblk and ip without JSON, free, /proc/meminfo, dmidecode, ethtool, and the collector's own marks. */
export function readLines(text: string, firstLine: number): { readonly sections: readonly Section[]; readonly unread: readonly Unread[] } {
  const lines = text.split(/\r?\n/)
  const sections: Section[] = []
  const unread: Unread[] = []
  const miss = (index: number, sentence: string) =>
    unread.push({ line: firstLine + index, text: (lines[index] ?? '').trim().slice(0, 120), sentence })
  for (let at = 0; at < lines.length;) {
    const line = lines[at] ?? ''
    const plain = plainTools.find((tool) => tool.begins(line))
    if (line.trim() === '' || line.startsWith('### ')) at++
    else if (plain) {
      const { next, ...section } = plain.read(lines, at, beginsTool)
      sections.push(section)
      at = next
    } else if (beginnings.free.test(line)) at = readFree(lines, at + 1, sections, miss)
    else if (beginnings.meminfo.test(line)) at = readMeminfo(lines, at, sections, miss)
    else if (beginnings.dmidecode.test(line)) at = readDmi(lines, at, sections)
    else if (beginnings.ethtool.test(line)) at = readEthtool(lines, at, sections)
    else if (beginnings.firmware.test(line)) {
      sections.push({ source: 'firmware', part: { firmware: line.endsWith('UEFI') ? 'UEFI' : 'BIOS' } })
      at++
    } else if (beginnings.hostname.test(line)) {
      sections.push({ source: 'host name', part: { name: line.slice('hostname='.length) } })
      at++
    } else if (isInOtherLanguage(line)) {
      miss(at, 'This is in another language than English; run it again as LC_ALL=C lscpu, LC_ALL=C free -b or LC_ALL=C df, and paste that.')
      // What follows belongs to it.
      do at++
      while (at < lines.length && (lines[at] ?? '').trim() !== '' && !beginsTool(lines[at] ?? ''))
    } else {
      miss(at, 'The output of lscpu, lsblk, ip, free, df, dmidecode, ethtool, lshw or a Redfish tree was expected here.')
      at++
    }
  }
  return { sections, unread }
}

type Miss = (index: number, sentence: string) => void

/** So many kibibytes no machine has: 16 TiB. */
const KIBIBYTES_MAX = 2 ** 34

/**
 * `free`, in bytes, kibibytes or mebibytes: which, the numbers say. In bytes all of them are whole kibibytes, which kibibytes hardly ever
 * are in all columns; so few kibibytes that no system starts in them are mebibytes.
 *
 * @see free(1): kibibytes unless told otherwise
 */
function readFree(lines: readonly string[], at: number, sections: Section[], miss: Miss): number {
  const line = lines[at] ?? ''
  const [head, ...words] = line.trim().split(/\s+/)
  const numbers = words.map(Number)
  const [total] = numbers
  if (head === 'Mem:' && words.some((word) => /^[\d.,]+[KMGTP]i?$/.test(word)))
    miss(at, 'These sizes are rounded; run free -b, which counts bytes.')
  else if (head !== 'Mem:' || total === undefined || !numbers.every(Number.isSafeInteger))
    miss(at, 'A line “Mem:” with numbers was expected under the heading: run free -b.')
  else {
    const isBytes = total >= 64 * MiB && (numbers.every((number) => number % 1024 === 0) || total >= KIBIBYTES_MAX)
    const memoryMiB = isBytes ? total / MiB : total >= 64 * 1024 ? total / 1024 : total
    if (memoryMiB < 64) miss(at, 'Memory must be at least 64 MiB, in whichever unit; run free -b, which counts bytes.')
    else sections.push({ source: isBytes ? 'free -b' : 'free', part: { memoryMiB: Math.floor(memoryMiB) } })
  }
  return /^Swap:/.test(lines[at + 1] ?? '') ? at + 2 : at + 1
}

function readMeminfo(lines: readonly string[], at: number, sections: Section[], miss: Miss): number {
  const kibibytes = Number(/^MemTotal:\s+(\d+) kB/.exec(lines[at] ?? '')?.[1])
  if (!Number.isFinite(kibibytes)) miss(at, '“MemTotal: … kB” was expected, as /proc/meminfo has it.')
  else sections.push({ source: '/proc/meminfo', part: { memoryMiB: Math.floor(kibibytes / 1024) } })
  let next = at + 1
  while (/^[A-Z]\w*(\(\w+\))?:\s+\d+/.test(lines[next] ?? '')) next++
  return next
}

/** One structure of dmidecode's output: its title and its named values. */
interface Structure {
  readonly title: string
  readonly values: ReadonlyMap<string, string>
}

/** Whether a memory device is one of the system's memory: the firmware's flash is listed among them, too. DMTF DSP0134, table of memory types. */
const isForMemory = ({ values }: Structure): boolean =>
  !/flash|rom\b/i.test(`${values.get('Type') ?? ''} ${values.get('Type Detail') ?? ''}`)

/** @see SMBIOS reference, DMTF DSP0134: types 1 (system), 4 (processor), 16 (memory array), 17 (memory device) */
function readDmi(lines: readonly string[], from: number, sections: Section[]): number {
  const structures: Structure[] = []
  let at = from
  let values = new Map<string, string>()
  for (; at < lines.length; at++) {
    const line = lines[at] ?? ''
    if (/^Handle 0x/.test(line)) {
      values = new Map()
      // Releases before 2.7 put the type into a line of its own, indented, and the title below it.
      if (/^\s+DMI type \d+/.test(lines[at + 1] ?? '')) at++
      structures.push({ title: (lines[at + 1] ?? '').trim(), values })
      at++
    } else if (/^\s/.test(line)) {
      const colon = line.indexOf(':')
      const name = line.slice(0, Math.max(colon, 0)).trim()
      if (name && !values.has(name)) values.set(name, line.slice(colon + 1).trim())
    } else if (
      line.trim() !== '' &&
      !/^(#|Getting SMBIOS|SMBIOS |Table at|End Of Table|\d+ structures|Legacy DMI|Wrong DMI|Invalid entry|DMI \d)/.test(line)
    )
      break
  }
  const named = (title: string) => structures.filter((one) => one.title === title)
  const system = named('System Information')[0]
  const slots = named('Memory Device')
  const boards = named('Processor Information').filter(({ values: v }) => !/Unpopulated/.test(v.get('Status') ?? ''))
  const cores = Number(boards[0]?.values.get('Core Count'))
  const threads = Number(boards[0]?.values.get('Thread Count'))
  const known = (value: string | undefined) =>
    value && !/^(not specified|to be filled|default string|none|unknown)/i.test(value) ? value : undefined
  const model = [known(system?.values.get('Manufacturer')), known(system?.values.get('Product Name'))].filter(Boolean).join(' ')
  const count = Number(named('Physical Memory Array')[0]?.values.get('Number Of Devices'))
  sections.push({
    source: 'dmidecode',
    part: present({
      model: model || undefined,
      processorModel: known(boards[0]?.values.get('Version')),
      clockMHz: clockIn(boards[0]?.values.get('Version')),
      sockets: boards.length > 0 ? boards.length : undefined,
      coresPerSocket: cores > 0 ? cores : undefined,
      threadsPerCore: cores > 0 && threads > 0 ? Math.round(threads / cores) : undefined,
      memorySlots: slots.length > 0 ? slots.filter(isForMemory).length : count > 0 ? count : undefined,
      modules: slots.filter(isForMemory).flatMap(({ values: v }, index): FoundModule[] => {
        const [, amount, unit] = /^(\d+) (kB|MB|GB|TB)$/.exec(v.get('Size') ?? '') ?? []
        // Until dmidecode 3.2 it is the “Clock Speed”, and MHz are written where transfers are meant.
        const speed = Number(
          /^(\d+) (?:MT\/s|MHz)/.exec(v.get('Configured Memory Speed') ?? v.get('Configured Clock Speed') ?? v.get('Speed') ?? '')?.[1],
        )
        if (!amount) return []
        const factor = { kB: 1 / 1024, MB: 1, GB: 1024, TB: 1024 * 1024 }[unit as 'kB' | 'MB' | 'GB' | 'TB']
        return [present({ slot: index + 1, sizeMiB: Number(amount) * factor, speedMTs: speed > 0 ? speed : undefined })]
      }),
    }),
  })
  return at
}

function readEthtool(lines: readonly string[], from: number, sections: Section[]): number {
  const name = /^Settings for (\S+):/.exec(lines[from] ?? '')?.[1] ?? ''
  let at = from + 1
  let [speeds, hasLink, isFibre, driver]: [number[], boolean | undefined, boolean | undefined, string | undefined] = [
    [],
    undefined,
    undefined,
    undefined,
  ]
  for (; at < lines.length && (/^\s/.test(lines[at] ?? '') || /^driver: /.test(lines[at] ?? '')); at++) {
    const line = (lines[at] ?? '').trim()
    speeds = [...speeds, ...[...line.matchAll(/\b(\d+)base\w/g)].map((match) => Number(match[1]))]
    const now = /^Speed: (\d+)Mb\/s/.exec(line)?.[1]
    if (now) speeds = [...speeds, Number(now)]
    if (line.startsWith('Link detected:')) hasLink = line.endsWith('yes')
    if (line.startsWith('Port:')) isFibre = /FIBRE/i.test(line)
    if (line.startsWith('driver: ')) driver = line.slice('driver: '.length)
  }
  sections.push({
    source: `ethtool ${name}`,
    part: {
      ports: [present({ name, speedMbps: speeds.length > 0 ? Math.max(...speeds) : undefined, hasLink, isFibre, driver })],
    },
  })
  return at
}
