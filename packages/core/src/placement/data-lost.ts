import { machinesOn, type Estate, type Guest, type Host } from '../estate/index.js'
import { isLostWith } from '../hosts/index.js'

/**
 * Running guests of a host whose disks are in it alone, with no backup outside it: wherever they find a place, their data
 * would be gone with the host.
 */
export function guestsWithoutCopy(estate: Estate, host: Host): readonly Guest[] {
  return machinesOn(estate, host.id).filter((guest) => {
    if (guest.state !== 'running') return false
    const isLost = estate
      .referring('disk', 'guestId', guest.id)
      .some((disk) => isLostWith(estate, estate.find('store', disk.storeId), host))
    const backup = estate.find('store', guest.backupStoreId)
    return isLost && (!backup || isLostWith(estate, backup, host))
  })
}
