import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'

/** What the stand-in asks for; a real controller would have its own. */
export const STAND_IN_USER = 'reader'
export const STAND_IN_PASSWORD = 'stand-in'

/** One invented server behind the controller. */
interface InventedServer {
  readonly id: string
  readonly hostName: string
  readonly model: string
  readonly serial: string
  readonly processors: number
  readonly processorModel: string
  readonly cores: number
  /** MiB in each slot; null for an empty one. */
  readonly slots: readonly (number | null)[]
  readonly drives: readonly {
    readonly bytes: number
    readonly model: string
    readonly serial: string
    readonly protocol: 'SATA' | 'NVMe'
    readonly media: 'SSD' | 'HDD'
  }[]
  readonly ports: readonly { readonly id: string; readonly mac: string; readonly mbps: number; readonly isUp: boolean }[]
  readonly watts: number
}

const servers: readonly InventedServer[] = [
  {
    id: 'bay-1',
    hostName: 'kittiwake',
    model: 'Skua R2',
    serial: 'HS-0107',
    processors: 2,
    processorModel: 'Holm 16-core, 2.4 GHz',
    cores: 16,
    // One module of the four that were ordered is not seated: the machine shows 96 GiB.
    slots: [32768, null, 32768, null, 32768, null, null, null],
    drives: [
      { bytes: 480103981056, model: 'Kelp 480', serial: 'K480-2201', protocol: 'SATA', media: 'SSD' },
      { bytes: 480103981056, model: 'Kelp 480', serial: 'K480-2202', protocol: 'SATA', media: 'SSD' },
      { bytes: 3840755982336, model: 'Dulse 3840', serial: 'D384-0901', protocol: 'NVMe', media: 'SSD' },
      { bytes: 3840755982336, model: 'Dulse 3840', serial: 'D384-0902', protocol: 'NVMe', media: 'SSD' },
      { bytes: 8001563222016, model: 'Tangle 8T', serial: 'T8T-0500', protocol: 'SATA', media: 'HDD' },
      { bytes: 8001563222016, model: 'Tangle 8T', serial: 'T8T-0501', protocol: 'SATA', media: 'HDD' },
      { bytes: 8001563222016, model: 'Tangle 8T', serial: 'T8T-0599', protocol: 'SATA', media: 'HDD' },
    ],
    ports: [
      { id: 'eno1', mac: '02:4b:60:00:00:01', mbps: 1000, isUp: true },
      { id: 'eno2', mac: '02:4b:60:00:00:02', mbps: 1000, isUp: false },
      { id: 'ens1f0', mac: '02:4b:60:00:00:11', mbps: 10000, isUp: true },
      { id: 'ens1f1', mac: '02:4b:60:00:00:12', mbps: 10000, isUp: true },
    ],
    watts: 287,
  },
  {
    id: 'bay-2',
    hostName: 'guillemot',
    model: 'Skua R1',
    serial: 'HS-0033',
    processors: 1,
    processorModel: 'Holm 8-core, 2.1 GHz',
    cores: 8,
    slots: [16384, 16384, null, null],
    drives: [{ bytes: 960197124096, model: 'Kelp 960', serial: 'K960-0007', protocol: 'SATA', media: 'SSD' }],
    ports: [{ id: 'eno1', mac: '02:4b:60:00:01:01', mbps: 1000, isUp: true }],
    watts: 118,
  },
]

const link = (path: string) => ({ '@odata.id': path })
const collection = (path: string, name: string, members: readonly string[]) => ({
  '@odata.id': path,
  Name: name,
  'Members@odata.count': members.length,
  Members: members.map((id) => link(`${path}/${id}`)),
})

