import { canonicalIp, kinds, readField, type Guest } from '../estate/index.js'
import { LineWords, nearest, type SpecPart, type Trouble } from '../formats/index.js'
import { GiB, MiB, parseSize } from '../units/index.js'

/** A disk as a spec line says it. */
export interface SpecDisk {
  readonly sizeBytes: number
}

/** A guest as a spec line says it: names, not ids, since it may be typed before they exist. */
export interface GuestSpec {
  readonly name?: string
  readonly vcpu?: number
  readonly memoryMiB?: number
  readonly disks: readonly SpecDisk[]
  readonly provisioning?: 'thin' | 'thick'
  readonly host?: string
  readonly networks: readonly string[]
  /** Addresses that the line names, by the place of their network among them: `net office=10.61.40.7`. */
  readonly ips?: Readonly<Record<number, string>>
  readonly store?: string
  readonly purpose?: string
  readonly latency?: Guest['latency']
  readonly firmware?: Guest['firmware']
  readonly kind?: 'template'
  readonly tags: readonly string[]
}

export interface SpecReading {
  readonly spec: GuestSpec
  readonly parts: readonly SpecPart[]
}

/** Names of the estate that a spec line may use. Left out, any name is taken as it is. */
export interface SpecNames {
  readonly hosts: readonly string[]
  readonly networks: readonly string[]
  readonly stores: readonly string[]
}

type Spec = { -readonly [K in keyof GuestSpec]: GuestSpec[K] }

const fillers = new Set(['the', 'a', 'an', 'with', 'and', 'of', ','])
/** Words that stand for themselves, and what they say. */
const options: ReadonlyMap<string, Partial<Spec>> = new Map(
  Object.entries({
    thin: { provisioning: 'thin' },
    thick: { provisioning: 'thick' },
    general: { latency: 'general' },
    steady: { latency: 'steady' },
    lab: { latency: 'lab' },
    uefi: { firmware: 'UEFI' },
    bios: { firmware: 'BIOS' },
    template: { kind: 'template' },
  } as const),
)
/** Those words, as the page lists them. */
export const guestLineOptions: readonly string[] = [...options.keys()]
/** Words that something else comes after. */
const keywords = ['cpu', 'on', 'net', 'store', 'for']
const language = [...keywords, ...guestLineOptions]
const CPU_WORD = /^v?(cpu|core|proc)s?$/i
const CPU_TOKEN = /^(\d+)v?(cpu|core|proc)s?$/i
const SIZE = /^\d+([.,]\d+)?-?(k|m|g|t|kb|mb|gb|tb|kib|mib|gib|tib|gig|gigs|meg|megs)?$/i
const SIZE_UNIT = /^(m|g|t|mb|gb|tb|mib|gib|tib|gigs?|megs?)$/i
const MEMORY_WORD = /^(memory|ram|mem)$/i
const DISK_WORD = /^disks?$/i

/** Whether two disks' sizes are in a token such as `40G+200G`. */
const isSizeList = (text: string) => text.includes('+') && text.split('+').every((part) => SIZE.test(part))

/**
 * Reads a guest as an administrator says it.
 *
 * The first word is the name. Then, in any order: processors (`4cpu`, `4 cores`), memory and disks (`8G 40G+200G`: the
 * first size is memory, the rest are disks; `60-gig disk` and `8 gigs memory` say it outright), `on HOST`,
 * `net A,B=10.61.40.7` (or `on the A network`), `store S`, `for PURPOSE`, the options thin, thick, general, steady, lab, UEFI,
 * BIOS, template, and `#tags`.
 *
 * @param line what was typed
 * @param names names of the estate, so that a wrong one is said and the nearest offered
 * @returns what could be read, and every part of the line with its place and, where it was not understood, why
 * @example readSpecLine('playout-3 4cpu 8G 40G+200G on gannet net office,storage').spec.memoryMiB // 8192
 */
