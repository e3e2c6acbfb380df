import type { Adapter, Disk, Estate, Guest } from '../estate/index.js'
import { disksOf } from '../placement/index.js'
import type { DevicePlan } from './devices.js'

/** The devices of a recorded guest. */
export const devicePlanOf = (
  estate: Estate,
  guest: Guest,
): Pick<DevicePlan, 'guest'> & { readonly disks: readonly Disk[]; readonly adapters: readonly Adapter[] } => ({
  guest,
  disks: disksOf(estate, guest.id),
  adapters: [...estate.referring('adapter', 'guestId', guest.id)].sort((a, b) => a.position - b.position),
})
