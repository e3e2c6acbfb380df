import { canonicalIp } from '../estate/index.js'
import { MiB } from '../units/index.js'
import { has, isObject, numberIn, objectIn, objectsIn, present, textIn, type JsonObject } from '../formats/index.js'
import type { FoundAddress, FoundDrive, FoundPart, FoundPort } from './found.js'

/** Reads one JSON document of one tool. */
export interface JsonReader {
  readonly name: string
  recognises(value: unknown): boolean
  read(value: unknown): FoundPart
}

const MAC = /^([0-9a-f]{2}:){5}[0-9a-f]{2}$/
/** A MAC as a tool says it; undefined where it says none, or only zeros. */
export const macOf = (text: string | undefined): string | undefined => {
  const mac = text?.toLowerCase()
  return mac && MAC.test(mac) && mac !== '00:00:00:00:00:00' ? mac : undefined
}

/** `lscpu --json`: a list of fields, nested in newer releases of util-linux. */
export const lscpu: JsonReader = {
  name: 'lscpu --json',
  recognises: (value) => isObject(value) && has(value, 'lscpu'),
  read(value) {
    // Machines of unlike cores have a block for each model, one after the other: those that differ are kept apart.
    const blocks = [new Map<string, string>()]
    const collect = (entries: readonly JsonObject[]) => {
      for (const entry of entries) {
        const [field, data] = [textIn(entry, 'field'), textIn(entry, 'data')]
        const name = field?.replace(/:$/, '')
        if (name === 'Model name' && blocks.at(-1)?.has(name)) blocks.push(new Map<string, string>())
        if (name && data) blocks.at(-1)?.set(name, data)
        collect(objectsIn(entry, 'children'))
      }
    }
    collect(isObject(value) ? objectsIn(value, 'lscpu') : [])
    const fields = new Map(blocks.toReversed().flatMap((block) => [...block]))
    const numberOf = (block: ReadonlyMap<string, string>, name: string) => {
      const parsed = Number(block.get(name))
      return Number.isFinite(parsed) && parsed > 0 ? parsed : undefined
    }
    const number = (name: string) => numberOf(fields, name)
    if (blocks.length > 1) return unlikeCores(blocks, number('CPU(s)'), numberOf)
    // What lscpu calls its maximum is the turbo clock; the base clock stands in the name, or nowhere.
    const clock = clockIn(fields.get('Model name'))
    return present({
      processorModel: fields.get('Model name'),
      sockets: number('Socket(s)'),
      coresPerSocket: number('Core(s) per socket'),
      threadsPerCore: number('Thread(s) per core'),
      clockMHz: clock,
      cpuFlags: fields.get('Flags'),
    })
  },
}

/**
 * A processor of unlike cores, as most of ARM are: one socket with the cores of all of its clusters, by as many threads as all of them
 * have.
 *
 * @see lscpu(1) of util-linux: a block of “Model name” for each kind of core
 */
function unlikeCores(
  blocks: readonly ReadonlyMap<string, string>[],
  cpus: number | undefined,
  numberOf: (block: ReadonlyMap<string, string>, name: string) => number | undefined,
): FoundPart {
  const cores = blocks.reduce((sum, block) => {
    const each = numberOf(block, 'Core(s) per cluster') ?? numberOf(block, 'Core(s) per socket') ?? 0
    return sum + each * (numberOf(block, 'Cluster(s)') ?? numberOf(block, 'Socket(s)') ?? 1)
  }, 0)
  // Where the blocks say nothing that can be, every logical processor is a core.
  const coresPerSocket = cores > 0 && (cpus === undefined || cores <= cpus) ? cores : cpus
  return present({
    processorModel: blocks.flatMap((block) => block.get('Model name') ?? []).join(' + '),
    sockets: 1,
    coresPerSocket,
    threadsPerCore: coresPerSocket && cpus && cpus % coresPerSocket === 0 ? cpus / coresPerSocket : 1,
    cpuFlags: blocks.find((block) => block.has('Flags'))?.get('Flags'),
  })
}

/** The base clock that makers put in a processor's name: “… @ 2.60GHz”. */
export function clockIn(model: string | undefined): number | undefined {
  const gigahertz = /@\s*([\d.]+)\s*GHz/i.exec(model ?? '')?.[1]
  return gigahertz === undefined ? undefined : Math.round(Number(gigahertz) * 1000)
}

/** Bytes of a size that lsblk says without --bytes: 1.8T, in powers of 1024 and rounded (lsblk(8)). */
function lsblkBytes(device: JsonObject): number | undefined {
  const bytes = numberIn(device, 'size')
  if (bytes !== undefined) return bytes
  const [, value, unit = ''] = /^([\d.,]+)([BKMGTPE])$/.exec(textIn(device, 'size') ?? '') ?? []
  return value === undefined ? undefined : Math.round(Number(value.replace(',', '.')) * 1024 ** 'BKMGTPE'.indexOf(unit))
}

