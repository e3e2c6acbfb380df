import { defineKind } from '../define-kind.js'
import { optional, real, ref, text } from '../field.js'

export const acceptanceKind = defineKind({
  name: 'acceptance',
  label: 'acceptance',
  plural: 'acceptances',
  doc: 'A finding that a person accepts for a time, with the reason: it leaves the count until then, or until it gets worse.',
  fields: {
    finding: text({ label: 'Finding', doc: 'The id of the finding.', max: 200 }),
    sentence: text({ label: 'What it said', doc: 'The finding in words, when it was accepted.', shape: 'note', max: 2000 }),
    evidence: text({ label: 'Evidence', doc: 'What it was based on, when it was accepted.', shape: 'note', max: 4000 }),
    value: optional(
      real({ label: 'Value', doc: 'The figure of its rule by which it is judged whether it got worse.', unit: '', min: -1e18, max: 1e18 }),
    ),
    reason: text({ label: 'Reason', doc: 'Why it may stay as it is.', max: 400 }),
    until: text({ label: 'Until', doc: 'The last day on which it is accepted.', shape: 'date' }),
    personId: ref('person', { label: 'By', doc: 'Who accepted it.' }),
    acceptedAt: text({ label: 'At', doc: 'When.', shape: 'instant' }),
  },
  keys: [{ fields: ['finding'], unique: true }],
  byVerbs: { actions: ['add'], fields: ['finding', 'sentence', 'evidence', 'value', 'personId', 'acceptedAt'] },
})
