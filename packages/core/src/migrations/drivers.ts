import type { Disk, Hardware, System } from '../estate/index.js'
import { hasKernelDrivers } from '../guests/index.js'

/** Whether a bus asks for a driver that not every system has. */
export const needsDriver = (bus: Disk['bus'], system: System | undefined): boolean =>
  bus === 'paravirtual' || bus === 'NVMe' ? !hasDiskDriver(system) : false

const hasDiskDriver = (system: System | undefined): boolean =>
  system !== undefined && (system.paravirtualDisk === 'built in' || (hasKernelDrivers(system.family) && system.paravirtualDisk !== 'none'))

/** Whether a system has the driver of a paravirtual network adapter. */
export const hasNetworkDriver = (system: System | undefined): boolean =>
  system?.paravirtualNet === 'built in' || hasKernelDrivers(system?.family ?? '')

/** Whether its drivers have still to be staged. */
export const needsStaging = (hardware: Hardware | undefined, system: System | undefined): boolean =>
  hardware?.drivers !== 'staged' && !hasDiskDriver(system)
