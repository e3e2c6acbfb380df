import { has, isObject, numberIn, objectIn, objectsIn, present, textIn, type JsonObject } from '../formats/index.js'
import { clockIn, macOf } from './tools.js'
import type { FoundDrive, FoundModule, FoundPart, FoundPort } from './found.js'

/** Resources of a management controller by their path, as they were read. @see Redfish, DMTF DSP0266 */
export interface RedfishTree {
  readonly redfish: Readonly<Record<string, unknown>>
}

export const isRedfishTree = (value: unknown): value is RedfishTree => isObject(value) && isObject(value['redfish'])

/** A system that a controller manages. */
export interface RedfishSystem {
  readonly path: string
  readonly name: string
  readonly model: string | undefined
}

const trimmed = (path: string) => path.replace(/\/$/, '')

/** Looks resources up by their path, with or without the slash at the end. */
function reader(tree: RedfishTree) {
  const resources = new Map(Object.entries(tree.redfish).map(([path, resource]) => [trimmed(path), resource]))
  const at = (path: string | undefined): JsonObject | undefined => {
    const resource = path === undefined ? undefined : resources.get(trimmed(path))
    return isObject(resource) ? resource : undefined
  }
  const link = (of: JsonObject | undefined, name: string) => at(of && textIn(objectIn(of, name) ?? {}, '@odata.id'))
  const members = (of: JsonObject | undefined, name = 'Members'): readonly JsonObject[] =>
    (of ? objectsIn(of, name) : []).map((one) => at(textIn(one, '@odata.id'))).filter((one) => one !== undefined)
  return { at, link, members }
}

/** The systems in a tree. */
export function redfishSystems(tree: RedfishTree): readonly RedfishSystem[] {
  const { at, link, members } = reader(tree)
  return members(link(at('/redfish/v1'), 'Systems')).map((system) => ({
    path: textIn(system, '@odata.id') ?? '',
    name: textIn(system, 'HostName') ?? textIn(system, 'Name') ?? textIn(system, 'Id') ?? '',
    model: [textIn(system, 'Manufacturer'), textIn(system, 'Model')].filter(Boolean).join(' ') || undefined,
  }))
}

const isThere = (resource: JsonObject) => textIn(objectIn(resource, 'Status') ?? {}, 'State') !== 'Absent'

/**
 * What a controller says of one system. Flags of the processor are not among it.
 *
 * @param path the system's path; the first one when left out
 */
export function readRedfish(tree: RedfishTree, path = redfishSystems(tree)[0]?.path): FoundPart {
  const { at, link, members } = reader(tree)
  const system = at(path)
  if (!system) return {}
  const processors = members(link(system, 'Processors')).filter((one) => isThere(one) && (textIn(one, 'ProcessorType') ?? 'CPU') === 'CPU')
  const first = processors[0]
  const [cores, threads] = [first && numberIn(first, 'TotalCores'), first && numberIn(first, 'TotalThreads')]
  const slots = members(link(system, 'Memory'))
  const boot = objectIn(system, 'Boot')
  const mode = boot && textIn(boot, 'BootSourceOverrideMode')
  const secure = link(system, 'SecureBoot')
  const secureNow = secure && textIn(secure, 'SecureBootCurrentBoot')
  const chassis = members(objectIn(system, 'Links'), 'Chassis')[0]
  const power = link(chassis, 'Power')
  const watts = power && objectsIn(power, 'PowerControl').flatMap((one) => numberIn(one, 'PowerConsumedWatts') ?? [])[0]
  return present({
    name: textIn(system, 'HostName'),
    model: [textIn(system, 'Manufacturer'), textIn(system, 'Model')].filter(Boolean).join(' ') || undefined,
    processorModel: first && textIn(first, 'Model'),
    sockets: processors.length > 0 ? processors.length : undefined,
    coresPerSocket: cores,
    threadsPerCore: cores && threads ? Math.round(threads / cores) : undefined,
    // MaxSpeedMHz is the turbo clock (DMTF DSP0268, Processor): the base clock has its own field, or stands in the name.
    clockMHz: first && (numberIn(first, 'BaseSpeedMHz') ?? clockIn(textIn(first, 'Model'))),
    memorySlots: slots.length > 0 ? slots.length : undefined,
    modules: slots.flatMap((slot, index): FoundModule[] => {
      const size = numberIn(slot, 'CapacityMiB')
      return size && isThere(slot) ? [present({ slot: index + 1, sizeMiB: size, speedMTs: numberIn(slot, 'OperatingSpeedMhz') })] : []
    }),
    firmware: mode === 'UEFI' ? ('UEFI' as const) : mode === 'Legacy' ? ('BIOS' as const) : undefined,
    secureBoot: secureNow === 'Enabled' ? ('on' as const) : secureNow === 'Disabled' ? ('off' as const) : undefined,
    drawWatts: watts === undefined ? undefined : Math.round(watts),
    drives: members(link(system, 'Storage')).flatMap((storage) =>
      members(storage, 'Drives').flatMap((drive): FoundDrive[] => {
        const bytes = numberIn(drive, 'CapacityBytes')
        if (!bytes || !isThere(drive)) return []
        const [type, protocol] = [textIn(drive, 'MediaType'), textIn(drive, 'Protocol')]
        return [
          present({
            name: textIn(drive, 'Id') ?? textIn(drive, 'Name') ?? 'drive',
            bytes,
            model: textIn(drive, 'Model'),
            serial: textIn(drive, 'SerialNumber'),
            kind:
              protocol === 'NVMe'
                ? ('NVMe' as const)
                : type === 'HDD'
                  ? ('hard disk' as const)
                  : type === 'SSD'
                    ? ('solid state' as const)
                    : undefined,
          }),
        ]
      }),
    ),
    ports: members(link(system, 'EthernetInterfaces')).map((port, index): FoundPort => {
      const status = textIn(port, 'LinkStatus')
      return present({
        name: textIn(port, 'Id') ?? `port-${index + 1}`,
        mac: macOf(textIn(port, 'PermanentMACAddress') ?? textIn(port, 'MACAddress')),
        speedMbps: numberIn(port, 'SpeedMbps'),
        hasLink: status === undefined ? undefined : status === 'LinkUp',
      })
    }),
  })
}

/** Paths that a resource links to: what a reader of the tree fetches next. */
export function linksOf(resource: unknown): readonly string[] {
  const paths = new Set<string>()
  const walk = (value: unknown, depth: number) => {
    if (depth > 12) return
    if (Array.isArray(value)) value.forEach((one) => walk(one, depth + 1))
    else if (isObject(value)) {
      if (has(value, '@odata.id')) {
        const path = textIn(value, '@odata.id')
        if (path && /^\/redfish\/v1(\/|$)/.test(path)) paths.add(trimmed(path.split('#')[0] ?? ''))
      }
      for (const [name, one] of Object.entries(value)) if (name !== '@odata.id') walk(one, depth + 1)
    }
  }
  walk(resource, 0)
  return [...paths]
}

/** Branches that say nothing about a machine's hardware and would cost minutes on a slow controller. */
export const isWorthReading = (path: string): boolean =>
  !/\/(LogServices|EventService|SessionService|AccountService|TaskService|JsonSchemas|Registries|CertificateService|UpdateService|TelemetryService|Bios|BootOptions|Actions)(\/|$)/.test(
    path,
  )
