import type { Host, Store } from '../estate/index.js'

/**
 * Whether a host reaches a store: one in it, or one shared at its site. A removable or backup store without a host is
 * reached like a shared one, and from every site when it names none.
 */
export function storeReach(store: Store, host: Host): boolean {
  if (store.hostId) return store.hostId === host.id
  return store.site === null || store.site === host.site
}