export function readSpecLine(line: string, names?: SpecNames): SpecReading {
  const words = new LineWords(line)
  const spec: Spec = { disks: [], networks: [], tags: [] }
  const word = (offset: number) => words.word(offset)
  const take: LineWords['take'] = (...taken) => words.take(...taken)
  const unknownName = (what: string, given: string, known: readonly string[] | undefined): Trouble => {
    if (!known || known.some((name) => name.toLowerCase() === given.toLowerCase())) return {}
    return { problem: `There is no ${what} “${given}”.`, suggestion: nearest(given, known) }
  }
  const inCase = (given: string, known: readonly string[] | undefined) =>
    known?.find((name) => name.toLowerCase() === given.toLowerCase()) ?? given

  const setOnce = <K extends 'vcpu' | 'memoryMiB'>(key: K, value: number, what: string) => {
    if (spec[key] !== undefined) return { problem: `${what} appears twice.` }
    const reading = readField(kinds.guest.fields[key], value)
    if (!reading.ok) return { problem: reading.sentence }
    spec[key] = value
    return {}
  }
  // Memory that is asked about was said all the same: the size after it is a disk's.
  let isMemorySaid = false
  const takeSizes = (text: string, count: number, as: 'memory' | 'disks' | undefined) => {
    const meaning = as ?? (isSizeList(text) || isMemorySaid ? 'disks' : 'memory')
    if (meaning === 'memory') {
      isMemorySaid = true
      const reading = parseSize(text, 'memory')
      if (!reading.ok) return take(count, 'memory', { problem: reading.sentence })
      return take(count, 'memory', setOnce('memoryMiB', Math.round(reading.bytes / MiB), 'Memory'))
    }
    const readings = text.split('+').map((part) => parseSize(part, 'disk'))
    const bad = readings.find((reading) => !reading.ok)
    if (bad) return take(count, 'disks', { problem: bad.sentence })
    spec.disks = [...spec.disks, ...readings.flatMap((reading) => (reading.ok ? [{ sizeBytes: reading.bytes }] : []))]
    return take(count, 'disks')
  }

  while (!words.isOver) {
    const text = word(0)
    const lower = text.toLowerCase()
    const cpu = CPU_TOKEN.exec(text)
    if (words.isAtStart && !isLanguage(text, word(1))) {
      const reading = readField(kinds.guest.fields.name, text)
      if (reading.ok) spec.name = text
      take(1, 'name', reading.ok ? {} : { problem: reading.sentence })
    } else if (cpu) take(1, 'processors', setOnce('vcpu', Number(cpu[1]), 'The number of processors'))
    else if (/^\d+$/.test(text) && CPU_WORD.test(word(1))) take(2, 'processors', setOnce('vcpu', Number(text), 'The number of processors'))
    else if (isSizeList(text)) takeSizes(text, DISK_WORD.test(word(1)) ? 2 : 1, 'disks')
    else if (SIZE.test(text)) {
      const spaced = /\d$/.test(text) && SIZE_UNIT.test(word(1))
      const size = spaced ? text + word(1) : text
      const width = spaced ? 2 : 1
      const after = word(width)
      if (DISK_WORD.test(after)) takeSizes(size, width + 1, 'disks')
      else if (MEMORY_WORD.test(after)) takeSizes(size, width + 1, 'memory')
      else takeSizes(size, width, undefined)
    } else if (lower === 'on') {
      const skip = fillers.has(word(1).toLowerCase()) ? 1 : 0
      const name = word(1 + skip)
      if (/^networks?$/i.test(word(2 + skip)) && !names?.hosts.some((host) => host.toLowerCase() === name.toLowerCase())) {
        spec.networks = [...spec.networks, inCase(name, names?.networks)]
        take(3 + skip, 'networks', unknownName('network', name, names?.networks))
      } else if (!name) take(1, 'host', { problem: 'After “on” comes the name of a host.' })
      else {
        spec.host = inCase(name, names?.hosts)
        take(2 + skip, 'host', unknownName('host', name, names?.hosts))
      }
    } else if (/^(net|network)s?$/i.test(text)) {
      const list = word(1).split(',').filter(Boolean)
      if (list.length === 0) take(1, 'networks', { problem: 'After “net” come the names of networks, with commas between.' })
      else {
        const pairs = list.map((item) => item.split('=') as [string, string?])
        const unknown = pairs.map(([name]) => unknownName('network', name, names?.networks)).find((trouble) => trouble.problem)
        const bad = pairs.find(([, ip]) => ip !== undefined && !canonicalIp(ip))
        pairs.forEach(([, ip], index) => {
          const read = ip && canonicalIp(ip)
          if (read) spec.ips = { ...spec.ips, [spec.networks.length + index]: read }
        })
        spec.networks = [...spec.networks, ...pairs.map(([name]) => inCase(name, names?.networks))]
        take(2, 'networks', unknown ?? (bad ? { problem: `“${bad[1] ?? ''}” is not an address; write net ${bad[0]}=10.61.40.7.` } : {}))
      }
    } else if (lower === 'store') {
      const name = word(1)
      if (!name) take(1, 'store', { problem: 'After “store” comes the name of a store.' })
      else {
        spec.store = inCase(name, names?.stores)
        take(2, 'store', unknownName('store', name, names?.stores))
      }
    } else if (lower === 'for') {
      const purpose = word(1)
      if (!purpose) take(1, 'purpose', { problem: 'After “for” comes what the guest does, in one word.' })
      else {
        spec.purpose = purpose
        take(2, 'purpose')
      }
    } else if (text.startsWith('#') && text.length > 1) {
      const reading = readField(kinds.guest.fields.tags, [text.slice(1)])
      if (reading.ok) spec.tags = [...new Set([...spec.tags, text.slice(1).toLowerCase()])]
      take(1, 'tag', reading.ok ? {} : { problem: reading.sentence })
    } else if (options.has(lower)) {
      Object.assign(spec, options.get(lower))
      take(1, 'option')
    } else if (fillers.has(lower)) take(1, 'filler')
    else {
      const suggestion = nearest(lower, [...language, 'network', 'vcpu'])
      take(1, 'unread', {
        problem: `“${text}” is not a size, option or keyword${suggestion ? '' : `; the words are ${language.join(', ')}`}.`,
        suggestion,
      })
    }
  }
  return { spec, parts: words.parts }
}

