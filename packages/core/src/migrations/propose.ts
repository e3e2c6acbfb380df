import type { VerbCommand } from '../commands/index.js'
import { disksOf, type Estate, type Guest, type Host, storeReach } from '../estate/index.js'
import { demandOf, fitOn, type Fit } from '../placement/index.js'

/** A migration as it would be drafted, with the check in words. */
export interface MigrationProposal {
  readonly command: VerbCommand<'guest.migrate'>
  readonly fit: Fit
}

/**
 * The migration of a guest to a host: each disk that the host does not reach goes to the store with the most room
 * there; networks stay as they are.
 *
 * @returns the command and the check; where a disk finds no store the command lacks it and the core will refuse
 */
export function proposeMigration(estate: Estate, guest: Guest, host: Host): MigrationProposal {
  const disks = disksOf(estate, guest.id)
  const staying = disks.filter((disk) => {
    const store = estate.find('store', disk.storeId)
    return store !== undefined && storeReach(store, host)
  })
  const moving = disks.filter((disk) => !staying.includes(disk))
  const fit = fitOn(estate, host, { ...demandOf(estate, guest), disks: moving })
  const stores = Object.fromEntries(moving.flatMap((disk, index) => (fit.stores[index] ? [[disk.id, fit.stores[index].id]] : [])))
  return { command: { type: 'guest.migrate', guestId: guest.id, toHostId: host.id, ...(moving.length > 0 ? { stores } : {}) }, fit }
}
