import { kinds, readField, type Adapter, type Disk, type Field } from '../estate/index.js'
import { MiB } from '../units/index.js'
import { childOf, childrenOf, childText, readXml, type XmlElement } from '../formats/index.js'
import { namespaces, ownDiskFields, ownGuestFields, resourceTypes, type OvfAdapter, type OvfDisk, type OvfSystem } from './ovf.js'

/** An element that was not used, and why it matters, or not. */
export interface UnusedElement {
  /** Its place, from the envelope down. */
  readonly path: string
  readonly sentence: string
}

/** A descriptor, read. */
export interface OvfReading {
  readonly version: string
  readonly systems: readonly OvfSystem[]
  /** Networks as the descriptor names them. */
  readonly networks: readonly string[]
  readonly unused: readonly UnusedElement[]
}

/** Elements without a value: what holds others, and texts for people. */
const SILENT = new Set([
  'Info',
  'References',
  'DiskSection',
  'NetworkSection',
  'VirtualSystemCollection',
  'VirtualHardwareSection',
  'System',
  'Strings',
  'Label',
  'Category',
])
/** Parts of an item that name or number it. */
const ITEM_NAMES = new Set(['InstanceID', 'ElementName', 'Description', 'Caption', 'AddressOnParent'])

/** Keeps which elements were used, so that the rest can be named. */
class Uses {
  readonly #used = new Set<XmlElement>()

  use(element: XmlElement | undefined): XmlElement | undefined {
    if (element) this.#used.add(element)
    return element
  }

  useAll(element: XmlElement): void {
    this.#used.add(element)
    for (const child of element.children) this.useAll(child)
  }

