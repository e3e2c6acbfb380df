import type { Estate, Host, Store } from '../estate/index.js'

/**
 * Whether a host reaches a store: one in it, or one shared at its site. A removable or backup store without a host is
 * reached like a shared one, and from every site when it names none.
 */
export function storeReach(store: Store, host: Host): boolean {
  if (store.hostId) return store.hostId === host.id
  return store.site === null || store.site === host.site
}

/** Stores that may be chosen for a guest's disk on a host: those it reaches, without the ones kept for backups. */
export const choosableStores = (estate: Estate, host: Host): readonly Store[] =>
  estate.all('store').filter((store) => store.kind !== 'backup' && storeReach(store, host))
