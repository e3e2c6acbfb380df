import sameValue from 'fast-deep-equal'
import type { AnyRecord, Kind } from './kinds/index.js'
import { upgradedDifference } from './upgrades.js'

/** Whether two values of a field are the same, whatever the order of the keys in them. */
export { sameValue }

/** A record that came or went. */
export interface RecordEntry {
  readonly kind: Kind
  readonly record: AnyRecord
}
/** A record that changed. */
export interface Update {
  readonly kind: Kind
  readonly from: AnyRecord
  readonly to: AnyRecord
}

/** What a command did to the estate: records added, updated and removed, by id. It inverts and it composes. */
export interface Difference {
  readonly added: Readonly<Record<string, RecordEntry>>
  readonly updated: Readonly<Record<string, Update>>
  readonly removed: Readonly<Record<string, RecordEntry>>
}

export const emptyDifference: Difference = { added: {}, updated: {}, removed: {} }

/** Whether a difference changes nothing. */
export const isEmpty = (difference: Difference): boolean => touchedIds(difference).length === 0

/** Ids of all records that a difference touches. */
export const touchedIds = (difference: Difference): readonly string[] => [
  ...Object.keys(difference.added),
  ...Object.keys(difference.updated),
  ...Object.keys(difference.removed),
]

/**
 * The difference that takes another back.
 *
 * @example invert({ added: { a }, updated: {}, removed: {} }) // { added: {}, updated: {}, removed: { a } }
 */
export function invert({ added, updated, removed }: Difference): Difference {
  const back = Object.entries(updated).map(([id, { kind, from, to }]): [string, Update] => [id, { kind, from: to, to: from }])
  return { added: removed, updated: Object.fromEntries(back), removed: added }
}

/**
 * A difference that an earlier Insel logged, with its records in the form of today.
 *
 * @example differenceInCurrentForm(JSON.parse(logged)) // an address logged before it had a name has name: null
 */
export const differenceInCurrentForm = (difference: Difference): Difference => upgradedDifference(difference) as Difference

/**
 * One difference that does what two do one after the other.
 *
 * @param first what happened first
 * @param then what happened to the result
 * @example compose(d, invert(d)) // empty
 */
export function compose(first: Difference, then: Difference): Difference {
  const both = new DifferenceSum(first)
  both.add(then)
  return both.difference()
}

/** What many differences do one after the other, gathered in time that grows with what they touch. */
export class DifferenceSum {
  readonly #added: Map<string, RecordEntry>
  readonly #updated: Map<string, Update>
  readonly #removed: Map<string, RecordEntry>

  constructor({ added, updated, removed }: Difference = emptyDifference) {
    this.#added = new Map(Object.entries(added))
    this.#updated = new Map(Object.entries(updated))
    this.#removed = new Map(Object.entries(removed))
  }

  /** Puts what happened then behind what there is. */
  add({ added, updated, removed }: Difference): void {
    for (const { kind, record } of Object.values(added)) this.put(kind, undefined, record)
    for (const { kind, from, to } of Object.values(updated)) this.put(kind, from, to)
    for (const { kind, record } of Object.values(removed)) this.put(kind, record, undefined)
  }

  /** Puts what happened to one record behind what there is: it came, changed, or went. */
  put(kind: Kind, from: AnyRecord | undefined, to: AnyRecord | undefined): void {
    if (from && to) {
      if (this.#added.has(to.id)) this.#added.set(to.id, { kind, record: to })
      else this.#setUpdate(to.id, { kind, from: this.#updated.get(to.id)?.from ?? from, to })
    } else if (to) {
      const before = this.#removed.get(to.id)
      if (!before) this.#added.set(to.id, { kind, record: to })
      else {
        this.#removed.delete(to.id)
        this.#setUpdate(to.id, { kind, from: before.record, to })
      }
    } else if (from && !this.#added.delete(from.id)) {
      this.#removed.set(from.id, { kind, record: this.#updated.get(from.id)?.from ?? from })
      this.#updated.delete(from.id)
    }
  }

  difference(): Difference {
    return {
      added: Object.fromEntries(this.#added),
      updated: Object.fromEntries(this.#updated),
      removed: Object.fromEntries(this.#removed),
    }
  }

  #setUpdate(id: string, update: Update): void {
    if (sameRecord(update.from, update.to)) this.#updated.delete(id)
    else this.#updated.set(id, update)
  }
}

/** A record that a difference touches, as it was or as it is. */
export interface Touched {
  readonly kind: Kind
  readonly record: AnyRecord
  /** The fields that changed, where it was there before and after. */
  readonly changed?: readonly string[]
}

/** Every record that a difference touches; one that changed as it was and as it is. */
export const touchedRecords = ({ added, updated, removed }: Difference): readonly Touched[] => [
  ...Object.values(added),
  ...Object.values(updated).flatMap(({ kind, from, to }) => {
    const changed = changedFields(from, to)
    return [
      { kind, record: from, changed },
      { kind, record: to, changed },
    ]
  }),
  ...Object.values(removed),
]

/** The fields in which two records of one kind differ. */
export function changedFields(from: AnyRecord, to: AnyRecord): readonly string[] {
  const isSame = sameIn(from, to)
  return Object.keys(to).filter((field) => !isSame(field))
}

/** Asks of fields of two records whether they hold the same. Most do, and most are the same text or number. */
function sameIn(a: AnyRecord, b: AnyRecord): (field: string) => boolean {
  const [one, other] = [a, b] as unknown as readonly [Readonly<Record<string, unknown>>, Readonly<Record<string, unknown>>]
  return (field) => one[field] === other[field] || sameValue(one[field], other[field])
}

/** Whether two records hold the same values. */
export const sameRecord = (a: AnyRecord, b: AnyRecord): boolean => a === b || (a.id === b.id && Object.keys(b).every(sameIn(a, b)))
