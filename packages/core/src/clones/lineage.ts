import type { Estate, Guest } from '../estate/index.js'
import { compareNames } from '../lists/index.js'

/** A guest and the copies made of it. */
export interface Lineage {
  readonly guest: Guest
  readonly copies: readonly Lineage[]
}

/**
 * The trees of what was copied from what: each template or guest that is no copy and has copies, with them below it.
 */
export function lineages(estate: Estate): readonly Lineage[] {
  const treeOf = (guest: Guest, above: ReadonlySet<string>): Lineage => ({
    guest,
    copies: [...estate.referring('guest', 'clonedFromId', guest.id)]
      .filter((copy) => !above.has(copy.id))
      .sort((a, b) => compareNames(a.name, b.name))
      .map((copy) => treeOf(copy, new Set([...above, guest.id]))),
  })
  return estate
    .all('guest')
    .filter(
      (guest) =>
        guest.clonedFromId === null && (guest.kind === 'template' || estate.referring('guest', 'clonedFromId', guest.id).length > 0),
    )
    .sort((a, b) => compareNames(a.name, b.name))
    .map((guest) => treeOf(guest, new Set()))
}
