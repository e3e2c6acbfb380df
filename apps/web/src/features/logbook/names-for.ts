import type { Difference, Estate } from '@insel/core'

/** An estate in which everything that a change touched can be named: the record as it is, and what the change held. */
export function namesFor(estate: Estate, { added, updated, removed }: Difference): Estate {
  const missing = [
    ...Object.entries(added),
    ...Object.entries(removed),
    ...Object.entries(updated).map(([id, { kind, to }]) => [id, { kind, record: to }] as const),
  ].filter(([, { kind, record }]) => !estate.find(kind, record.id))
  return estate.with({ added: Object.fromEntries(missing), updated: {}, removed: {} })
}
