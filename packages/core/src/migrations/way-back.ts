import type { Estate, Migration } from '../estate/index.js'
import { migrationNames } from '../estate/index.js'
import { counted } from '../units/index.js'

/** What going back from a state of a move means. */
export interface WayBack {
  readonly verb: 'migration.cancel' | 'migration.rollBack'
  readonly label: string
  /** What has to be done by hand, in order. */
  readonly byHand: readonly string[]
  /** What is lost by it. */
  readonly isLost: string
}

/**
 * How one goes back from where a move is: what to do by hand, and what is lost.
 *
 * @returns undefined where there is no way back any more
 */
export function wayBack(estate: Estate, move: Migration): WayBack | undefined {
  const { guest, from, becomes } = migrationNames(estate, move)
  const target = becomes ?? guest
  switch (move.state) {
    case 'begun':
      return { verb: 'migration.cancel', label: 'Cancel', byHand: ['Nothing was copied yet.'], isLost: 'Nothing: the source is as it was.' }
    case 'copying':
      return {
        verb: 'migration.cancel',
        label: 'Cancel',
        byHand: [
          'Stop the tool that copies.',
          'Delete what it wrote at the target.',
          `Start ${guest} again, if it was stopped for the copy.`,
        ],
        isLost: 'The copy, and the time it took; the source is as it was.',
      }
    case 'cut over':
    case 'verified': {
      const lost = 'Everything written to the target since the cut-over, unless it is carried back by hand.'
      return {
        verb: 'migration.rollBack',
        label: 'Roll back',
        byHand: [
          `Stop ${target} and record it as stopped; never both with one address.`,
          ...(move.becomesId ? [`Give ${guest} its name, addresses and MACs back, if they were changed on the machine.`] : []),
          `Start ${guest}${from ? ` on ${from}` : ''} from what the move left there, and record it as running.`,
          'Set names, DHCP, backup and monitoring back.',
        ],
        isLost: lost,
      }
    }
    default:
      return undefined
  }
}

/** The attempts that came before a move, the latest first. */
export function attemptsBefore(estate: Estate, move: Migration): readonly Migration[] {
  const attempts: Migration[] = []
  for (
    let at = estate.find('migration', move.previousId);
    at && !attempts.includes(at) && at.id !== move.id;
    at = estate.find('migration', at.previousId)
  )
    attempts.push(at)
  return attempts
}

/** How much is left of a move at its source, in words. */
export function sayLeftovers(estate: Estate, move: Migration): string | undefined {
  const leftovers = estate.referring('leftover', 'migrationId', move.id)
  if (leftovers.length === 0) return undefined
  const places = leftovers.map(({ storeId, storeName, guestId }) =>
    guestId
      ? (estate.find('guest', guestId)?.name ?? 'the source')
      : (estate.find('store', storeId)?.name ?? storeName ?? 'a removed store'),
  )
  return `${counted(leftovers.length, 'leftover')}: ${places.join(', ')}, kept until ${leftovers[0]?.until ?? ''}`
}
