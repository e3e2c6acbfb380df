import { defineKind } from '../define-kind.js'
import { choice, optional, real, ref, text } from '../field.js'

/** What a person writes an entry about. */
const entryWorks = ['maintenance', 'incident', 'call', 'note'] as const

export const entryKind = defineKind({
  name: 'entry',
  label: 'entry',
  plural: 'entries',
  doc: 'What a person writes into the history of a host or guest: work done on it, an incident, a call.',
  fields: {
    hostId: optional(ref('host', { label: 'Host', doc: 'The host it is about.' })),
    guestId: optional(ref('guest', { label: 'Guest', doc: 'Or the guest it is about.' })),
    hostName: optional(text({ label: 'Host, as it was called', doc: 'Kept when that host is removed.' })),
    guestName: optional(text({ label: 'Guest, as it was called', doc: 'Kept when that guest is removed.' })),
    work: choice(entryWorks, { label: 'What', doc: 'Maintenance, an incident, a call with somebody, or a note.', default: 'maintenance' }),
    at: text({ label: 'When', doc: 'When it was, or began.', shape: 'instant' }),
    minutes: optional(real({ label: 'Time spent', doc: 'How long it took.', unit: 'minutes', max: 1e6 })),
    people: optional(text({ label: 'Who', doc: 'Those who took part.', shape: 'line', max: 200 })),
    text: text({ label: 'What happened', doc: 'In words.', shape: 'note', max: 8000 }),
  },
  keys: [],
  remembers: { hostId: 'hostName', guestId: 'guestName' },
  byVerbs: { fields: ['hostName', 'guestName'] },
})
