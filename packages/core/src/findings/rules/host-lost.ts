import { failoverOutcomes } from '../../placement/index.js'
import { counted, formatMiB } from '../../units/index.js'
import { defineRule } from '../rule.js'
import { allWhen } from './again.js'

const all = () => 'all' as const

/** Guests that are named, the largest first. */
const NAMED = 4
/** From so many guests on, to place all of them takes longer than a command may. */
const LATE_FROM_GUESTS = 1000

/** A host whose running guests would find no place if it failed (N+1). Common practice, no source. */
export const hostLost = defineRule({
  id: 'host.lost-means-guests-lost',
  title: 'Not enough room for guests if the host fails',
  appliesTo: 'estate',
  measure: { evidence: 'without room', worse: 'more' },
  again: {
    host: all,
    guest: allWhen<'guest'>('name', 'kind', 'state', 'hostId', 'memoryMiB', 'vcpu', 'latency'),
    platform: all,
    adapter: all,
    attachment: all,
    disk: all,
    store: all,
    image: all,
    snapshot: all,
    leftover: all,
    volume: allWhen<'volume'>('diskId', 'isTaken', 'usedBytes', 'sizeBytes'),
    migration: allWhen<'migration'>('state', 'made', 'guestId', 'toHostId', 'fromHostId', 'becomesId'),
  },
  isLate: (estate) => estate.count('guest') >= LATE_FROM_GUESTS,
  check(estate) {
    return failoverOutcomes(estate, NAMED)
      .filter((outcome) => outcome.stranded.length > 0)
      .map(({ host, stranded, placed, isCertain, reasons }) => {
        const names = stranded.slice(0, NAMED).map((guest) => guest.name)
        const more = stranded.length > names.length ? ` and ${stranded.length - names.length} more` : ''
        return {
          severity: 'warning',
          subject: { kind: 'host' as const, id: host.id },
          sentence: isCertain
            ? `If ${host.name} fails, ${counted(stranded.length, 'guest')} ${stranded.length === 1 ? 'has' : 'have'} no room elsewhere: ${names.join(', ')}${more}.`
            : `If ${host.name} fails, no room was found elsewhere for ${counted(stranded.length, 'guest')}: ${names.join(', ')}${more}.`,
          evidence: [
            { label: 'without room', value: stranded.length, unit: 'guests' as const },
            { label: 'with room', value: placed, unit: 'guests' as const },
            ...stranded.slice(0, NAMED).map((guest) => ({ label: guest.name, value: reasons.get(guest.id) ?? '' })),
            { label: 'memory without room', value: stranded.reduce((sum, guest) => sum + guest.memoryMiB, 0), unit: 'MiB' as const },
          ],
          remedy: `Keep more memory free elsewhere, attach the guests’ networks to more hosts, or accept that these stay down (largest: ${names[0]}, ${formatMiB(stranded[0]?.memoryMiB ?? 0)}).`,
        }
      })
  },
})
