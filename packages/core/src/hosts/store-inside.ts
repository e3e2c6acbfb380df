import type { Estate, Host, Store } from '../estate/index.js'
import { nestingOf } from './survey.js'

/** Ids of a host and of those it is nested in, at whatever depth: when one of these fails, it fails. */
export const failsWith = (estate: Estate, host: Host): ReadonlySet<string> =>
  new Set([host.id, ...nestingOf(estate, host).map(({ outer }) => outer.id)])

const isOn = (estate: Estate, hostId: string | null | undefined, failed: Host): boolean => {
  const host = estate.find('host', hostId)
  return host !== undefined && failsWith(estate, host).has(failed.id)
}

/** The guest that a store is reached by; one that is in a host needs none, unless it is for backups, which go through their server. */
export const serverOf = (estate: Estate, store: Store) =>
  store.hostId === null || store.kind === 'backup' ? estate.find('guest', store.servedById) : undefined

/**
 * The host whose failure takes both a host and a store: the store is in it, or the guest that serves the store runs there.
 *
 * @returns the host itself or the nearest one around it; undefined when they do not share one
 */
export const sharedFailure = (estate: Estate, host: Host, store: Store): Host | undefined =>
  [...failsWith(estate, host)]
    .flatMap((id) => estate.find('host', id) ?? [])
    .find((one) => isOn(estate, store.hostId, one) || isOn(estate, serverOf(estate, store)?.hostId, one))

/** The guest by which a host's failure takes a store that is not in that host itself. */
export const serverWith = (estate: Estate, store: Store, failed: Host) =>
  isOn(estate, store.hostId, failed) ? undefined : serverOf(estate, store)

/** Whether what a store holds is lost with a host: it is in it, or the disks of the guest that serves it are. */
export function isLostWith(estate: Estate, store: Store | undefined, host: Host, seen: ReadonlySet<string> = new Set()): boolean {
  if (!store || seen.has(store.id)) return false
  if (isOn(estate, store.hostId, host)) return true
  const server = estate.find('guest', store.servedById)
  if (!server) return false
  const disks = estate.referring('disk', 'guestId', server.id)
  // Nothing is recorded of its disks: they are thought to be where it runs.
  if (disks.length === 0) return isOn(estate, server.hostId, host)
  return disks.some(({ storeId }) => isLostWith(estate, estate.find('store', storeId), host, new Set([...seen, store.id])))
}
