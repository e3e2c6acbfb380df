import { defineKind } from '../define-kind.js'
import { bool, choice, commands, difference, integer, note, optional, orderKey, real, ref, refs, text } from '../field.js'

export const planKind = defineKind({
  name: 'plan',
  label: 'plan',
  plural: 'plans',
  doc: 'A named, ordered list of items that may be carried out.',
  fields: {
    name: text({ label: 'Name', doc: 'What is set out to be done.' }),
    state: choice(['draft', 'agreed', 'under way', 'done', 'dropped'], {
      label: 'State',
      doc: 'How far it is; follows from what is done with it.',
      default: 'draft',
    }),
    ownerId: optional(ref('person', { label: 'Owner', doc: 'Who answers for it.' })),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
  byVerbs: { fields: ['state'] },
})

/** What an item of a plan is. */
export const itemKinds = ['change', 'move', 'copies', 'task'] as const

export const itemKind = defineKind({
  name: 'item',
  label: 'item',
  plural: 'items',
  doc: 'One piece of a plan: commands to apply, a move, copies, or a task without commands.',
  fields: {
    planId: ref('plan', { label: 'Plan', doc: 'The plan it belongs to.' }),
    order: orderKey(),
    kind: choice(itemKinds, {
      label: 'Kind',
      doc: 'A change, a move, copies, or a task that changes nothing in the record.',
      default: 'change',
    }),
    title: text({ label: 'Title', doc: 'What is to be done.', max: 200 }),
    commands: commands({ label: 'Commands', doc: 'What it changes when it is carried out.' }),
    expects: optional(difference({ label: 'Expected', doc: 'The difference it made on the plan when it was written.' })),
    afterIds: refs('item', { label: 'After', doc: 'Items that must be done before.' }),
    personId: optional(ref('person', { label: 'For', doc: 'Who shall do it.' })),
    minutes: optional(real({ label: 'Minutes', doc: 'How long it should take; estimated when empty.', unit: 'minutes', max: 100_000 })),
    decideBy: optional(
      text({
        label: 'Decide by',
        doc: 'When it is not done by then, what is written under “otherwise” is done instead.',
        shape: 'instant',
      }),
    ),
    otherwise: optional(text({ label: 'Otherwise', doc: 'What is done when it is not done in time, such as: roll back.', max: 200 })),
    isFinal: bool({ label: 'Cannot be undone', doc: 'Whether it is asked for once more before it is done.', default: false }),
    state: choice(['open', 'under way', 'done', 'skipped', 'failed', 'reverted'], {
      label: 'State',
      doc: 'What became of it.',
      default: 'open',
    }),
    begunAt: optional(text({ label: 'Begun', doc: 'When it was begun.', shape: 'instant' })),
    doneById: optional(ref('person', { label: 'By', doc: 'Who did it, skipped it, or saw it fail.' })),
    doneAt: optional(text({ label: 'At', doc: 'When it was done, skipped, or failed.', shape: 'instant' })),
    doneRevision: optional(integer({ label: 'Change', doc: 'The change that carried it out.', unit: '', min: 1 })),
    minutesTaken: optional(real({ label: 'Minutes taken', doc: 'How long it took.', unit: 'minutes', max: 100_000 })),
    reason: optional(text({ label: 'Reason', doc: 'Why it was skipped, failed or was reverted.', max: 400 })),
    note: note(),
  },
  keys: [],
  partOf: ['planId'],
  ofLog: ['doneRevision'],
  byVerbs: {
    actions: ['add', 'remove'],
    fields: [
      'planId',
      'order',
      'kind',
      'commands',
      'expects',
      'state',
      'begunAt',
      'doneById',
      'doneAt',
      'doneRevision',
      'minutesTaken',
      'reason',
    ],
  },
})
