import { type Adapter, adaptersOf, type Disk, disksOf, type Estate, type Guest } from '../estate/index.js'
import type { DevicePlan } from './device-remark.js'

/** The devices of a recorded guest. */
export const devicePlanOf = (
  estate: Estate,
  guest: Guest,
): Pick<DevicePlan, 'guest'> & { readonly disks: readonly Disk[]; readonly adapters: readonly Adapter[] } => ({
  guest,
  disks: disksOf(estate, guest.id),
  adapters: adaptersOf(estate, guest.id),
})