/** The whole tree by path, written by the published schemas. @see Redfish, DMTF DSP0266 and DSP8010 */
function tree(): ReadonlyMap<string, object> {
  const resources: [string, object][] = [
    [
      '/redfish/v1',
      {
        '@odata.id': '/redfish/v1',
        '@odata.type': '#ServiceRoot.v1_15_0.ServiceRoot',
        Id: 'RootService',
        Name: 'Stand-in for a management controller',
        RedfishVersion: '1.17.0',
        Systems: link('/redfish/v1/Systems'),
        Chassis: link('/redfish/v1/Chassis'),
        SessionService: link('/redfish/v1/SessionService'),
      },
    ],
    [
      '/redfish/v1/Systems',
      collection(
        '/redfish/v1/Systems',
        'Systems',
        servers.map(({ id }) => id),
      ),
    ],
    [
      '/redfish/v1/Chassis',
      collection(
        '/redfish/v1/Chassis',
        'Chassis',
        servers.map(({ id }) => id),
      ),
    ],
  ]
  for (const server of servers) {
    const system = `/redfish/v1/Systems/${server.id}`
    const chassis = `/redfish/v1/Chassis/${server.id}`
    resources.push(
      [
        system,
        {
          '@odata.id': system,
          '@odata.type': '#ComputerSystem.v1_20_1.ComputerSystem',
          Id: server.id,
          Name: server.hostName,
          HostName: server.hostName,
          Manufacturer: 'Holm & Sons',
          Model: server.model,
          SerialNumber: server.serial,
          PowerState: 'On',
          Boot: { BootSourceOverrideMode: 'UEFI', BootSourceOverrideEnabled: 'Disabled' },
          ProcessorSummary: { Count: server.processors, Model: server.processorModel },
          MemorySummary: { TotalSystemMemoryGiB: server.slots.reduce<number>((sum, size) => sum + (size ?? 0), 0) / 1024 },
          Processors: link(`${system}/Processors`),
          Memory: link(`${system}/Memory`),
          Storage: link(`${system}/Storage`),
          EthernetInterfaces: link(`${system}/EthernetInterfaces`),
          SecureBoot: link(`${system}/SecureBoot`),
          Links: { Chassis: [link(chassis)] },
        },
      ],
      [`${system}/SecureBoot`, { '@odata.id': `${system}/SecureBoot`, SecureBootCurrentBoot: 'Disabled', SecureBootEnable: false }],
      [chassis, { '@odata.id': chassis, Id: server.id, ChassisType: 'RackMount', Power: link(`${chassis}/Power`) }],
      [`${chassis}/Power`, { '@odata.id': `${chassis}/Power`, PowerControl: [{ MemberId: '0', PowerConsumedWatts: server.watts }] }],
    )
    const list = (name: string, members: readonly (readonly [id: string, body: object])[]) => {
      resources.push([
        `${system}/${name}`,
        collection(
          `${system}/${name}`,
          name,
          members.map(([id]) => id),
        ),
      ])
      for (const [id, body] of members)
        resources.push([`${system}/${name}/${id}`, { '@odata.id': `${system}/${name}/${id}`, Id: id, ...body }])
    }
    list(
      'Processors',
      Array.from({ length: server.processors }, (_, index) => [
        `CPU${index + 1}`,
        {
          ProcessorType: 'CPU',
          Model: server.processorModel,
          TotalCores: server.cores,
          TotalThreads: server.cores * 2,
          Status: { State: 'Enabled' },
        },
      ]),
    )
    list(
      'Memory',
      server.slots.map((size, index) => [
        `DIMM${index + 1}`,
        size === null
          ? { Name: `Slot ${index + 1}`, Status: { State: 'Absent' } }
          : { Name: `Slot ${index + 1}`, CapacityMiB: size, OperatingSpeedMhz: 3200, Status: { State: 'Enabled', Health: 'OK' } },
      ]),
    )
    list('Storage', [['1', { Name: 'Drives', Drives: server.drives.map((_, index) => link(`${system}/Storage/1/Drives/${index}`)) }]])
    server.drives.forEach(({ bytes, model, serial, protocol, media }, index) =>
      resources.push([
        `${system}/Storage/1/Drives/${index}`,
        {
          '@odata.id': `${system}/Storage/1/Drives/${index}`,
          Id: String(index),
          CapacityBytes: bytes,
          Model: model,
          SerialNumber: serial,
          Protocol: protocol,
          MediaType: media,
        },
      ]),
    )
    list(
      'EthernetInterfaces',
      server.ports.map(({ id, mac, mbps, isUp }) => [
        id,
        { MACAddress: mac.toUpperCase(), SpeedMbps: mbps, LinkStatus: isUp ? 'LinkUp' : 'LinkDown' },
      ]),
    )
  }
  return new Map(resources)
}

/** A running stand-in. */
export interface StandIn {
  readonly url: string
  stop(): Promise<void>
}

/**
 * A small stand-in for a management controller with two invented servers, on loopback. It answers GET only, and asks for
 * user and password as a real one does.
 *
 * @param port 0 for a free one
 */
export async function startRedfishStandIn(port = 0): Promise<StandIn> {
  const resources = tree()
  const authorization = `Basic ${Buffer.from(`${STAND_IN_USER}:${STAND_IN_PASSWORD}`).toString('base64')}`
  const server = createServer((request, response) => {
    const path = (request.url ?? '').split('?')[0]?.replace(/\/$/, '') ?? ''
    const send = (status: number, body: object) => {
      response.writeHead(status, { 'content-type': 'application/json', 'odata-version': '4.0' })
      response.end(JSON.stringify(body))
    }
    const refuse = (status: number, message: string) => send(status, { error: { code: 'Base.1.17.GeneralError', message } })
    if (request.method !== 'GET') refuse(405, 'The stand-in only answers GET.')
    else if (path !== '/redfish/v1' && request.headers.authorization !== authorization) refuse(401, 'Name user and password.')
    else {
      const resource = resources.get(path)
      if (resource) send(200, resource)
      else refuse(404, `There is no resource ${path}.`)
    }
  })
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => resolve())
  })
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    stop: () =>
      new Promise((resolve) => {
        server.close(() => resolve())
        server.closeAllConnections()
      }),
  }
}
