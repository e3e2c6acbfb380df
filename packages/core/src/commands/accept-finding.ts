import { CommandError, dayOf, text } from '../estate/index.js'
import { defineVerb, newIdField } from './verb.js'

declare module './verb.js' {
  interface Verbs {
    'finding.accept': typeof acceptFinding
  }
}

const acceptFinding = defineVerb({
  doc: 'Accepts a finding until a day: it leaves the count, and returns when the day is over or the finding got worse.',
  fields: {
    id: newIdField('acceptance'),
    finding: text({ label: 'Finding', doc: 'The id of the finding.', max: 200 }),
    reason: text({ label: 'Reason', doc: 'Why it may stay as it is.', max: 400 }),
    until: text({ label: 'Until', doc: 'The last day on which it is accepted.', shape: 'date' }),
  },
  /** @throws CommandError `not-found` when there is no such finding now, `invalid` for a day that is over, `not-allowed` where nobody is named */
  does(edit, { id, finding, reason, until }) {
    const { now, personId, findingOf } = edit.context
    const today = dayOf(edit.estate, now)
    const found = findingOf?.(edit.estate, finding, today)
    if (findingOf && !found)
      throw new CommandError('not-found', 'There is no such finding any more; it may have been settled meanwhile.', 'finding')
    if (until < today) throw new CommandError('invalid', `Until is over: today is ${today}. Choose a later day.`, 'until')
    if (!personId) throw new CommandError('not-allowed', 'A finding is accepted by a person: say who you are.', 'finding')
    // Without the rules at hand nothing is known of it: whoever has them decides.
    if (!found) return
    const [old] = edit.estate.byKey('acceptance', { finding })
    const values = {
      ...found,
      reason,
      until,
      personId,
      acceptedAt: now,
    }
    if (old) edit.update('acceptance', old.id, values, '')
    else edit.add('acceptance', { ...values, ...(id ? { id } : {}), finding }, '')
  },
  words: ({ finding, until }, { estate }) => {
    const [acceptance] = estate.byKey('acceptance', { finding })
    return `Accept until ${until}: ${acceptance?.sentence ?? 'a finding'}`
  },
})

/** What is done to findings. */
export const findingVerbs = { 'finding.accept': acceptFinding }
