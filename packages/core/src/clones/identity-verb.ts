import { defineVerb, newIdField, type EstateEdit } from '../commands/index.js'
import { choice, CommandError, derivedId, identities, kinds, optional, ref, text, type Guest } from '../estate/index.js'
import { checkReach } from '../guests/index.js'
import { identityKeyOf, templateOf } from './identity.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'guest.identity': typeof setIdentity
    'template.renew': typeof renewTemplate
  }
}

const setIdentity = defineVerb({
  doc: 'Records whose identity a guest has: its own, none until its next boot, or that of another.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest.' }),
    identity: choice(identities, { label: 'Identity', doc: 'Whose it is.' }),
    fromId: optional(ref('guest', { label: 'Copied from', doc: 'For a copied one, the machine it is of.' })),
  },
  /** @throws CommandError `invalid` where it is copied from nothing, from itself, or from a guest without an identity */
  does(edit, { guestId, identity, fromId }) {
    const guest = edit.require('guest', guestId, 'guestId')
    if ((identity === 'copied') !== (fromId !== null))
      throw new CommandError('invalid', 'A copied identity, and no other, names the machine it is copied from.', 'fromId')
    const from = fromId ? edit.require('guest', fromId, 'fromId') : undefined
    if (from?.id === guest.id) throw new CommandError('invalid', `${guest.name} cannot have its identity from itself.`, 'fromId')
    if (from?.identity === 'removed')
      throw new CommandError('invalid', `${from.name} has no identity until its next boot, so there is none to copy.`, 'fromId')
    giveIdentity(edit, guest, identity, from)
  },
  words: ({ guestId, identity, fromId }, { nameOf }) =>
    `Record the identity of ${nameOf('guest', guestId)} as ${identity}${fromId ? ` from ${nameOf('guest', fromId)}` : ''}`,
})

/** Gives a guest an identity: one of its own is new, so that it shares it with none. */
export function giveIdentity(edit: EstateEdit, guest: Guest, identity: Guest['identity'], from?: Guest): void {
  const before = identityKeyOf(guest) ?? guest.id
  edit.update(
    'guest',
    guest.id,
    {
      identity,
      identityFromId: from?.id ?? null,
      identityFromName: null,
      identityKey:
        identity === 'removed' ? null : from ? (identityKeyOf(from) ?? from.id) : derivedId(guest.id, `${before} ${edit.context.revision}`),
    },
    '',
  )
}

const renewTemplate = defineVerb({
  doc: 'Makes a new version of a template, as a copy that is worked on and supersedes it; nothing is known of how that is prepared yet.',
  fields: {
    guestId: ref('guest', { label: 'Template', doc: 'The template to make a newer version of.' }),
    id: newIdField('template'),
    name: text({ label: 'Name', doc: 'The new template’s name.', shape: 'name' }),
    version: kinds.template.fields.version,
  },
  /** @throws CommandError `not-found`, `not-allowed`, `invalid` */
  does(edit, { guestId, id, name, version }) {
    const old = edit.require('guest', guestId, 'guestId')
    if (old.kind !== 'template') throw new CommandError('not-allowed', `${old.name} is not a template; record it as one first.`, 'guestId')
    const host = edit.require('host', old.hostId ?? '', 'guestId')
    const disks = edit.estate.referring('disk', 'guestId', old.id)
    const made = edit.copy('guest', old, { ...(id ? { id } : {}), name, clonedFromId: old.id, state: 'stopped', apartFromId: null }, '')
    for (const disk of disks) {
      checkReach(edit, host, disk.storeId, `disk ${disk.position} (${disk.use})`, 'guestId')
      edit.copy('disk', disk, { id: derivedId(made.id, disk.id), guestId: made.id }, '')
    }
    for (const adapter of edit.estate.referring('adapter', 'guestId', old.id))
      edit.copy('adapter', adapter, { id: derivedId(made.id, adapter.id), guestId: made.id, mac: null }, '')
    const before = templateOf(edit.estate, old.id)
    edit.add(
      'template',
      {
        id: derivedId(made.id, 'template'),
        guestId: made.id,
        version,
        supersedesId: old.id,
        patchedOn: before?.patchedOn ?? null,
        installed: before?.installed ?? null,
      },
      '',
    )
  },
  words: ({ guestId, version }, { nameOf }) => `Begin version ${version} of ${nameOf('guest', guestId)}`,
})

/** What is done about identities and versions of templates. */
export const identityVerbs = { 'guest.identity': setIdentity, 'template.renew': renewTemplate }
