import type { JsonObject } from '../formats/index.js'
import type { FoundFileSystem, FoundPart } from './found.js'
import { ip, lsblk, lscpu, type JsonReader } from './tools.js'

/** What a tool printed for people, read as its JSON says the same. */
interface PlainReading {
  readonly source: string
  readonly part: FoundPart
  /** The line after the last of it. */
  readonly next: number
}

/** A tool whose lines begin in a way of their own. */
interface PlainTool {
  begins(line: string): boolean
  /** @param isOther whether a line begins what another tool printed */
  read(lines: readonly string[], from: number, isOther: (line: string) => boolean): PlainReading
}

const asJson = (reader: JsonReader, value: unknown, next: number): PlainReading => ({
  source: reader.name.replace(/ -+json$/, ''),
  part: reader.read(value),
  next,
})

/** `lscpu`: a name and a value in each line, in groups in newer releases of util-linux. */
const plainLscpu: PlainTool = {
  begins: (line) => /^Architecture:\s+\S/.test(line),
  read(lines, from, isOther) {
    const fields: JsonObject[] = []
    let at = from
    for (; at < lines.length; at++) {
      const line = lines[at] ?? ''
      const colon = line.indexOf(':')
      if (colon <= 0 || (at > from && isOther(line))) break
      fields.push({ field: line.slice(0, colon + 1).trim(), data: line.slice(colon + 1).trim() })
    }
    return asJson(lscpu, { lscpu: fields }, at)
  },
}

const HEADER = /^\d+: ([^:\s]+): <([^>]*)>(?:.* state (\S+))?/

/** `ip address` and `ip link`: a link in a line with its flags, what belongs to it indented below. */
const plainIp: PlainTool = {
  begins: (line) => HEADER.test(line),
  read(lines, from, isOther) {
    const links: { [name: string]: unknown; addr_info: JsonObject[] }[] = []
    let at = from
    for (; at < lines.length; at++) {
      const line = lines[at] ?? ''
      const [, name, flags = '', state] = HEADER.exec(line) ?? []
      const link = links.at(-1)
      if (name !== undefined) links.push({ ifname: name, flags: flags.split(','), operstate: state, addr_info: [] })
      else if (!/^\s+\S/.test(line) || isOther(line) || !link) break
      else {
        const [, type, address] = /^\s+link\/(\S+)(?: (\S+))?/.exec(line) ?? []
        if (type !== undefined) Object.assign(link, { link_type: type, address, permaddr: / permaddr (\S+)/.exec(line)?.[1] })
        const [, local, length, scope] = /^\s+inet6? (\S+)\/(\d+) .*\bscope (\w+)/.exec(line) ?? []
        if (local !== undefined) link.addr_info.push({ local, prefixlen: Number(length), scope })
      }
    }
    const { part, ...rest } = asJson(ip, links, at)
    // A link on another one is written with that one’s name behind it.
    return { ...rest, part: { ...part, addresses: part.addresses?.map((one) => ({ ...one, port: one.port.replace(/@.*/, '') })) ?? [] } }
  },
}

const COLUMNS: Readonly<Record<string, string>> = {
  NAME: 'name',
  SIZE: 'size',
  TYPE: 'type',
  MODEL: 'model',
  SERIAL: 'serial',
  ROTA: 'rota',
}

