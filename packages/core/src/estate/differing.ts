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
    open.push(...ownersOf(before, after, { kind, record }))
  }
  return found
}

/**
 * What a record is a part of, as it is now, or as it was where that is gone.
 *
 * @param fields those of its fields that name it; by which it goes with what it is a part of, where they are left out
 */
export function ownersOf(
  before: Estate,
  after: Estate,
  { kind, record }: RecordEntry,
  fields: readonly string[] = (kinds[kind] as KindDefinition).partOf ?? [],
): readonly RecordEntry[] {
  return fields.flatMap((field) => entryOf(before, after, (record as unknown as Readonly<Record<string, unknown>>)[field]))
}

/** The record of an id, whatever its kind. */
export function entryOf(before: Estate, after: Estate, id: unknown): readonly RecordEntry[] {
  if (typeof id !== 'string') return []
  const kind = after.kindOf(id) ?? before.kindOf(id)
  const record = kind && (after.find(kind, id) ?? before.find(kind, id))
  return kind && record ? [{ kind, record }] : []
}
