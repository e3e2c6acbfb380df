import { integer, ovfVersions, ref, severities, summaryDays, text, choice, bool } from '@insel/core'

/** How far back observations are asked for at most, days. */
const DAYS_MAX = 400
const days = (standard: number) =>
  integer({ unit: 'days', min: 1, max: DAYS_MAX, default: standard, label: 'days', doc: 'How many days before the last observation.' })
const instant = (label: string, doc: string) =>
  text({ shape: 'moment', label, doc: `${doc} A date, or an instant such as 2027-03-09T22:00:00Z.`, optional: true })

/** What is behind the `?` of each address, as data: validated, typed and described from here. */
export const queries = {
  /** `GET changes`, newest first. */
  changes: {
    before: integer({ unit: '', label: 'before', doc: 'Only changes before this revision.', optional: true }),
    limit: integer({ unit: '', min: 1, max: 500, default: 50, label: 'limit', doc: 'At most so many.' }),
    subject: ref('estate', { label: 'subject', doc: 'Only changes that touched this record or a part of it.', optional: true }),
    text: text({
      shape: 'line',
      max: 200,
      label: 'text',
      doc: 'Only changes with all of these words in what they changed, or about records so called.',
      optional: true,
    }),
    actor: ref('person', { label: 'actor', doc: 'Only changes by this person.', optional: true }),
    from: instant('from', 'Only changes at or after this time.'),
    until: instant('until', 'Only changes before this time.'),
    most: integer({
      unit: '',
      min: 1,
      max: 500,
      label: 'most',
      doc: 'Of each change at most so many commands, those about the subject first, and of a large one only what these did; leftOut counts the rest.',
      optional: true,
    }),
  },
  /** `POST commands`, `POST imports/apply`, and what takes a change or an item of a plan back. */
  recording: {
    findings: bool({ default: true, label: 'findings', doc: 'false leaves out what became of the findings, which takes time.' }),
  },
  /** `GET plans/:id/projection`. */
  projection: { upTo: ref('item', { label: 'upTo', doc: 'The last item to look at; all of them where it is left out.', optional: true }) },
  /** `GET findings`. */
  findings: {
    severity: choice(severities, { label: 'severity', doc: 'Only findings of this severity.', optional: true }),
    rule: text({ label: 'rule', doc: 'Only findings of this rule.', optional: true }),
    subject: ref('estate', { label: 'subject', doc: 'Only findings of this record, or that concern it.', optional: true }),
    accepted: bool({ default: false, label: 'accepted', doc: 'true lists those that somebody accepted, in place of the open ones.' }),
  },
  /** `POST estates/import`. */
  importEstate: { name: text({ label: 'name', doc: 'What the new estate is called; as in the file without it.', optional: true }) },
  /** `DELETE estates/:estateId`. */
  removeEstate: { name: text({ label: 'name', doc: 'The name of the estate, as a proof that this one is meant.' }) },
  /** `GET records`. */
  records: {
    since: integer({ unit: '', label: 'since', doc: 'Only what changed since this revision.', optional: true }),
    epoch: text({ shape: 'line', label: 'epoch', doc: 'Of which history the revision is.', optional: true }),
  },
  /** `GET observations/summaries`. */
  summaries: {
    days: choice(summaryDays.map(String), { default: '30', label: 'days', doc: 'Over how many days before the last observation.' }),
  },
  /** `GET observations/samples`. */
  samples: { subjectId: ref('guest', { label: 'subjectId', doc: 'The guest or store.' }), days: days(30) },
  /** `GET observations/daily`. */
  daily: {
    storeId: ref('store', { label: 'storeId', doc: 'Of one store and its guests; without it, of everything.', optional: true }),
    days: days(90),
  },
  /** `GET exports/guests/:id.ovf`. */
  ovf: { version: choice(ovfVersions, { default: '1.1', label: 'version', doc: 'Of the OVF standard (DMTF DSP0243).' }) },
  /** `GET catalogue/systems`. */
  catalogue: {
    q: text({ max: 100, optional: true, label: 'q', doc: 'Words of the name, short name, codename or maker.' }),
    limit: integer({ unit: '', min: 1, max: 1000, default: 20, label: 'limit', doc: 'At most so many.' }),
  },
} as const