/** `lsblk`, with any columns: each value stands under its heading, to the left or to the right of it. */
const plainLsblk: PlainTool = {
  begins: (line) => /^NAME\s.*\bSIZE\b/.test(line),
  read(lines, from, isOther) {
    const columns = [...(lines[from] ?? '').matchAll(/\S+/g)].map((word) => ({
      name: word[0],
      start: word.index,
      end: word.index + word[0].length,
    }))
    const devices: Record<string, string>[] = []
    let at = from + 1
    for (; at < lines.length; at++) {
      const line = lines[at] ?? ''
      if (line.trim() === '' || isOther(line)) break
      // Partitions hang on their disk; more mount points have a line of their own.
      if (/^[\s│├└|`]/.test(line)) continue
      const device: Record<string, string> = {}
      for (const word of line.matchAll(/\S+/g)) {
        const [start, end] = [word.index, word.index + word[0].length]
        const column =
          columns.find((one) => start < one.end && end > one.start) ?? columns.findLast((one) => one.start <= start) ?? columns[0]
        const key = COLUMNS[column?.name ?? '']
        if (key) device[key] = device[key] === undefined ? word[0] : `${device[key]} ${word[0]}`
      }
      devices.push(device)
    }
    return asJson(lsblk, { blockdevices: devices }, at)
  },
}

/** What a block of `df` is, bytes; a size with its letter is in powers of 1024 (df(1)). */
const BLOCK: Readonly<Record<string, number>> = { K: 1024, M: 1024 ** 2, G: 1024 ** 3, KB: 1e3, MB: 1e6, GB: 1e9, B: 1 }
/** File systems whose content is on no disk of the machine. */
const NOWHERE = /^(tmpfs|devtmpfs|udev|overlay|none|shm|proc|sysfs|run|dev|efivarfs|cgroup\w*|ramfs|rootfs|squashfs|map|devfs|loop\d+)$/

/** `df`, whatever its unit: `1K-blocks`, `512-blocks`, `Size` with letters, with types or without. A long name has a line of its own. */
const plainDf: PlainTool = {
  begins: (line) => /^Filesystem\s+(?:Type\s+)?(?:Size|[\dA-Z]+-blocks)\s+Used\s/.test(line),
  read(lines, from, isOther) {
    const [, heading = 'Size'] = /\s(Size|[\dA-Z]+-blocks)\s/.exec(lines[from] ?? '') ?? []
    const [, count, letters = ''] = /^(\d+)([A-Z]*)-blocks$/.exec(heading) ?? []
    const block = count === undefined ? 1 : Number(count) * (letters === '' ? 1 : (BLOCK[letters] ?? 1))
    const bytesOf = (word: string | undefined) => {
      const [, value, letter = ''] = /^(\d+(?:[.,]\d+)?)([KMGTP]?)i?$/i.exec(word ?? '') ?? []
      if (value === undefined) return undefined
      const power = letter === '' ? 0 : 'KMGTP'.indexOf(letter.toUpperCase()) + 1
      return Math.round(Number(value.replace(',', '.')) * 1024 ** power * (letter === '' ? block : 1))
    }
    const fileSystems: FoundFileSystem[] = []
    let at = from + 1
    let name = ''
    for (; at < lines.length; at++) {
      const line = lines[at] ?? ''
      if (line.trim() === '' || isOther(line)) break
      const words = `${name} ${line}`.trim().split(/\s+/)
      if (words.length === 1) {
        name = line
        continue
      }
      name = ''
      // Size, used, available, and the share with its sign, wherever a type or blanks in a name put them.
      const share = words.findIndex((word, index) => index >= 4 && /^(\d+%|-)$/.test(word))
      if (share < 0) break
      const [bytes, usedBytes] = [bytesOf(words[share - 3]), bytesOf(words[share - 2])]
      const source = words[0] ?? ''
      const device = source.replace(/^\/dev\/(mapper\/)?/, '')
      const type = share > 4 ? (words[1] ?? '') : ''
      // What is on a disk is a device, or a part of a pool of them.
      const isHere =
        source.includes('/') && !NOWHERE.test(device) && !NOWHERE.test(type) && !/^\/\/|:/.test(source) && source !== words.at(-1)
      if (isHere && bytes !== undefined && usedBytes !== undefined && bytes > 0 && fileSystems.every((one) => one.device !== device))
        fileSystems.push({ device, bytes, usedBytes })
    }
    return { source: 'df', part: { fileSystems }, next: at }
  },
}

/** The tools whose lines for people are read, beside their JSON. */
export const plainTools: readonly PlainTool[] = [plainLscpu, plainIp, plainLsblk, plainDf]