  /** What was not used: of an unused element only itself is named, not what is in it. */
  unused(element: XmlElement, path: string): UnusedElement[] {
    return element.children.flatMap((child) => {
      const same = element.children.filter(({ name }) => name === child.name)
      const at = `${path}/${child.name}${same.length > 1 ? `[${same.indexOf(child) + 1}]` : ''}`
      if (this.#used.has(child) || SILENT.has(child.name)) return this.unused(child, at)
      if (element.name.endsWith('Item') && ITEM_NAMES.has(child.name)) return []
      const says = child.attributes['name'] ?? childText(child, 'ElementName') ?? child.text
      return [{ path: at, sentence: `${child.name}${says ? ` (${says.slice(0, 60)})` : ''} is not used.` }]
    })
  }
}

/**
 * Reads an OVF descriptor, version 1.x or 2.x: each virtual system in it as a draft of a guest. Nothing it refers to is
 * followed.
 *
 * @returns the systems and every element that could not be used, or a sentence on why it is no descriptor
 * @see DMTF DSP0243 1.1.0 and 2.1.0
 */
export function readOvf(text: string): OvfReading | { readonly line: number; readonly sentence: string } {
  const reading = readXml(text)
  if ('sentence' in reading) return reading
  const { root } = reading
  if (root.name !== 'Envelope')
    return { line: 1, sentence: `The document starts with ${root.name}; an OVF descriptor starts with Envelope.` }
  const uses = new Uses()
  const files = new Map(
    childrenOf(childOf(root, 'References'), 'File').map((file) => [uses.use(file)?.attributes['id'] ?? '', file.attributes['href'] ?? '']),
  )
  const networks = childrenOf(childOf(root, 'NetworkSection'), 'Network').flatMap((network) => {
    uses.useAll(network)
    return network.attributes['name'] ?? []
  })
  const disks = new Map(
    childrenOf(childOf(root, 'DiskSection'), 'Disk').map((disk) => [disk.attributes['diskId'] ?? '', uses.use(disk) ?? disk]),
  )
  const found = systemsIn(root)
  if (found.length === 0) return { line: 1, sentence: 'The descriptor holds no VirtualSystem.' }
  const problems: string[] = []
  const systems = found.flatMap((element) => {
    uses.use(element)
    const system = readSystem(element, disks, files, uses)
    if ('sentence' in system) problems.push(system.sentence)
    return 'sentence' in system ? [] : [system]
  })
  if (systems.length === 0) return { line: 1, sentence: problems[0] ?? 'No virtual system could be read.' }
  return {
    // The reader takes prefixes and their namespaces away; the envelope's own is in its first lines.
    version: text.slice(0, 10_000).includes(namespaces['2.x']) ? '2.x' : '1.x',
    systems,
    networks,
    unused: [...problems.map((sentence) => ({ path: 'Envelope/VirtualSystem', sentence })), ...uses.unused(root, 'Envelope')],
  }
}

const systemsIn = (element: XmlElement): readonly XmlElement[] => [
  ...childrenOf(element, 'VirtualSystem'),
  ...childrenOf(element, 'VirtualSystemCollection').flatMap(systemsIn),
]

/**
 * Bytes of a size in programmatic units: `byte * 2^20`, `MegaBytes`, `byte`.
 *
 * @see DMTF DSP0004, annex C, programmatic units
 */
function bytesOf(quantity: number, units: string | undefined): number | undefined {
  const text = (units ?? 'byte').replace(/\s/g, '').toLowerCase()
  const power = /^byte(?:\*(\d+)\^(\d+))?$/.exec(text)
  if (power) return quantity * (power[1] ? Number(power[1]) ** Number(power[2]) : 1)
  const word = /^(kilo|mega|giga|tera)bytes?$/.exec(text)?.[1]
  const steps = ['kilo', 'mega', 'giga', 'tera']
  return word ? quantity * 1024 ** (steps.indexOf(word) + 1) : undefined
}

type Item = (name: string) => string | undefined

function readSystem(
  element: XmlElement,
  diskElements: ReadonlyMap<string, XmlElement>,
  files: ReadonlyMap<string, string>,
  uses: Uses,
): OvfSystem | { readonly sentence: string } {
  const name = uses.use(childOf(element, 'Name'))?.text || element.attributes['id'] || 'guest'
  const hardware = childOf(element, 'VirtualHardwareSection')
  if (!hardware) return { sentence: `${name} has no VirtualHardwareSection: it describes no hardware.` }
  for (const child of childOf(hardware, 'System')?.children ?? [])
    if (['ElementName', 'InstanceID', 'VirtualSystemIdentifier'].includes(child.name)) uses.use(child)
  const items = ['Item', 'StorageItem', 'EthernetPortItem'].flatMap((kind) => childrenOf(hardware, kind))
  const get =
    (item: XmlElement): Item =>
    (field) =>
      uses.use(childOf(item, field))?.text || undefined
  const ofType = (type: string) =>
    items.filter((item) => childText(item, 'ResourceType') === type).map((item) => ({ item: uses.use(item) ?? item, get: get(item) }))
  const typed = (type: string) =>
    ofType(type).map((one) => {
      one.get('ResourceType')
      return one
    })
  const quantity = (of: { readonly get: Item } | undefined) => {
    const value = Number(of?.get('VirtualQuantity') ?? NaN)
    return Number.isFinite(value) && value > 0 ? value : undefined
  }
  const vcpu = quantity(typed(resourceTypes.processor)[0])
  const memory = typed(resourceTypes.memory)[0]
  const memoryBytes = bytesOf(quantity(memory) ?? NaN, memory?.get('AllocationUnits') ?? 'byte * 2^20')
  if (!vcpu || !memoryBytes || Number.isNaN(memoryBytes))
    return { sentence: `${name} has ${vcpu ? 'no memory' : 'no number of processors'} that can be read.` }
  const buses = new Map(
    [resourceTypes.ide, resourceTypes.scsi, resourceTypes.otherStorage].flatMap((type) =>
      typed(type).map(({ get: of }) => {
        of('Address')
        return [of('InstanceID') ?? '', busOf(type, of('ResourceSubType'))] as const
      }),
    ),
  )
  const own = childOf(element, 'GuestSection')
  if (own) uses.useAll(own)
  const ownDisks = childrenOf(own, 'Disk')
  const ownAdapters = childrenOf(own, 'Adapter')
  const disks = typed(resourceTypes.disk).flatMap(({ get: of }, index): OvfDisk[] => {
    const [, id = ''] = (of('HostResource') ?? '').split('disk/')
    const disk = diskElements.get(id)
    const size = bytesOf(Number(disk?.attributes['capacity'] ?? NaN), disk?.attributes['capacityAllocationUnits'])
    if (!disk || !size || Number.isNaN(size)) return []
    return [
      {
        use: of('Description') ?? (index === 0 ? 'system' : 'data'),
        sizeBytes: Math.round(size),
        bus: buses.get(of('Parent') ?? '') ?? 'SATA',
        file: files.get(disk.attributes['fileRef'] ?? '') ?? null,
        more: ownValues(ownDisks[index], kinds.disk.fields, ownDiskFields),
      },
    ]
  })
  const adapters = typed(resourceTypes.ethernet).map(({ get: of }, index): OvfAdapter => {
    const automatic = of('AutomaticAllocation')
    return {
      network: of('Connection'),
      mac: macOf(of('Address')),
      model: modelOf(of('ResourceSubType')),
      isConnected: (ownAdapters[index]?.attributes['isConnected'] ?? automatic ?? 'true') !== 'false',
    }
  })
  const systemSection = uses.use(childOf(element, 'OperatingSystemSection'))
  return {
    name,
    vcpu: Math.round(vcpu),
    memoryMiB: Math.round(memoryBytes / MiB),
    note: uses.use(childOf(uses.use(childOf(element, 'AnnotationSection')), 'Annotation'))?.text ?? '',
    system: uses.use(childOf(systemSection, 'Description'))?.text || undefined,
    disks,
    adapters,
    more: ownValues(own, kinds.guest.fields, ownGuestFields),
  }
}

function busOf(type: string, subType: string | undefined): Disk['bus'] {
  if (type === resourceTypes.ide) return 'IDE'
  if (/virtio|paravirt/i.test(subType ?? '')) return 'paravirtual'
  if (type === resourceTypes.scsi) return 'SCSI'
  return /nvme/i.test(subType ?? '') ? 'NVMe' : 'SATA'
}

function modelOf(subType: string | undefined): Adapter['model'] {
  if (/virtio|paravirt/i.test(subType ?? '')) return 'paravirtual'
  return /pcnet|rtl8139|ne2000|ne2k/i.test(subType ?? '') ? 'emulated old' : 'emulated'
}

function macOf(text: string | undefined): string | null {
  const reading = text === undefined ? undefined : readField(kinds.adapter.fields.mac, text)
  return reading?.ok ? (reading.value as string) : null
}

/** Values of Insel's own section, each as its field reads it; what cannot be read is left out. */
function ownValues(
  element: XmlElement | undefined,
  fields: Readonly<Record<string, Field>>,
  names: readonly string[],
): Record<string, unknown> {
  return Object.fromEntries(
    names.flatMap((name) => {
      const text = element?.attributes[name]
      const field = fields[name]
      if (text === undefined || !field) return []
      const value =
        field.type === 'bool'
          ? text === 'true'
          : field.type === 'integer' || field.type === 'real'
            ? Number(text)
            : field.type === 'tags'
              ? text.split(' ').filter(Boolean)
              : text
      const reading = readField(field, value)
      return reading.ok ? [[name, reading.value]] : []
    }),
  )
}
