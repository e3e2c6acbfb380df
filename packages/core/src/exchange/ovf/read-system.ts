import { kinds, readField, type Field } from '../../estate/index.js'
import { childOf, childrenOf, childText, type XmlElement } from '../../formats/index.js'
import { MiB } from '../../units/index.js'
import { countsIn, itemsIn, propertiesOf, type HardwareItem, type OvfLimits } from './deployment.js'
import { busOf, macOf, modelOf } from './devices.js'
import { ownDiskFields, ownGuestFields, resourceTypes, type OvfAdapter, type OvfDisk, type OvfSystem } from './ovf.js'
import { refusalsOf } from './sections.js'
import type { Uses } from './uses.js'

/** What a descriptor says for all its systems, and the configuration it is read in. */
interface Envelope {
  /** Disks by their ids. */
  readonly disks: ReadonlyMap<string, XmlElement>
  /** Names of files by their ids. */
  readonly files: ReadonlyMap<string, string>
  readonly configuration: string | undefined
}

/**
 * A virtual system of a descriptor, or a sentence on why it is none that can be planned.
 *
 * @param parts the envelope, the collections it stands in, and the system, last
 */
export function readSystem(parts: readonly XmlElement[], envelope: Envelope, uses: Uses): OvfSystem | { readonly sentence: string } {
  const element = parts.at(-1)
  if (!element) throw new Error('readSystem is given no system')
  uses.use(element)
  const { configuration } = envelope
  const name = uses.use(childOf(element, 'Name'))?.text || element.attributes['id'] || 'guest'
  const hardware = childOf(element, 'VirtualHardwareSection')
  if (!hardware) return { sentence: `${name} has no VirtualHardwareSection: it describes no hardware.` }
  for (const child of childOf(hardware, 'System')?.children ?? [])
    if (['ElementName', 'InstanceID', 'VirtualSystemIdentifier'].includes(child.name)) uses.use(child)
  const remarks: string[] = []
  const typed = itemsOf(hardware, configuration, uses)
  const processor = typed(resourceTypes.processor)[0]
  const memory = typed(resourceTypes.memory)[0]
  const count = quantityIn(processor?.get)
  const bytes = bytesOf(quantityIn(memory?.get) ?? NaN, memory?.get('AllocationUnits') ?? 'byte * 2^20')
  if (!count || !bytes || Number.isNaN(bytes))
    return { sentence: `${name} has ${count ? 'no memory' : 'no number of processors'} that can be read.` }
  for (const [what, item] of [
    ['processors', processor],
    ['memory', memory],
  ] as const)
    if (item && !item.hasNormal) remarks.push(`Of its ${what} only bounds are given; the ${item.min ? 'least' : 'most'} is taken.`)
  const own = childOf(element, 'GuestSection')
  if (own) uses.useAll(own)
  const systemSection = uses.use(childOf(element, 'OperatingSystemSection'))
  return {
    name,
    vcpu: Math.round(count),
    memoryMiB: Math.round(bytes / MiB),
    limits: {
      vcpu: limitsOf(processor, (quantity) => quantity),
      memoryMiB: limitsOf(memory, (quantity, units) => Math.round((bytesOf(quantity, units ?? 'byte * 2^20') ?? NaN) / MiB)),
    },
    note: uses.use(childOf(uses.use(childOf(element, 'AnnotationSection')), 'Annotation'))?.text ?? '',
    system: uses.use(childOf(systemSection, 'Description'))?.text || undefined,
    disks: readDisks(typed, childrenOf(own, 'Disk'), envelope, propertiesOf(parts, configuration), remarks),
    adapters: readAdapters(typed, childrenOf(own, 'Adapter'), remarks),
    remarks,
    refusals: refusalsOf(parts, configuration),
    more: ownValues(own, kinds.guest.fields, ownGuestFields),
  }
}

/** An item, with the text of a part of it. */
interface Item extends HardwareItem {
  readonly get: (field: string) => string | undefined
}
/** The items of a type, as they are in the configuration. */
type ItemsOfType = (type: string) => readonly Item[]

