import type { EstateEdit } from '../commands/index.js'
import { CommandError, storeReach, type Guest, type Host } from '../estate/index.js'

/**
 * Checks that what is mapped by part of a guest names parts of it.
 *
 * @param records its parts
 * @throws CommandError `invalid` at the first that is not one
 */
export function checkMapped(
  map: Readonly<Record<string, string>> | null,
  records: readonly { id: string }[],
  path: string,
  what: string,
  guest: Guest,
): void {
  const stray = Object.keys(map ?? {}).find((id) => !records.some((record) => record.id === id))
  if (stray) throw new CommandError('invalid', `${stray} is no ${what} of ${guest.name}.`, `${path}.${stray}`)
}

/** @throws CommandError `not-found`, `invalid` where a host does not reach the store that a disk is to be on */
export function checkReach(edit: EstateEdit, host: Host, storeId: string | null, what: string, path: string): void {
  const store = edit.require('store', storeId ?? '', path)
  if (!storeReach(store, host))
    throw new CommandError(
      'invalid',
      `${host.name} does not reach store ${store.name}, where ${what} lies. Choose a store of ${host.name} for it.`,
      path,
    )
}
