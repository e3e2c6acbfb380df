import type { Adapter, Disk, Guest } from '../estate/index.js'
import type { Severity } from '../lists/index.js'

/** What a guest shows its system: its devices and their kinds. */
export interface DevicePlan {
  readonly guest: Pick<
    Guest,
    'vcpu' | 'sockets' | 'memoryMiB' | 'firmware' | 'secureBoot' | 'trustedModule' | 'machineType' | 'processorMode' | 'memoryMinMiB'
  >
  readonly disks: readonly Pick<Disk, 'use' | 'bus' | 'sizeBytes' | 'cache'>[]
  readonly adapters: readonly Pick<Adapter, 'model'>[]
}

/** The change of one device, or of the guest, that mends a remark. */
export type DeviceMend =
  | { readonly what: 'guest'; readonly changes: Partial<DevicePlan['guest']> }
  | { readonly what: 'disk'; readonly at: number; readonly changes: { readonly bus: Disk['bus'] } }
  | { readonly what: 'adapter'; readonly at: number; readonly changes: { readonly model: Adapter['model'] } }

/** One device, by its place among those of its kind, from 0. */
interface DevicePlace {
  readonly kind: 'disk' | 'adapter'
  readonly at: number
}

/** Something about the devices that will bite, with the working alternative. */
export interface DeviceRemark {
  /** Stable word for the kind of trap. */
  readonly trap:
    | 'disk-driver'
    | 'disk-driver-image'
    | 'disk-bus'
    | 'adapter-driver'
    | 'adapter-driver-image'
    | 'firmware'
    | 'trusted-module'
    | 'machine-type'
    | 'below-minimum'
    | 'below-recommended'
    | 'limit'
    | 'processor-mode'
    | 'numa'
    | 'cache'
  /** What of the guest it is about: what it is as a whole, one of its sizes, or one of its devices. With the trap it is like no other. */
  readonly of: 'guest' | 'memory' | 'least memory' | 'vcpu' | 'disks' | 'adapters' | DevicePlace
  readonly severity: Severity
  readonly sentence: string
  /** What to do. */
  readonly remedy: string
  readonly mend?: DeviceMend
}