function itemsOf(hardware: XmlElement, configuration: string | undefined, uses: Uses): ItemsOfType {
  const all = ['Item', 'StorageItem', 'EthernetPortItem'].flatMap((kind) => childrenOf(hardware, kind))
  // What is of another configuration, or the bound of an item, is not lost.
  for (const item of all) if (!countsIn(item, configuration)) uses.useAll(item)
  const items = itemsIn(all, configuration)
  const kept = new Set(items.map(({ item }) => item))
  for (const item of all) if (!kept.has(item) && countsIn(item, configuration)) uses.useAll(item)
  return (type) =>
    items
      .filter(({ item }) => childText(item, 'ResourceType') === type)
      .map((one) => {
        uses.use(one.item)
        const get = (field: string) => uses.use(childOf(one.item, field))?.text || undefined
        get('ResourceType')
        return { ...one, get }
      })
}

function quantityIn(get: ((field: string) => string | undefined) | undefined): number | undefined {
  const value = Number(get?.('VirtualQuantity') ?? NaN)
  return Number.isFinite(value) && value > 0 ? value : undefined
}

function limitsOf(item: Item | undefined, convert: (quantity: number, units: string | undefined) => number): OvfLimits {
  const of = (bound: XmlElement | undefined) => {
    const quantity = bound && quantityIn((field) => childText(bound, field))
    const value = quantity === undefined ? NaN : convert(quantity, bound && childText(bound, 'AllocationUnits'))
    return Number.isFinite(value) ? value : null
  }
  return { min: of(item?.min), max: of(item?.max) }
}

function readDisks(
  typed: ItemsOfType,
  own: readonly XmlElement[],
  { disks, files }: Envelope,
  properties: ReadonlyMap<string, string>,
  remarks: string[],
): readonly OvfDisk[] {
  const buses = new Map(
    [resourceTypes.ide, resourceTypes.scsi, resourceTypes.otherStorage].flatMap((type) =>
      typed(type).map(({ get }) => {
        get('Address')
        return [get('InstanceID') ?? '', busOf(type, get('ResourceSubType'))] as const
      }),
    ),
  )
  return typed(resourceTypes.disk).flatMap(({ get }, index): OvfDisk[] => {
    const lost = (why: string) => {
      remarks.push(`Disk ${index + 1} is left out: ${why}.`)
      return []
    }
    const resource = get('HostResource')
    if (resource === undefined) return lost('it names no disk')
    const [, id] = /^(?:ovf:\/+)?disk\/(.+)$/.exec(resource) ?? []
    if (id === undefined) return lost(`${resource.slice(0, 80)} is not a disk with a size`)
    const disk = disks.get(id)
    if (!disk) return lost(`the DiskSection has no disk ${id.slice(0, 80)}`)
    const { capacity, capacityAllocationUnits: units, fileRef } = disk.attributes
    const [, property] = /^\$\{(.*)\}$/.exec(capacity ?? '') ?? []
    const said = property === undefined ? capacity : properties.get(property)
    if (said === undefined)
      return lost(
        property === undefined ? 'it has no capacity' : `its capacity is the property ${property.slice(0, 80)}, which has no value`,
      )
    const size = bytesOf(Number(said), units)
    if (!size || !Number.isFinite(size) || size <= 0)
      return lost(`its capacity, ${said.slice(0, 40)}${units ? ` in units of ${units.slice(0, 40)}` : ''}, cannot be read`)
    const file = fileRef === undefined ? null : (files.get(fileRef) ?? null)
    if (fileRef !== undefined && file === null)
      remarks.push(`Disk ${index + 1}: its file ${fileRef.slice(0, 80)} is not among the References, so its content is lost.`)
    return [
      {
        use: get('Description') ?? (index === 0 ? 'system' : 'data'),
        sizeBytes: Math.round(size),
        bus: buses.get(get('Parent') ?? '') ?? 'SATA',
        file,
        more: ownValues(own[index], kinds.disk.fields, ownDiskFields),
      },
    ]
  })
}

const readAdapters = (typed: ItemsOfType, own: readonly XmlElement[], remarks: string[]): readonly OvfAdapter[] =>
  typed(resourceTypes.ethernet).map(({ get }, index) => {
    const automatic = get('AutomaticAllocation')
    const mac = macOf(get('Address'))
    const model = modelOf(get('ResourceSubType'))
    for (const { remark } of [mac, model]) if (remark) remarks.push(`Adapter ${index + 1} ${remark}.`)
    return {
      network: get('Connection'),
      mac: mac.device,
      model: model.device,
      isConnected: (own[index]?.attributes['isConnected'] ?? automatic ?? 'true') !== 'false',
    }
  })

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
