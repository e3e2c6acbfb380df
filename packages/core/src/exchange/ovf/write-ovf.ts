import { adaptersOf, type Disk, type Estate, type Guest } from '../../estate/index.js'
import { devicePlanOf } from '../../guests/index.js'
import { writeXml, type XmlNode } from '../../formats/index.js'
import { namespaces, ownDiskFields, ownGuestFields, resourceTypes, type OvfVersion } from './ovf.js'

/** Controllers by bus: their resource type, and the subtype where the type alone does not say it. */
const controllers: Readonly<Record<Disk['bus'], { readonly type: string; readonly subType?: string; readonly title: string }>> = {
  IDE: { type: resourceTypes.ide, title: 'IDE controller' },
  SCSI: { type: resourceTypes.scsi, title: 'SCSI controller' },
  SATA: { type: resourceTypes.otherStorage, subType: 'AHCI', title: 'SATA controller' },
  NVMe: { type: resourceTypes.otherStorage, subType: 'NVMe', title: 'NVMe controller' },
  paravirtual: { type: resourceTypes.otherStorage, subType: 'virtio', title: 'Paravirtual controller' },
}
const adapterSubTypes = { paravirtual: 'virtio', emulated: 'E1000', 'emulated old': 'PCNet32' } as const

const text = (name: string, value: string): XmlNode => ({ name, text: value })

/**
 * A guest's plan as an OVF descriptor: its processors, memory, disks without content, adapters and networks, and in a section
 * of Insel's own, which others may leave out, what the standard has no element for.
 *
 * @see DMTF DSP0243 1.1.0 and 2.1.0; blank disks by section 9.1: a disk that refers to no file
 */
export function writeOvf(estate: Estate, guest: Guest, version: OvfVersion = '1.1'): string {
  const disks = devicePlanOf(estate, guest).disks
  const adapters = adaptersOf(estate, guest.id)
  const networkNames = [...new Set(adapters.flatMap(({ networkId }) => estate.find('network', networkId)?.name ?? []))]
  const isTwo = version === '2.x'
  const cim = 'http://schemas.dmtf.org/wbem/wscim/1/cim-schema/2'
  return writeXml({
    name: 'Envelope',
    attributes: {
      xmlns: namespaces[version],
      'xmlns:ovf': namespaces[version],
      'xmlns:rasd': `${cim}/CIM_ResourceAllocationSettingData`,
      'xmlns:vssd': `${cim}/CIM_VirtualSystemSettingData`,
      ...(isTwo
        ? { 'xmlns:epasd': `${cim}/CIM_EthernetPortAllocationSettingData.xsd`, 'xmlns:sasd': `${cim}/CIM_StorageAllocationSettingData.xsd` }
        : {}),
      'xmlns:insel': namespaces.own,
    },
    children: [
      { name: 'References' },
      {
        name: 'DiskSection',
        children: [
          text('Info', 'Virtual disks; they have no content here'),
          ...disks.map((disk, index) => ({
            name: 'Disk',
            attributes: {
              'ovf:diskId': `disk${index + 1}`,
              'ovf:capacity': String(disk.sizeBytes),
              'ovf:capacityAllocationUnits': 'byte',
              'ovf:populatedSize': disk.usedBytes === null ? undefined : String(disk.usedBytes),
              'ovf:format': 'urn:insel:blank-disk',
            },
          })),
        ],
      },
      {
        name: 'NetworkSection',
        children: [
          text('Info', 'Networks it is plugged into'),
          ...networkNames.map((name) => ({
            name: 'Network',
            attributes: { 'ovf:name': name },
            children: [text('Description', `Network ${name}`)],
          })),
        ],
      },
      {
        name: 'VirtualSystem',
        attributes: { 'ovf:id': guest.name },
        children: [
          text('Info', 'A guest recorded in Insel'),
          text('Name', guest.name),
          ...(guest.note === '' ? [] : [{ name: 'AnnotationSection', children: [text('Info', 'Note'), text('Annotation', guest.note)] }]),
          operatingSystem(estate, guest),
          hardware(estate, guest, disks, adapters, isTwo),
          ownSection(guest, disks, adapters),
        ],
      },
    ],
  })
}

function operatingSystem(estate: Estate, guest: Guest): XmlNode {
  const system = estate.find('system', guest.systemId)
  return {
    name: 'OperatingSystemSection',
    // CIM_OperatingSystem.OSType 1 is “Other”: the description says which.
    attributes: { 'ovf:id': '1' },
    children: [text('Info', 'The system it runs'), ...(system ? [text('Description', system.name)] : [])],
  }
}

