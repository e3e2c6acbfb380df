import type { Estate } from './estate.js'
import type { Guest, Host } from './kinds/index.js'
import { isPoweredOn } from './lifecycle.js'

/**
 * Why nothing runs on a host: its own state, or that of what it is nested in, at whatever depth.
 *
 * @returns what is to be said after its name; undefined where guests can run on it
 * @example standstillOf(estate, petrel) // 'is nested in lab-outer, which is stopped'
 */
export function standstillOf(estate: Estate, host: Host): string | undefined {
  let words = ''
  const seen = new Set<string>()
  for (let at: Host | undefined = host; at && !seen.has(at.id);) {
    seen.add(at.id)
    if (at.state !== 'in service') return `${words}is ${at.state}`
    const guest: Guest | undefined = estate.find('guest', at.outerGuestId)
    if (!guest) return undefined
    words += `is nested in ${guest.name}`
    if (!isPoweredOn(guest)) return `${words}, which is ${guest.state}`
    at = estate.find('host', guest.hostId)
    words += at ? ` on ${at.name}, which ` : ''
  }
  return undefined
}

/** The guests on some hosts, and on those nested in them, at whatever depth: what stands still with them. */
export function guestsInside(estate: Estate, hostIds: readonly string[]): readonly Guest[] {
  const inside = new Map<string, Guest>()
  const todo = [...hostIds]
  for (let hostId = todo.pop(); hostId; hostId = todo.pop())
    for (const guest of estate.referring('guest', 'hostId', hostId)) {
      if (inside.has(guest.id)) continue
      inside.set(guest.id, guest)
      todo.push(...estate.referring('host', 'outerGuestId', guest.id).map(({ id }) => id))
    }
  return [...inside.values()]
}