/** `lsblk --json --bytes -o +MODEL,SERIAL,TYPE,ROTA`: whole disks only. Without `--bytes` sizes are rounded, and read as such. */
export const lsblk: JsonReader = {
  name: 'lsblk --json',
  recognises: (value) => isObject(value) && has(value, 'blockdevices'),
  read: (value) => ({
    drives: (isObject(value) ? objectsIn(value, 'blockdevices') : []).flatMap((device): FoundDrive[] => {
      const [name, bytes] = [textIn(device, 'name'), lsblkBytes(device)]
      const type = textIn(device, 'type')
      if (!name || !bytes || (type !== undefined && type !== 'disk') || /^(loop|ram|zram|sr|fd|nbd)\d/.test(name)) return []
      const rota = device['rota']
      const spins = rota === true || rota === '1' || rota === 1
      return [
        present({
          name,
          bytes,
          model: textIn(device, 'model'),
          serial: textIn(device, 'serial'),
          kind: name.startsWith('nvme')
            ? ('NVMe' as const)
            : rota === undefined
              ? undefined
              : spins
                ? ('hard disk' as const)
                : ('solid state' as const),
        }),
      ]
    }),
  }),
}

const isVirtualLink = (name: string, entry: JsonObject) =>
  textIn(entry, 'link_type') === 'loopback' ||
  objectIn(entry, 'linkinfo') !== undefined ||
  /^(lo|veth|docker|br-|virbr|vnet|tap|tun|dummy|bond\d|vmbr|ovs|ifb|gre|sit|ip6tnl|wg)/.test(name) ||
  name.includes('@')

/** `ip -json address` and `ip -json link`: physical ports with their MACs, and global addresses. */
export const ip: JsonReader = {
  name: 'ip -json',
  recognises: (value) => Array.isArray(value) && value.some((entry) => isObject(entry) && has(entry, 'ifname')),
  read(value) {
    const entries = Array.isArray(value) ? value.filter(isObject) : []
    const ports: FoundPort[] = []
    const addresses: FoundAddress[] = []
    for (const entry of entries) {
      const name = textIn(entry, 'ifname')
      if (!name) continue
      if (!isVirtualLink(name, entry)) {
        const flags = Array.isArray(entry['flags']) ? entry['flags'] : []
        ports.push(
          present({
            name,
            mac: macOf(textIn(entry, 'permaddr') ?? textIn(entry, 'address')),
            hasLink: textIn(entry, 'operstate') === 'UP' || flags.includes('LOWER_UP'),
            isWireless: name.startsWith('wl') ? true : undefined,
          }),
        )
      }
      for (const info of objectsIn(entry, 'addr_info')) {
        const address = canonicalIp(textIn(info, 'local') ?? '')
        const length = numberIn(info, 'prefixlen')
        if (address && length !== undefined && textIn(info, 'scope') === 'global') addresses.push({ port: name, ip: address, length })
      }
    }
    return { ports, addresses }
  },
}

/** `lshw -json`: one tree, or a list with `-class`. */
const lshw: JsonReader = {
  name: 'lshw -json',
  recognises: (value) => [value].flat().some((entry) => isObject(entry) && has(entry, 'class') && has(entry, 'id')),
  read(value) {
    const nodes: JsonObject[] = []
    const walk = (node: JsonObject) => {
      nodes.push(node)
      objectsIn(node, 'children').forEach(walk)
    }
    ;[value].flat().filter(isObject).forEach(walk)
    const ofClass = (name: string) => nodes.filter((node) => textIn(node, 'class') === name)
    const system = ofClass('system')[0]
    const banks = nodes.filter((node) => /^bank/.test(textIn(node, 'id') ?? ''))
    const product = system && [textIn(system, 'vendor'), textIn(system, 'product')].filter(Boolean).join(' ')
    const setting = (node: JsonObject, name: string) => {
      const configuration = objectIn(node, 'configuration')
      return configuration && textIn(configuration, name)
    }
    return present({
      model: product || undefined,
      memorySlots: banks.length > 0 ? banks.length : undefined,
      modules: banks.flatMap((bank, index) => {
        const size = numberIn(bank, 'size')
        const clock = numberIn(bank, 'clock')
        return size
          ? [present({ slot: index + 1, sizeMiB: Math.round(size / MiB), speedMTs: clock ? Math.round(clock / 1e6) : undefined })]
          : []
      }) as never,
      drives: ofClass('disk').flatMap((disk): FoundDrive[] => {
        const [name, bytes] = [textIn(disk, 'logicalname')?.replace('/dev/', ''), numberIn(disk, 'size')]
        return name && bytes && !/^sr\d/.test(name)
          ? [present({ name, bytes, model: textIn(disk, 'product'), serial: textIn(disk, 'serial') })]
          : []
      }),
      controllers: [...new Set(ofClass('storage').flatMap((node) => setting(node, 'driver') ?? []))].sort(),
      ports: ofClass('network').flatMap((node): FoundPort[] => {
        const name = textIn(node, 'logicalname')
        if (!name || isVirtualLink(name, node)) return []
        const capacity = numberIn(node, 'capacity') ?? numberIn(node, 'size')
        const link = setting(node, 'link')
        return [
          present({
            name,
            mac: macOf(textIn(node, 'serial')),
            speedMbps: capacity ? Math.round(capacity / 1e6) : undefined,
            hasLink: link === undefined ? undefined : link === 'yes',
            driver: setting(node, 'driver'),
            isWireless: setting(node, 'wireless') !== undefined || name.startsWith('wl') ? true : undefined,
          }),
        ]
      }),
    })
  },
}

export const jsonReaders: readonly JsonReader[] = [lscpu, lsblk, ip, lshw]
