import type { Difference, RecordEntry } from './difference.js'
import type { Estate } from './estate.js'
import type { KindDefinition } from './define-kind.js'
import { kinds } from './kinds/index.js'

/** How a record differs from another standing: it is not there, or it or a part of it is otherwise. */
export type Differing = 'new' | 'changed'

/**
 * Which records differ by a difference, with those they are parts of: a guest differs where a disk of it does.
 *
 * @param before the estate that the difference starts from, in which the owners of removed parts are found
 * @param after the estate after it
 * @example differing(recorded, planned, difference).get(guest.id) // 'changed': it has a larger disk
 */
export function differing(before: Estate, after: Estate, { added, updated, removed }: Difference): ReadonlyMap<string, Differing> {
  const found = new Map<string, Differing>(Object.keys(added).map((id) => [id, 'new']))
  const open: RecordEntry[] = [
    ...Object.values(added),
    ...Object.values(updated).map(({ kind, to }) => ({ kind, record: to })),
    ...Object.values(removed),
  ]
  const seen = new Set<string>()
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    const { kind, record } = at
    if (seen.has(record.id)) continue
    seen.add(record.id)
    if (!found.has(record.id)) found.set(record.id, 'changed')
    for (const field of (kinds[kind] as KindDefinition).partOf ?? []) {
      const id = (record as unknown as Readonly<Record<string, unknown>>)[field]
      if (typeof id !== 'string') continue
      const ownerKind = after.kindOf(id) ?? before.kindOf(id)
      const owner = ownerKind && (after.find(ownerKind, id) ?? before.find(ownerKind, id))
      if (ownerKind && owner) open.push({ kind: ownerKind, record: owner })
    }
  }
  return found
}
