import type { Estate, Guest } from '../estate/index.js'
import { templateOf } from './identity.js'

const olderVersionOf = (estate: Estate, guestId: string): Guest | undefined =>
  estate.find('guest', templateOf(estate, guestId)?.supersedesId)

/** The template that is the next newer version of one; undefined where it is the newest. */
export const newerVersionOf = (estate: Estate, guestId: string): Guest | undefined =>
  estate.find('guest', estate.referring('template', 'supersedesId', guestId)[0]?.guestId)

/** The older versions of a template, from the one that it supersedes to the first. */
export const olderVersions = (estate: Estate, guestId: string): readonly Guest[] => follow(guestId, (id) => olderVersionOf(estate, id))

/** The newer versions of a template, from the one that supersedes it to the newest. */
export const newerVersions = (estate: Estate, guestId: string): readonly Guest[] => follow(guestId, (id) => newerVersionOf(estate, id))

function follow(guestId: string, next: (id: string) => Guest | undefined): readonly Guest[] {
  const found = new Map<string, Guest>()
  for (let at = next(guestId); at && at.id !== guestId && !found.has(at.id); at = next(at.id)) found.set(at.id, at)
  return [...found.values()]
}
