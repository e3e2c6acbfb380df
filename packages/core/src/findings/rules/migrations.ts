import { isBeforeCutOver } from '../../capacity/index.js'
import { dayOf, daysBetween, isPoweredOn, migrationNames, type Migration } from '../../estate/index.js'
import { counted, formatBytes } from '../../units/index.js'
import { defineRule } from '../rule.js'

/** What a move left is past its date, and still there. Common practice, no source: see “After” in the facts of the trade. */
export const leftoverDue = defineRule({
  id: 'migration.leftover-due',
  title: 'Leftover of a move is due for removal',
  appliesTo: 'leftover',
  reads: ['> migrationId', '> guestId'],
  check(estate, { migrationId, until, usedBytes, guestId }, _, today) {
    const days = daysBetween(until, today)
    const move = estate.find('migration', migrationId)
    if (days < 0 || !move || move.state !== 'verified') return []
    const { guest, from } = migrationNames(estate, move)
    return [
      {
        severity: 'notice',
        sentence: guestId
          ? `${estate.find('guest', guestId)?.name ?? guest} has been kept since its move; its soak time ended on ${until}.`
          : `What ${guest} left${from ? ` on ${from}` : ''}, ${formatBytes(usedBytes)}, has been kept past its soak time, which ended on ${until}.`,
        evidence: [
          { label: 'kept until', value: until },
          { label: 'days past', value: days, unit: 'days' },
        ],
        remedy: 'Remove it and close the move, or give it a later date.',
      },
    ]
  },
})

/** A move whose time to decide has passed before it was cut over. */
export const moveLate = defineRule({
  id: 'migration.decide-by-passed',
  title: 'Time to decide about a move has passed',
  appliesTo: 'migration',
  reads: ['> guestId', '> becomesId'],
  check(estate, move: Migration, _, today) {
    if (!move.decideBy || !isBeforeCutOver(move)) return []
    const decideOn = dayOf(estate, move.decideBy)
    const days = daysBetween(decideOn, today)
    if (days < 1) return []
    const { guest } = migrationNames(estate, move)
    return [
      {
        severity: 'warning',
        sentence: `It was to be decided by ${decideOn} whether ${guest} is cut over, ${counted(days, 'day')} ago${move.otherwise ? `; otherwise: ${move.otherwise}` : ''}.`,
        evidence: [{ label: 'days past', value: days, unit: 'days' }],
        remedy: 'Cut it over, cancel it, or agree on another time.',
      },
    ]
  },
})

/** Source and copy run at once after a cut-over: their data parts, whoever has the address. */
export const sourceRunsAfterMove = defineRule({
  id: 'migration.source-runs',
  title: 'Source runs beside its copy',
  appliesTo: 'migration',
  reads: ['> guestId', '> becomesId'],
  check(estate, move) {
    if (move.state !== 'cut over' && move.state !== 'verified') return []
    const [source, target] = [estate.find('guest', move.guestId), estate.find('guest', move.becomesId)]
    if (!source || !target || !isPoweredOn(source)) return []
    return [
      {
        severity: 'error',
        sentence: `${source.name} is recorded as running, and ${target.name} took its place: what is written to one is missing in the other.`,
        evidence: [
          { label: 'source', value: source.state },
          { label: 'target', value: target.state },
        ],
        remedy: `Stop ${source.name}, or roll the move back.`,
      },
    ]
  },
})