/** Whether a first word already belongs to the language, so that the line has no name yet. */
const isLanguage = (text: string, next: string) =>
  CPU_TOKEN.test(text) ||
  isSizeList(text) ||
  (/^\d+$/.test(text) && CPU_WORD.test(next)) ||
  (SIZE.test(text) && (/[a-z]/i.test(text) || SIZE_UNIT.test(next)))

/**
 * Writes a guest as a spec line. Reading it again gives the same spec.
 *
 * @example printSpecLine({ name: 'playout-3', vcpu: 4, memoryMiB: 8192, disks: [], networks: ['office'], tags: [] }) // 'playout-3 4cpu 8G net office'
 */
export function printSpecLine(spec: GuestSpec): string {
  return [
    spec.name,
    spec.vcpu === undefined ? undefined : `${spec.vcpu}cpu`,
    spec.memoryMiB === undefined ? undefined : printSize(spec.memoryMiB * MiB),
    spec.disks.length === 0
      ? undefined
      : spec.disks.map((disk) => printSize(disk.sizeBytes)).join('+') +
        (spec.disks.length === 1 && spec.memoryMiB === undefined ? ' disk' : ''),
    spec.provisioning,
    spec.host && `on ${spec.host}`,
    spec.networks.length > 0
      ? `net ${spec.networks.map((name, index) => (spec.ips?.[index] ? `${name}=${spec.ips[index]}` : name)).join(',')}`
      : undefined,
    spec.store && `store ${spec.store}`,
    spec.purpose && `for ${spec.purpose}`,
    spec.latency,
    spec.firmware,
    spec.kind,
    ...spec.tags.map((tag) => `#${tag}`),
  ]
    .filter(Boolean)
    .join(' ')
}

function printSize(bytes: number): string {
  if (bytes % GiB === 0) return `${bytes / GiB}G`
  if (bytes % MiB === 0) return `${bytes / MiB}M`
  return `${(bytes / MiB).toFixed(6)}M`
}
