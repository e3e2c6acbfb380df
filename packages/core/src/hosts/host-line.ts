import type { Host } from '../estate/index.js'
import { kinds, readField } from '../estate/index.js'
import { formatBytes, formatLabelBytes, GiB, MiB, parseSize, TiB } from '../units/index.js'
import { LineWords, type SpecPart } from '../formats/index.js'
import { readAlone } from './parts-of-new-host.js'

/** A host as a spec line says it: names, not ids. */
export interface HostSpec {
  readonly name?: string
  readonly sockets?: number
  readonly coresPerSocket?: number
  readonly threadsPerCore?: number
  readonly memoryMiB?: number
  readonly site?: string
  readonly platform?: string
  readonly state?: Host['state']
  readonly networks: readonly string[]
  /** Memory modules, drives and ports, each as several alike: `4x16G`. */
  readonly modules: readonly string[]
  readonly drives: readonly string[]
  readonly ports: readonly string[]
  /** Capacity of each store, bytes, as labels count: decimal. */
  readonly stores: readonly number[]
}

/** Names of the estate that the line may use. */
export interface HostLineNames {
  readonly platforms: readonly string[]
  readonly networks: readonly string[]
}

export interface HostReading {
  readonly spec: HostSpec
  readonly parts: readonly SpecPart[]
}

const CORES = /^(\d+)x(\d+)(?:x(\d+))?$/i
/** More is no host's memory but a disk's size. Common practice, no source. */
const HOST_MEMORY_MAX = 6 * TiB
/** A larger memory module is not sold: the size of a drive is meant. Common practice, no source. */
const MODULE_MAX = 512 * GiB
const STORE = /^\+(.+)$/
/** Several alike, such as `4x4T`. */
const ALIKE = /^(\d{1,2})[x×](\S+)$/i
/** What is in a host, by the word before it. */
const PARTS = { drives: 'drives', ports: 'ports' } as const

/**
 * Reads a host as it is said: the name; `2x16` sockets × cores (`2x16x2` with threads); a size for memory; `+3.84T`
 * for each store, counted as its label counts, `+4x4T` for four alike; `4x16G` for memory of four modules; `drives 6x3.84T`,
 * `drives 2x960G:nvme`, `ports 4x10G:eno1` for what is in it; `at SITE`; `runs PLATFORM`; `net A,B`; `ordered` for one on order, `planned` for one that is only thought of.
 *
 * @returns what could be read, and every part of the line with its place and what is wrong with it
 * @example readHostLine('kittiwake 2x16 128G +7.68T at studio runs Brackwater-5').spec.memoryMiB // 131072
 */
