import { type Estate, type Guest, type System, type Template } from '../estate/index.js'
import { groupBy } from '../lists/index.js'

/** One thing that makes a machine itself to others. */
export interface IdentityPart {
  /** The field of a template's version that says whether it was removed. */
  readonly field: 'nameRemoved' | 'identityRemoved' | 'hostKeysRemoved'
  readonly label: string
  /** How it is removed, or generated, on the machine. */
  readonly how: string
  /** The published source, or common practice. */
  readonly source: string
}

const hostKeys: IdentityPart = {
  field: 'hostKeysRemoved',
  label: 'host keys of remote login',
  how: 'remove /etc/ssh/ssh_host_*; they are generated where they are missing',
  source: 'common practice',
}

/** Systems that know no machine-id(5): identity is a security identifier. As osinfo-db calls the family. */
const WITH_SECURITY_IDENTIFIER = new Set(['winnt', 'win9x', 'win16', 'msdos'])

/**
 * What makes up the identity of a machine with a system.
 *
 * @param system its operating system; that of most servers where it is not recorded
 * @example identityParts(debian).map(({ label }) => label) // ['machine name', 'machine-id', 'host keys of remote login']
 */
export function identityParts(system: Pick<System, 'family'> | undefined): readonly IdentityPart[] {
  if (WITH_SECURITY_IDENTIFIER.has(system?.family.toLowerCase() ?? 'linux'))
    return [
      { field: 'nameRemoved', label: 'machine name', how: 'removed by the system’s own tool', source: 'common practice' },
      {
        field: 'identityRemoved',
        label: 'security identifier',
        how: 'generalise with the system’s own tool; it is generated at the next boot',
        source: 'common practice',
      },
    ]
  return [
    { field: 'nameRemoved', label: 'machine name', how: 'empty /etc/hostname', source: 'hostname(5)' },
    {
      field: 'identityRemoved',
      label: 'machine-id',
      how: 'empty /etc/machine-id, or write “uninitialized” into it; it is generated at the next boot',
      source: 'machine-id(5)',
    },
    hostKeys,
  ]
}

/** What else a template is cleaned of before it is copied. Common practice, no source. */
export const cleaning = [
  { field: 'addressRemoved', label: 'fixed address' },
  { field: 'activationRemoved', label: 'licence activation' },
  { field: 'historyRemoved', label: 'logs and histories' },
] as const

/** The version of a guest that is kept as a template; undefined where nobody recorded one. */
export const templateOf = (estate: Estate, guestId: string): Template | undefined => estate.referring('template', 'guestId', guestId)[0]

/** The parts of its identity that a template still has, or of which nobody knows: none where a copy starts without an identity. */
export const partsLeft = (template: Template | undefined, system: System | undefined): readonly IdentityPart[] =>
  identityParts(system).filter(({ field }) => template?.[field] !== 'yes')

/**
 * What tells whose identity a guest has: the same for all that share one, through copies of copies and moves.
 *
 * @returns undefined where it has none until its next boot
 */
export const identityKeyOf = ({ id, identity, identityKey }: Guest): string | undefined =>
  identity === 'removed' ? undefined : (identityKey ?? id)

/** The guests of each identity, by its key. */
export const identityClasses = (estate: Estate): ReadonlyMap<string, readonly Guest[]> =>
  estate.derive(['guest'], (all) => {
    const classes = groupBy([...all.all('guest')], (guest) => identityKeyOf(guest) ?? '')
    classes.delete('')
    return classes
  })

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
    (original.kind === 'template' && partsLeft(templateOf(estate, original.id), estate.find('system', original.systemId)).length === 0)
  if (isRemoved) return { identity: 'removed', ...none }
  return { identity: 'copied', ...none, identityFromId: original.id, identityKey: identityKeyOf(original) ?? original.id }
}

/** A guest's identity in words. @example 'copied from tpl-server' */
export function sayIdentity(estate: Estate, { identity, identityFromId, identityFromName }: Guest): string {
  if (identity === 'removed') return 'removed: generated at its next boot'
  if (identity === 'its own') return identity
  return `copied from ${estate.find('guest', identityFromId)?.name ?? identityFromName ?? 'a machine that is not recorded any more'}`
}
