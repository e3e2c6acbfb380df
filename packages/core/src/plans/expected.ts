import { changedFields, kinds, sameValue, type AnyRecord, type Difference, type Field, type Item, type Kind } from '../estate/index.js'

/** One thing in which what an item would do now differs from what it did when it was written. */
export interface Departure {
  readonly id: string
  readonly kind: Kind
  readonly field: string | null
  readonly how: 'not any more' | 'new' | 'from' | 'to'
  /** What was expected, and what is now; null where there is nothing. */
  readonly expected: unknown
  readonly now: unknown
}

/** What an item was written for. */
export const expectedOf = ({ expects }: Pick<Item, 'expects'>): Difference | null => expects as Difference | null

const valueOf = (record: AnyRecord, field: string): unknown => (record as unknown as Record<string, unknown>)[field]

/** Fields that hold a time: they differ each time a thing is done, and mean nothing here. */
const instants = Object.fromEntries(
  Object.entries(kinds).map(([kind, { fields }]) => [
    kind,
    new Set(
      Object.entries<Field>(fields)
        .filter(([, field]) => field.type === 'text' && field.shape === 'instant')
        .map(([name]) => name),
    ),
  ]),
) as unknown as Record<Kind, ReadonlySet<string>>

const differing = (kind: Kind, a: AnyRecord, b: AnyRecord): readonly string[] =>
  a === b ? [] : changedFields(a, b).filter((field) => !instants[kind].has(field))

/**
 * In what a difference departs from the one that was expected: records that come, change or go otherwise, field by field. Fields that
 * neither of them changes may be whatever they are, and times are let be.
 *
 * @returns nothing where it does what was expected
 * @example departures(expected, now) // [{ kind: 'guest', field: 'memoryMiB', how: 'from', expected: 8192, now: 12288, … }]
 */
export function departures(expected: Difference, now: Difference): readonly Departure[] {
  if (expected === now) return []
  const found: Departure[] = []
  for (const how of ['added', 'removed'] as const) {
    for (const [id, { kind, record }] of Object.entries(expected[how])) {
      const other = now[how][id]
      if (!other) found.push({ id, kind, field: null, how: 'not any more', expected: how, now: null })
      else
        for (const field of differing(kind, record, other.record))
          found.push({
            id,
            kind,
            field,
            how: how === 'added' ? 'to' : 'from',
            expected: valueOf(record, field),
            now: valueOf(other.record, field),
          })
    }
    for (const [id, { kind }] of Object.entries(now[how]))
      if (!expected[how][id]) found.push({ id, kind, field: null, how: 'new', expected: null, now: how })
  }
  for (const id of new Set([...Object.keys(expected.updated), ...Object.keys(now.updated)])) {
    const [was, is] = [expected.updated[id], now.updated[id]]
    const kind = (was ?? is)?.kind as Kind
    const fields = new Set([...(was ? differing(kind, was.from, was.to) : []), ...(is ? differing(kind, is.from, is.to) : [])])
    for (const field of fields) {
      const [before, after] = [was && changeOf(was, field), is && changeOf(is, field)]
      if (!after) found.push({ id, kind, field, how: 'not any more', expected: before?.to, now: null })
      else if (!before) found.push({ id, kind, field, how: 'new', expected: null, now: after.to })
      else if (!sameValue(before.from, after.from)) found.push({ id, kind, field, how: 'from', expected: before.from, now: after.from })
      else if (!sameValue(before.to, after.to)) found.push({ id, kind, field, how: 'to', expected: before.to, now: after.to })
    }
  }
  return found
}

/** What an update does to one field; undefined where it leaves it as it is. */
function changeOf({ from, to }: { from: AnyRecord; to: AnyRecord }, field: string): { from: unknown; to: unknown } | undefined {
  const change = { from: valueOf(from, field), to: valueOf(to, field) }
  return sameValue(change.from, change.to) ? undefined : change
}
