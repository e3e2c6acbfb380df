import type { System, Template } from '../estate/index.js'
import { fieldsLeft, hasSecurityIdentifier, type IdentityField } from './identity.js'

/** One thing that makes a machine itself to others. */
export interface IdentityPart {
  /** The field of a template's version that says whether it was removed. */
  readonly field: IdentityField
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

/**
 * What makes up the identity of a machine with a system.
 *
 * @param system its operating system; that of most servers where it is not recorded
 * @example identityParts(debian).map(({ label }) => label) // ['machine name', 'machine-id', 'host keys of remote login']
 */
export function identityParts(system: Pick<System, 'family'> | undefined): readonly IdentityPart[] {
  if (hasSecurityIdentifier(system))
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

/** The parts of its identity that a template still has, or of which nobody knows, in words. */
export function partsLeft(template: Template | undefined, system: System | undefined): readonly IdentityPart[] {
  const left = fieldsLeft(template, system)
  return identityParts(system).filter(({ field }) => left.includes(field))
}
