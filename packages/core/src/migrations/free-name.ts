import type { Estate } from '../estate/index.js'

/** A name that no guest has: the one that is wanted, or that with a number. @example freeGuestName(estate, 'auk-old') // 'auk-old2' */
export function freeGuestName(estate: Estate, wanted: string): string {
  for (let count = 1; ; count++) {
    const name = count === 1 ? wanted : `${wanted}${count}`
    if (estate.byKey('guest', { name }).length === 0) return name
  }
}
