import type { Host, Platform, System } from '../estate/index.js'
import { bySeverity } from '../lists/index.js'
import { checkAdapters } from './device-adapters.js'
import { checkBoard, checkLimits, checkMinimums } from './device-board.js'
import type { DevicePlan, DeviceRemark } from './device-remark.js'
import { checkBuses, checkDisks } from './device-storage.js'
import { checkProcessor } from './mode-reach.js'

/**
 * Checks every device of a guest against its system, the platform's limits and the host's processor, and names what works
 * instead.
 *
 * @param system the system it is to run; without one only limits are checked
 * @returns remarks, worst first
 * @see facts of the trade, guests; common practice, no source
 * @example checkDevices(plan, { ...system, paravirtualDisk: 'none' })[0]?.mend // { what: 'disk', at: 0, changes: { bus: 'SATA' } }
 */
export function checkDevices(plan: DevicePlan, system: System | undefined, platform?: Platform, host?: Host): readonly DeviceRemark[] {
  const remarks = [
    ...(system
      ? [...checkDisks(plan, system), ...checkAdapters(plan, system), ...checkBoard(plan, system), ...checkMinimums(plan, system)]
      : []),
    ...checkBuses(plan),
    ...(platform ? checkLimits(plan, platform) : []),
    ...(host ? checkProcessor(plan, host) : []),
  ]
  return remarks.sort(bySeverity)
}