function hardware(
  estate: Estate,
  guest: Guest,
  disks: readonly Disk[],
  adapters: readonly {
    readonly mac: string | null
    readonly model: keyof typeof adapterSubTypes
    readonly networkId: string | null
    readonly isConnected: boolean
  }[],
  isTwo: boolean,
): XmlNode {
  let instance = 0
  const nextId = () => String(++instance)
  /** Elements of an item in the order of their names, as the standard’s schema has them. */
  const item = (element: string, prefix: string, values: Readonly<Record<string, string | undefined>>): XmlNode => ({
    name: element,
    children: Object.entries(values)
      .filter((entry): entry is [string, string] => entry[1] !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, value]) => text(`${prefix}:${name}`, value)),
  })
  const plain = (values: Readonly<Record<string, string | undefined>>) => item('Item', 'rasd', values)
  const processor = plain({
    InstanceID: nextId(),
    ElementName: `${guest.vcpu} virtual processors`,
    Description: 'Number of virtual processors',
    ResourceType: resourceTypes.processor,
    VirtualQuantity: String(guest.vcpu),
  })
  const memory = plain({
    InstanceID: nextId(),
    ElementName: `${guest.memoryMiB} MiB of memory`,
    AllocationUnits: 'byte * 2^20',
    ResourceType: resourceTypes.memory,
    VirtualQuantity: String(guest.memoryMiB),
  })
  const buses = [...new Set(disks.map(({ bus }) => bus))].map((bus) => ({ bus, id: nextId() }))
  const controllerItems = buses.map(({ bus, id }) =>
    plain({
      InstanceID: id,
      ElementName: controllers[bus].title,
      ResourceType: controllers[bus].type,
      ResourceSubType: controllers[bus].subType,
      Address: '0',
    }),
  )
  const diskItems = disks.map((disk, index) =>
    item(isTwo ? 'StorageItem' : 'Item', isTwo ? 'sasd' : 'rasd', {
      InstanceID: nextId(),
      ElementName: `Disk ${index + 1}, ${disk.use}`,
      Description: disk.use,
      ResourceType: resourceTypes.disk,
      HostResource: `ovf:/disk/disk${index + 1}`,
      Parent: buses.find(({ bus }) => bus === disk.bus)?.id,
      AddressOnParent: String(disks.slice(0, index).filter(({ bus }) => bus === disk.bus).length),
    }),
  )
  const adapterItems = adapters.map((adapter, index) =>
    item(isTwo ? 'EthernetPortItem' : 'Item', isTwo ? 'epasd' : 'rasd', {
      InstanceID: nextId(),
      ElementName: `Adapter ${index + 1}`,
      ResourceType: resourceTypes.ethernet,
      ResourceSubType: adapterSubTypes[adapter.model],
      Address: adapter.mac ?? undefined,
      AutomaticAllocation: String(adapter.isConnected),
      Connection: estate.find('network', adapter.networkId)?.name,
    }),
  )
  return {
    name: 'VirtualHardwareSection',
    children: [
      text('Info', 'Processors, memory and devices'),
      {
        name: 'System',
        children: [
          text('vssd:ElementName', 'Virtual hardware'),
          text('vssd:InstanceID', '0'),
          text('vssd:VirtualSystemIdentifier', guest.name),
        ],
      },
      processor,
      memory,
      ...controllerItems,
      ...diskItems,
      ...adapterItems,
    ],
  }
}

/** What the standard has no element for. A reader that does not know it may leave it out: it is not required. */
function ownSection(
  guest: Guest,
  disks: readonly Disk[],
  adapters: readonly { readonly networkId: string | null; readonly isConnected: boolean }[],
): XmlNode {
  const attributes = (of: Readonly<Record<string, unknown>>, names: readonly string[]) =>
    Object.fromEntries(
      names.flatMap((name) => {
        const value = of[name]
        return value === null || value === undefined ? [] : [[name, Array.isArray(value) ? value.join(' ') : String(value)]]
      }),
    )
  return {
    name: 'insel:GuestSection',
    attributes: { 'ovf:required': 'false', ...attributes(guest, ownGuestFields) },
    children: [
      text('Info', 'Other data of Insel'),
      ...disks.map((disk, index) => ({
        name: 'insel:Disk',
        attributes: { number: String(index + 1), ...attributes(disk as unknown as Record<string, unknown>, ownDiskFields) },
      })),
      ...adapters.map((adapter, index) => ({
        name: 'insel:Adapter',
        attributes: { number: String(index + 1), isConnected: String(adapter.isConnected) },
      })),
    ],
  }
}
