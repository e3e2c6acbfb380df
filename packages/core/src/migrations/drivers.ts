import type { Disk, Hardware, System } from '../estate/index.js'

/** Whether a bus asks for a driver that not every system has. */
export const needsDriver = (bus: Disk['bus'], system: System | undefined): boolean =>
  bus === 'paravirtual' || bus === 'NVMe' ? !hasDiskDriver(system) : false

/** Kernels of Linux and the BSDs have had paravirtual drivers for long. Common practice, no source. */
const hasDiskDriver = (system: System | undefined): boolean =>
  system !== undefined && (system.paravirtualDisk === 'built in' || (/linux|bsd/i.test(system.family) && system.paravirtualDisk !== 'none'))

/** Whether its drivers have still to be staged. */
export const needsStaging = (hardware: Hardware | undefined, system: System | undefined): boolean =>
  hardware?.drivers !== 'staged' && !hasDiskDriver(system)
