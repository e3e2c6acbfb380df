import { kinds, readFields, type NewRecord } from '../../estate/index.js'
import { MiB } from '../../units/index.js'
import { childOf, childrenOf, childText, readXml, type XmlElement } from '../xml/read-xml.js'

/** One system of the open dataset, as a record that an estate can take. */
export interface CatalogueSystem {
  readonly shortId: string
  /** Other words it is found by: further short names, codename, version, maker. */
  readonly words: readonly string[]
  readonly values: NewRecord<'system'>
}

/** What was read of a dataset, and what was not. */
export interface Catalogue {
  readonly systems: readonly CatalogueSystem[]
  readonly unread: readonly { readonly file: string; readonly sentence: string }[]
}

/** What the dataset says of one system, its overlay files merged. */
interface Entry {
  readonly id: string
  readonly elements: readonly XmlElement[]
}

const DEVICES = 'http://pcisig.com/pci/'
/** Paravirtual devices by their PCI numbers, the older and the newer of each. */
const paravirtualDisk = ['1af4/1001', '1af4/1042', '1af4/1004', '1af4/1048'].map((id) => DEVICES + id)
const paravirtualNet = ['1af4/1000', '1af4/1041'].map((id) => DEVICES + id)
const gigabit = ['8086/100e', '8086/10d3'].map((id) => DEVICES + id)
const older = ['10ec/8139', '10ec/8029', '1022/2000'].map((id) => DEVICES + id)

/**
 * Reads the open dataset `osinfo-db`: what each system needs, boots under, drives, and how long it is supported.
 *
 * Overlay files repeat an id and are merged. Devices are handed down from the system it derives from or is a clone of; nothing
 * else is, and what the dataset does not say is not known.
 *
 * @param files every file under `os/`, in a fixed order
 * @param source how the dataset and its version are called
 * @example readOsinfo([{ name: 'debian-11.xml', text }], 'osinfo-db 20221203').systems[0]?.values.minMemoryMiB // 1024
 * @see the dataset's own schema, /usr/share/osinfo/schema/osinfo.rng
 */
export function readOsinfo(files: readonly { readonly name: string; readonly text: string }[], source: string): Catalogue {
  const entries = new Map<string, { id: string; elements: XmlElement[] }>()
  const unread: { file: string; sentence: string }[] = []
  for (const { name, text } of files) {
    const reading = readXml(text)
    if ('sentence' in reading) {
      unread.push({ file: name, sentence: reading.sentence })
      continue
    }
    for (const os of childrenOf(reading.root, 'os')) {
      const id = os.attributes['id'] ?? name
      const known = entries.get(id)
      if (known) known.elements.push(...os.children)
      else entries.set(id, { id, elements: [...os.children] })
    }
  }
  const devices = devicesOf(entries)
  const systems = [...entries.values()].flatMap((entry) => systemOf(entry, devices(entry.id), source) ?? [])
  return { systems: withPlainNames(systems), unread }
}

const all = (entry: Entry, name: string) => entry.elements.filter((element) => element.name === name)
/** The dataset's text in its own language: translations are beside it. */
const plain = (entry: Entry, name: string) => all(entry, name).find(({ attributes }) => attributes['lang'] === undefined)?.text

/** Devices of a system with those handed down; one marked as not supported is taken away again. */
function devicesOf(entries: ReadonlyMap<string, Entry>): (id: string) => ReadonlySet<string> {
  const known = new Map<string, ReadonlySet<string>>()
  const find = (id: string, path: readonly string[]): ReadonlySet<string> => {
    const done = known.get(id)
    const entry = entries.get(id)
    if (done || !entry || path.includes(id)) return done ?? new Set()
    const parents = [...all(entry, 'derives-from'), ...all(entry, 'clones')].flatMap(({ attributes }) => attributes['id'] ?? [])
    const devices = new Set(parents.flatMap((parent) => [...find(parent, [...path, id])]))
    for (const { attributes } of all(entry, 'devices').flatMap((list) => childrenOf(list, 'device'))) {
      const device = attributes['id'] ?? ''
      if (attributes['supported'] === 'false') devices.delete(device)
      else devices.add(device)
    }
    known.set(id, devices)
    return devices
  }
  return (id) => find(id, [])
}

