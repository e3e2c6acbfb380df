import { applyAll, Estate, kinds, makeIds, readFields, seededRandom, openErrors, seenFinding } from '@insel/core'
import { skerrySound } from './skerry-sound.js'

const [estateId, personId] = ['01890000-0000-7000-8000-000000000001', '01890000-0000-7000-8000-000000000002']
const start = Estate.fromRecords({
  estate: [{ id: estateId, name: 'Skerry Sound', domain: 'skerry.example', timeZone: 'Europe/London', archivedAt: null, note: '' }],
  person: [{ id: personId, ...readFields(kinds.person.fields, { name: 'Ola Berg' }) }],
  policy: [{ id: estateId, ...readFields(kinds.policy.fields, {}) }],
})
const context = {
  newId: makeIds(Date.now, seededRandom(3)),
  now: '2027-01-18T08:00:00.000Z',
  revision: 2,
  findingOf: seenFinding,
  openChecks: openErrors,
}
/** The demo estate as a value, as it is once everything of it is recorded. */
export const demoEstate = (): Estate =>
  skerrySound(estateId, personId).reduce((at, { by, commands }) => {
    const who = at.byKey('person', { name: by })[0]?.id
    return applyAll(at, commands, { ...context, personId: who }).estate
  }, start)
