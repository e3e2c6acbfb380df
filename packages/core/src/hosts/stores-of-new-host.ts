import type { Command, IdMaker } from '../commands/index.js'
import type { Estate } from '../estate/index.js'

/** A store’s name has 63 characters at most: so many are the host’s. */
const NAME_MAX = 50

/**
 * The commands that record the stores of a host that is recorded now, each called by the host and its number.
 *
 * @param sizes capacity of each, bytes
 * @example storesOfNewHost(estate, { id, name: 'kittiwake' }, [4e12], ids) // adds the store kittiwake-1
 */
export const storesOfNewHost = (
  estate: Estate,
  host: { readonly id: string; readonly name: string },
  sizes: readonly number[],
  ids: IdMaker,
): readonly Command[] =>
  sizes.map((capacityBytes, index) => {
    const base = `${host.name.slice(0, NAME_MAX)}-${index + 1}`
    const isTaken = estate.byKey('store', { name: base }).length > 0
    return { type: 'store.add', record: { id: ids.newId(), name: isTaken ? `${base}-store` : base, hostId: host.id, capacityBytes } }
  })