function systemOf(entry: Entry, devices: ReadonlySet<string>, source: string): CatalogueSystem | undefined {
  const shortId = plain(entry, 'short-id')
  const name = plain(entry, 'name')
  if (!shortId || !name) return undefined
  const shipped = new Set(
    all(entry, 'driver').flatMap((driver) => childrenOf(driver, 'device').flatMap(({ attributes }) => attributes['id'] ?? [])),
  )
  const driven = (ids: readonly string[]) =>
    ids.some((id) => devices.has(id)) ? 'built in' : ids.some((id) => shipped.has(id)) ? 'with a driver image' : 'not known'
  const day = (element: string) => {
    const text = plain(entry, element)
    return text && /^\d{4}-\d\d-\d\d$/.test(text) ? text : null
  }
  const [min, good] = [resourcesOf(entry, 'minimum'), resourcesOf(entry, 'recommended')]
  const words = [
    ...all(entry, 'short-id').map(({ text }) => text),
    ...['codename', 'version', 'vendor', 'distro'].flatMap((element) => plain(entry, element) ?? []),
  ]
  const values: NewRecord<'system'> = {
    name,
    datasetId: shortId,
    family: plain(entry, 'family') ?? 'not known',
    source,
    minVcpu: min.vcpu,
    minMemoryMiB: min.memoryMiB,
    minStorageBytes: min.storageBytes,
    goodVcpu: good.vcpu,
    goodMemoryMiB: good.memoryMiB,
    goodStorageBytes: good.storageBytes,
    firmware: firmwareOf(entry),
    paravirtualDisk: driven(paravirtualDisk),
    paravirtualNet: driven(paravirtualNet),
    emulatedNet: gigabit.some((id) => devices.has(id)) ? 'emulated' : older.some((id) => devices.has(id)) ? 'emulated old' : 'not known',
    releasedOn: day('release-date'),
    supportedUntil: day('eol-date'),
  }
  return { shortId, words: [...new Set(words)].filter((word) => word !== ''), values: { ...readFields(kinds.system.fields, values) } }
}

/** What it needs on a 64-bit PC; where the dataset does not tell architectures apart, what it says of all. */
function resourcesOf(entry: Entry, level: 'minimum' | 'recommended') {
  const lists = all(entry, 'resources')
  const own = ['x86_64', 'all'].flatMap(
    (arch) =>
      childOf(
        lists.find((one) => one.attributes['arch'] === arch && childOf(one, level)),
        level,
      ) ?? [],
  )[0]
  const number = (name: string) => {
    const value = Number(childText(own, name) ?? NaN)
    return Number.isFinite(value) && value > 0 ? value : null
  }
  const ram = number('ram')
  return { vcpu: number('n-cpus'), memoryMiB: ram === null ? null : Math.ceil(ram / MiB), storageBytes: number('storage') }
}

function firmwareOf(entry: Entry): NonNullable<NewRecord<'system'>['firmware']> {
  const said = all(entry, 'firmware').filter(({ attributes }) => attributes['arch'] === 'x86_64' || attributes['arch'] === 'all')
  const of = (type: string) => said.find(({ attributes }) => attributes['type'] === type)
  const without = (type: string) => of(type)?.attributes['supported'] === 'false'
  if (without('bios')) return 'UEFI only'
  if (without('efi')) return 'BIOS only'
  return of('efi') ? 'UEFI or BIOS' : 'not known'
}

/** Two systems of one name are distinguished by their short names, as an estate holds each name once. */
function withPlainNames(systems: readonly CatalogueSystem[]): readonly CatalogueSystem[] {
  const counts = new Map<string, number>()
  for (const { values } of systems) counts.set(values.name.toLowerCase(), (counts.get(values.name.toLowerCase()) ?? 0) + 1)
  return systems.map((system) =>
    (counts.get(system.values.name.toLowerCase()) ?? 0) > 1
      ? { ...system, values: { ...system.values, name: `${system.values.name} (${system.shortId})` } }
      : system,
  )
}
