import { type Estate, type Guest, type System, type Template } from '../estate/index.js'
import { groupBy } from '../lists/index.js'

/** The fields of a template's version that say whether what makes a machine itself was removed. */
export type IdentityField = 'nameRemoved' | 'identityRemoved' | 'hostKeysRemoved'

/** Systems that know no machine-id(5): identity is a security identifier. As osinfo-db calls the family. */
const WITH_SECURITY_IDENTIFIER = new Set(['winnt', 'win9x', 'win16', 'msdos'])
export const hasSecurityIdentifier = (system: Pick<System, 'family'> | undefined): boolean =>
  WITH_SECURITY_IDENTIFIER.has(system?.family.toLowerCase() ?? 'linux')

/** What makes up the identity of a machine with a system; in words in `identity-parts.ts`. */
const identityFields = (system: Pick<System, 'family'> | undefined): readonly IdentityField[] =>
  hasSecurityIdentifier(system) ? ['nameRemoved', 'identityRemoved'] : ['nameRemoved', 'identityRemoved', 'hostKeysRemoved']

/** The version of a guest that is kept as a template; undefined where nobody recorded one. */
export const templateOf = (estate: Estate, guestId: string): Template | undefined => estate.referring('template', 'guestId', guestId)[0]

/** The parts of its identity that a template still has, or of which nobody knows: none where a copy starts without an identity. */
export const fieldsLeft = (template: Template | undefined, system: System | undefined): readonly IdentityField[] =>
  identityFields(system).filter((field) => template?.[field] !== 'yes')

/**
 * What tells whose identity a guest has: the same for all that share one, through copies of copies and moves.
 *
 * @returns undefined where it has none until its next boot
 */
export const identityKeyOf = ({ id, identity, identityKey }: Guest): string | undefined =>
  identity === 'removed' ? undefined : (identityKey ?? id)

/** The guests of each identity, by its key. */
export const identityClasses = (estate: Estate): ReadonlyMap<string, readonly Guest[]> => estate.derive(['guest'], classesIn)

function classesIn(estate: Estate): ReadonlyMap<string, readonly Guest[]> {
  const classes = groupBy([...estate.all('guest')], (guest) => identityKeyOf(guest) ?? '')
  classes.delete('')
  return classes
}

/** The other guests that have the identity of one. */
export function sharersOf(estate: Estate, guest: Guest): readonly Guest[] {
  const key = identityKeyOf(guest)
  return key === undefined ? [] : (identityClasses(estate).get(key) ?? []).filter(({ id }) => id !== guest.id)
}

/** Whether a guest is a copy of a batch that is still worked on. */
export const isBeingCopied = (estate: Estate, { id }: Pick<Guest, 'id'>): boolean =>
  estate.referring('copy', 'guestId', id).some(({ state }) => state !== 'in service' && state !== 'dropped')

type Identity = Pick<Guest, 'identity' | 'identityFromId' | 'identityFromName' | 'identityKey'>

/** The identity that a copy of a guest starts with: none where it was removed before, otherwise that of what it is copied from. */
export function identityOfCopy(estate: Estate, original: Guest): Identity {
  const none = { identityFromId: null, identityFromName: null, identityKey: null }
  const isRemoved =
    original.identity === 'removed' ||
    (original.kind === 'template' && fieldsLeft(templateOf(estate, original.id), estate.find('system', original.systemId)).length === 0)
  if (isRemoved) return { identity: 'removed', ...none }
  return { identity: 'copied', ...none, identityFromId: original.id, identityKey: identityKeyOf(original) ?? original.id }
}

/** A guest's identity in words. @example 'copied from tpl-server' */
export function sayIdentity(estate: Estate, { identity, identityFromId, identityFromName }: Guest): string {
  if (identity === 'removed') return 'removed: generated at its next boot'
  if (identity === 'its own') return identity
  return `copied from ${estate.find('guest', identityFromId)?.name ?? identityFromName ?? 'a machine that is not recorded any more'}`
}