export function readHostLine(line: string, names: HostLineNames): HostReading {
  const words = new LineWords(line)
  const spec: { -readonly [K in keyof HostSpec]: HostSpec[K] } = { networks: [], stores: [], modules: [], drives: [], ports: [] }
  while (!words.isOver) {
    const [text, next] = [words.word(), words.word(1)]
    const isFirst = words.isAtStart
    const part = (meaning: SpecPart['meaning'], problem?: string, withNext = false) => words.take(withNext ? 2 : 1, meaning, { problem })
    const cores = CORES.exec(text)
    const store = STORE.exec(text)
    if (cores) {
      spec.sockets = Number(cores[1])
      spec.coresPerSocket = Number(cores[2])
      if (cores[3]) spec.threadsPerCore = Number(cores[3])
      const readings = [
        readField(kinds.host.fields.sockets, spec.sockets),
        readField(kinds.host.fields.coresPerSocket, spec.coresPerSocket),
        ...(cores[3] ? [readField(kinds.host.fields.threadsPerCore, Number(cores[3]))] : []),
      ]
      const bad = readings.find((reading) => !reading.ok)
      part('processors', bad ? bad.sentence : undefined)
    } else if (store?.[1]) {
      const [, count = '1', size = store[1]] = ALIKE.exec(store[1]) ?? []
      const reading = parseSize(size, 'label')
      if (reading.ok) spec.stores = [...spec.stores, ...Array.from({ length: Number(count) }, () => reading.bytes)]
      part('disks', reading.ok ? undefined : reading.sentence)
    } else if (!isFirst && ALIKE.test(text)) {
      const [, count = '1', size = ''] = ALIKE.exec(text) ?? []
      const alike = readAlone('modules', text)
      const reading = parseSize(size, 'memory')
      if ('sentence' in alike || !reading.ok) part('memory', 'sentence' in alike ? alike.sentence : undefined)
      else if (reading.bytes > MODULE_MAX || Number(count) * reading.bytes > HOST_MEMORY_MAX)
        part(
          'unread',
          `“${text}” would be ${count} memory modules of ${formatBytes(reading.bytes)}. Write drives ${text} for drives, or +${text} for stores.`,
        )
      else {
        spec.modules = [...spec.modules, text]
        spec.memoryMiB = (spec.modules.length > 1 ? (spec.memoryMiB ?? 0) : 0) + Math.round((Number(count) * reading.bytes) / MiB)
        part('memory')
      }
    } else if (Object.hasOwn(PARTS, text) && next) {
      const which = PARTS[text as keyof typeof PARTS]
      const said = next.replaceAll(':', ' ')
      const alike = readAlone(which, said)
      if (!('sentence' in alike)) spec[which] = [...spec[which], said]
      part(which === 'drives' ? 'disks' : 'networks', 'sentence' in alike ? alike.sentence : undefined, true)
    } else if (!isFirst && /^\d/.test(text)) {
      const reading = parseSize(text, 'memory')
      const label = parseSize(text, 'label')
      if (!reading.ok) part('memory', reading.sentence)
      else if (spec.memoryMiB !== undefined || reading.bytes > HOST_MEMORY_MAX)
        part(
          'unread',
          `“${text}” would be ${spec.memoryMiB === undefined ? '' : 'a second '}${formatBytes(reading.bytes)} of memory. Write +${text} for a store${label.ok ? ` of ${formatLabelBytes(label.bytes)}` : ''}.`,
        )
      else {
        spec.memoryMiB = Math.round(reading.bytes / MiB)
        part('memory')
      }
    } else if (text === 'at' && next) {
      spec.site = next
      part('host', undefined, true)
    } else if (text === 'runs' && next) {
      const wanted = normal(next)
      const platform =
        names.platforms.find((name) => normal(name) === wanted) ?? names.platforms.find((name) => normal(name).startsWith(wanted))
      if (platform) spec.platform = platform
      part('purpose', platform ? undefined : `There is no platform “${next}”; there are ${names.platforms.join(', ')}.`, true)
    } else if (text === 'net' && next) {
      const list = next.split(',').filter(Boolean)
      const unknown = list.find((name) => !names.networks.includes(name))
      spec.networks = list.filter((name) => names.networks.includes(name))
      part('networks', unknown ? `There is no network “${unknown}”.` : undefined, true)
    } else if (text === 'ordered' || text === 'planned') {
      spec.state = text === 'ordered' ? 'on order' : text
      part('option')
    } else if (isFirst) {
      const reading = readField(kinds.host.fields.name, text)
      if (reading.ok) spec.name = text
      part('name', reading.ok ? undefined : reading.sentence)
    } else
      part(
        'unread',
        `“${text}” is not understood; write 2x16 for cores, 128G or 4x32G for memory, +3.84T for a store, +4x4T for four, drives 6x4T, ports 4x10G:eno1, at SITE, runs PLATFORM, net A,B, ordered, planned.`,
      )
  }
  return { spec, parts: words.parts }
}

/** Platform names hold spaces; on the line a hyphen is read as one, and case does not matter. */
const normal = (name: string) => name.toLowerCase().replace(/[\s_-]+/g, '-')
