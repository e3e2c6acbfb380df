import { defineKind } from '../define-kind.js'
import { choice, integer, note, optional, real, ref, text } from '../field.js'

export const imageKind = defineKind({
  name: 'image',
  label: 'image',
  plural: 'images',
  doc: 'An install image: what it is, its size and checksum. The file itself is not kept here.',
  fields: {
    name: text({ label: 'Name', doc: 'File name or title.', max: 120 }),
    version: optional(text({ label: 'Version', doc: 'Release of what it installs.', max: 60 })),
    platformId: optional(ref('platform', { label: 'Installs platform', doc: 'For an image of a platform.' })),
    systemId: optional(ref('system', { label: 'Installs system', doc: 'For an image of an operating system.' })),
    installer: optional(
      choice(['full image', 'network installer'], { label: 'Installer', doc: 'Holds everything, or fetches it over the network.' }),
    ),
    sizeBytes: integer({ label: 'Size', doc: 'Size of the file.', unit: 'bytes', min: 1, max: 2 ** 44 }),
    sha256: optional(text({ label: 'SHA-256', doc: 'Checksum of the file, to compare with the maker’s.', shape: 'sha256', max: 100 })),
    storeId: optional(ref('store', { label: 'Store', doc: 'The store that keeps it.' })),
    uploadedOn: optional(text({ label: 'Uploaded', doc: 'When it was put there.', shape: 'date' })),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
})

/** What a sheet is of: one of these. */
export const sheetSubjects = ['hostId', 'guestId', 'migrationId', 'copyId'] as const
/** What is done by a sheet: setting up a host or guest, or another work on the same thing. */
export const sheetWorks = ['set-up', 'renewal', 'move', 'copy', 'other'] as const

export const sheetKind = defineKind({
  name: 'sheet',
  label: 'sheet',
  plural: 'sheets',
  doc: 'An ordered list of steps a person ticks off: while building a host, installing a guest, renewing a template, moving a machine.',
  fields: {
    hostId: optional(ref('host', { label: 'Host', doc: 'The host that is built.' })),
    guestId: optional(ref('guest', { label: 'Guest', doc: 'Or the guest or template that is worked on.' })),
    migrationId: optional(ref('migration', { label: 'Migration', doc: 'Or the migration that is carried out.' })),
    copyId: optional(ref('copy', { label: 'Copy', doc: 'Or the copy of a batch that is made.' })),
    work: choice(sheetWorks, { label: 'Work', doc: 'What is done by it.', default: 'set-up' }),
    startedAt: text({ label: 'Started', doc: 'When work began.', shape: 'instant' }),
    resumedAt: optional(text({ label: 'Running since', doc: 'When work was last resumed; empty while paused.', shape: 'instant' })),
    finishedAt: optional(text({ label: 'Finished', doc: 'When the last step was completed.', shape: 'instant' })),
    note: note(),
  },
  keys: [],
  partOf: sheetSubjects,
})

export const stepKind = defineKind({
  name: 'step',
  label: 'step',
  plural: 'steps',
  doc: 'What became of one step of a sheet.',
  fields: {
    sheetId: ref('sheet', { label: 'Sheet', doc: 'The sheet it belongs to.' }),
    step: text({ label: 'Step', doc: 'Which step of the sheet: its key, the same on every sheet of the kind.', shape: 'name' }),
    title: optional(text({ label: 'Title', doc: 'For a step that a person added to this sheet: what to do.', max: 200 })),
    after: optional(text({ label: 'After', doc: 'For an added step, the step it comes after; at the end when empty.', shape: 'name' })),
    state: choice(['open', 'done', 'skipped', 'failed'], {
      label: 'State',
      doc: 'Open, done, skipped with a reason, or failed with a note.',
    }),
    attempts: integer({
      label: 'Attempts',
      doc: 'How often it was completed; more than once if it was reopened.',
      unit: '',
      min: 0,
      max: 1000,
      default: 1,
    }),
    personId: ref('person', { label: 'By', doc: 'Who did it.' }),
    at: text({ label: 'At', doc: 'When.', shape: 'instant' }),
    minutes: optional(real({ label: 'Minutes', doc: 'How long it took.', unit: 'minutes', max: 100_000 })),
    note: note(),
  },
  keys: [{ fields: ['sheetId', 'step'], unique: true }],
  partOf: ['sheetId'],
})

export const routineKind = defineKind({
  name: 'routine',
  label: 'routine step',
  plural: 'routine steps',
  doc: 'A step of one’s own that every new sheet of a kind of work has.',
  fields: {
    of: choice(['host', 'guest', 'migration'], { label: 'Of', doc: 'What the sheets are of.' }),
    work: choice(sheetWorks, { label: 'Work', doc: 'What is done by them.', default: 'set-up' }),
    title: text({ label: 'Title', doc: 'What to do.', max: 200 }),
    after: optional(text({ label: 'After', doc: 'The step it comes after; at the end when empty.', shape: 'name' })),
  },
  keys: [],
})

export const deviationKind = defineKind({
  name: 'deviation',
  label: 'deviation',
  plural: 'deviations',
  doc: 'Something found on a host or in a guest that differs from the record, kept until it is resolved.',
  fields: {
    hostId: optional(ref('host', { label: 'Host', doc: 'The host it was found on.' })),
    guestId: optional(ref('guest', { label: 'Guest', doc: 'Or the guest it was found in.' })),
    about: text({ label: 'About', doc: 'What differs.', max: 120 }),
    planned: text({ label: 'Planned', doc: 'As recorded.', max: 400 }),
    found: text({ label: 'Found', doc: 'As seen.', max: 400 }),
    source: text({ label: 'Source', doc: 'Where it was seen.', max: 120 }),
    seenAt: text({ label: 'Seen', doc: 'When.', shape: 'instant' }),
    note: note(),
  },
  keys: [
    { fields: ['hostId', 'about'], unique: true },
    { fields: ['guestId', 'about'], unique: true },
  ],
  partOf: ['hostId', 'guestId'],
})
