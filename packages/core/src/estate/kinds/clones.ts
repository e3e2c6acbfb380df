import { defineKind } from '../define-kind.js'
import { choice, commands, integer, note, optional, ref, text, type Wording } from '../field.js'

const wasRemoved = (named: Wording) => choice(['unknown', 'yes', 'no'], { ...named, default: 'unknown' })

export const templateKind = defineKind({
  name: 'template',
  label: 'template version',
  plural: 'template versions',
  doc: 'What a guest that is kept as a template is: its version, what is in it, and how it was prepared.',
  fields: {
    guestId: ref('guest', { label: 'Template', doc: 'The guest that is kept to be cloned.' }),
    version: text({ label: 'Version', doc: 'What this version is called, such as 12 or 2027-01.', max: 60 }),
    supersedesId: optional(ref('guest', { label: 'Supersedes', doc: 'The template of which this is a newer version.' })),
    supersedesName: optional(text({ label: 'Supersedes, as it was called', doc: 'Kept when that template is removed.' })),
    withdrawnOn: optional(text({ label: 'Withdrawn', doc: 'Since when no copies are made of it.', shape: 'date' })),
    withdrawnFor: optional(text({ label: 'Withdrawn for', doc: 'Why, in a few words.', max: 200 })),
    patchedOn: optional(text({ label: 'Last patched', doc: 'When updates were installed in it.', shape: 'date' })),
    installed: optional(text({ label: 'What is installed', doc: 'Roles, packages and settings that every copy has.', max: 400 })),
    nameRemoved: wasRemoved({ label: 'Machine name removed', doc: 'Whether a copy starts without the template’s name.' }),
    identityRemoved: wasRemoved({
      label: 'Machine identity removed',
      doc: 'Whether machine-id or the security identifier is generated in a copy.',
    }),
    hostKeysRemoved: wasRemoved({ label: 'Host keys removed', doc: 'Whether the keys of remote login are generated in a copy.' }),
    addressRemoved: wasRemoved({ label: 'Fixed address removed', doc: 'Whether a copy starts without the template’s address.' }),
    activationRemoved: wasRemoved({ label: 'Licence activation removed', doc: 'Whether a copy has to be activated by itself.' }),
    historyRemoved: wasRemoved({ label: 'Logs and histories removed', doc: 'Whether logs, shell histories and mail queues were emptied.' }),
    note: note(),
  },
  keys: [{ fields: ['guestId'], unique: true }],
  partOf: ['guestId'],
  remembers: { supersedesId: 'supersedesName' },
})

/** How copies come to an identity of their own. */
export const cloneSchools = ['template generalised', 'isolated first boot'] as const

export const batchKind = defineKind({
  name: 'batch',
  label: 'batch',
  plural: 'batches',
  doc: 'Copies made of one template in one go, followed from begin to the last one in service.',
  fields: {
    name: text({ label: 'Name', doc: 'What it is called.' }),
    templateId: optional(ref('guest', { label: 'Template', doc: 'What is copied; empty once it is removed.' })),
    templateName: optional(text({ label: 'Template, as it was called', doc: 'Kept when the template is removed.' })),
    version: optional(text({ label: 'Version', doc: 'The version of the template that was copied.', max: 60 })),
    school: choice(cloneSchools, {
      label: 'Identity',
      doc: 'The template was generalised once, or each copy is generalised on an isolated first boot.',
      default: 'template generalised',
    }),
    itemId: optional(ref('item', { label: 'Item', doc: 'The item of a plan that it was begun by.' })),
    itemTitle: optional(text({ label: 'Item, as it was called', doc: 'Kept when the item is removed.', max: 200 })),
    ownerId: optional(ref('person', { label: 'Owner', doc: 'Who answers for it.' })),
    startedAt: text({ label: 'Started', doc: 'When it was begun.', shape: 'instant' }),
    endedAt: optional(text({ label: 'Ended', doc: 'When the last copy was in service or dropped.', shape: 'instant' })),
    note: note(),
  },
  keys: [],
  remembers: { templateId: 'templateName', itemId: 'itemTitle' },
  byVerbs: { actions: ['add'], fields: ['templateId', 'templateName', 'version', 'school', 'itemId', 'itemTitle', 'startedAt', 'endedAt'] },
})

export const copyKind = defineKind({
  name: 'copy',
  label: 'copy',
  plural: 'copies',
  doc: 'One copy of a batch, and how far it is.',
  fields: {
    batchId: ref('batch', { label: 'Batch', doc: 'The batch it belongs to.' }),
    position: integer({ label: 'Number', doc: 'Order in the batch, from 1.', unit: '', min: 1, max: 10_000 }),
    guestId: optional(ref('guest', { label: 'Guest', doc: 'The copy itself; empty once it is dropped.' })),
    guestName: optional(text({ label: 'Guest, as it was called', doc: 'Kept when the copy is dropped.' })),
    made: commands({ label: 'Made by', doc: 'The command that made it, for another in its place.' }),
    state: choice(['planned', 'under way', 'failed', 'in service', 'dropped'], {
      label: 'State',
      doc: 'How far it is.',
      default: 'planned',
    }),
    begunAt: optional(text({ label: 'Begun', doc: 'When its copying began.', shape: 'instant' })),
    endedAt: optional(text({ label: 'Ended', doc: 'When it was in service, or dropped.', shape: 'instant' })),
    reason: optional(text({ label: 'Reason', doc: 'What failed, or why it was dropped.', max: 400 })),
    note: note(),
  },
  keys: [{ fields: ['batchId', 'position'], unique: true }],
  partOf: ['batchId'],
  remembers: { guestId: 'guestName' },
  byVerbs: {
    actions: ['add', 'remove'],
    fields: ['batchId', 'position', 'guestId', 'guestName', 'made', 'state', 'begunAt', 'endedAt', 'reason'],
  },
})
