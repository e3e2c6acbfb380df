import type { Store } from '@insel/core'

/** Where a store is, in a few words. */
export function placeOf(store: Store, hostName: (id: string | null) => string | undefined): string {
  const where = store.hostId ? `in ${hostName(store.hostId) ?? 'a removed host'}` : store.site ? `at ${store.site}` : ''
  return `${store.kind} ${where}`.trim()
}
