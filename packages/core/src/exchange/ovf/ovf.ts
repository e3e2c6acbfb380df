import { type Adapter, chosenFields, type Disk, type NewRecord } from '../../estate/index.js'
import type { OvfLimits } from './deployment.js'

/** Versions of the descriptor that are written and read. */
export const ovfVersions = ['1.1', '2.x'] as const
export type OvfVersion = (typeof ovfVersions)[number]

/** A disk as a descriptor says it. */
export interface OvfDisk {
  readonly use: string
  readonly sizeBytes: number
  readonly bus: Disk['bus']
  /** The file its content is in, where the package has one. */
  readonly file: string | null
  readonly more: Partial<Pick<NewRecord<'disk'>, 'provisioning' | 'cache' | 'bootOrder' | 'expectedBytes' | 'growthBytesPerMonth'>>
}
/** An adapter as a descriptor says it. */
export interface OvfAdapter {
  /** The network as the descriptor calls it; undefined where it is not plugged in. */
  readonly network: string | undefined
  readonly mac: string | null
  readonly model: Adapter['model']
  readonly isConnected: boolean
}

/** Fields of a guest that the standard has no element for; they go in Insel's own section. */
export const ownGuestFields = chosenFields('guest')(
  [
    'kind',
    'purpose',
    'workload',
    'latency',
    'sockets',
    'processorMode',
    'memoryMinMiB',
    'firmware',
    'secureBoot',
    'trustedModule',
    'machineType',
    'bootFirst',
    'installer',
    'packages',
    'locale',
    'group',
    'owner',
    'contact',
    'criticality',
    'isRouter',
    'tags',
  ],
  [
    // The standard has elements for these.
    'name',
    'vcpu',
    'memoryMiB',
    'systemId',
    'note',
    // It is of this estate, and means nothing in another.
    'hostId',
    'state',
    'verifiedAt',
    'mediumId',
    'mediumConnected',
    'apartFromId',
    'clonedFromId',
    'clonedVersion',
    // What is read from a file is another machine until somebody says whose identity it has.
    'identity',
    'identityFromId',
    'identityFromName',
    'identityKey',
    'backupStoreId',
    'patchedOn',
  ],
)
type OwnGuestField = (typeof ownGuestFields)[number]
export const ownDiskFields = chosenFields('disk')(
  ['provisioning', 'cache', 'bootOrder', 'expectedBytes', 'growthBytesPerMonth'],
  ['guestId', 'position', 'use', 'sizeBytes', 'usedBytes', 'bus', 'storeId'],
)

/** A virtual system of a descriptor, as a draft of a guest. */
export interface OvfSystem {
  readonly name: string
  readonly vcpu: number
  readonly memoryMiB: number
  readonly note: string
  /** What its operating system is called there. */
  readonly system: string | undefined
  readonly disks: readonly OvfDisk[]
  readonly adapters: readonly OvfAdapter[]
  /** What the descriptor allows of each. */
  readonly limits: { readonly vcpu: OvfLimits; readonly memoryMiB: OvfLimits }
  /** What was left out or taken for something else, a sentence each. */
  readonly remarks: readonly string[]
  /** Why the standard has a deployment of it refused: sections it requires that are not known here. */
  readonly refusals: readonly string[]
  readonly more: Partial<Pick<NewRecord<'guest'>, OwnGuestField>>
}

/** The namespaces of both versions. */
export const namespaces = {
  '1.1': 'http://schemas.dmtf.org/ovf/envelope/1',
  '2.x': 'http://schemas.dmtf.org/ovf/envelope/2',
  own: 'urn:insel:ovf:1',
} as const

/** Numbers of CIM_ResourceAllocationSettingData.ResourceType. @see DMTF DSP0243, CIM schema */
export const resourceTypes = {
  processor: '3',
  memory: '4',
  ide: '5',
  scsi: '6',
  ethernet: '10',
  cd: '15',
  disk: '17',
  otherStorage: '20',
} as const
