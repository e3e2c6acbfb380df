import sameValue from 'fast-deep-equal'
import type { AnyRecord, Kind } from './kinds/index.js'
import { upgradedDifference } from './upgrades.js'

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
    for (const [id, presence] of Object.entries(added)) {
      const before = this.#removed.get(id)
      if (!before) this.#added.set(id, presence)
      else {
        this.#removed.delete(id)
        this.#setUpdate(id, { kind: presence.kind, from: before.record, to: presence.record })
      }
    }
    for (const [id, update] of Object.entries(updated)) {
      if (this.#added.has(id)) this.#added.set(id, { kind: update.kind, record: update.to })
      else this.#setUpdate(id, { ...update, from: this.#updated.get(id)?.from ?? update.from })
    }
    for (const [id, presence] of Object.entries(removed)) {
      if (this.#added.delete(id)) continue
      this.#removed.set(id, { kind: presence.kind, record: this.#updated.get(id)?.from ?? presence.record })
      this.#updated.delete(id)
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

/** The fields in which two records of one kind differ. */
export function changedFields(from: AnyRecord, to: AnyRecord): readonly string[] {
  const before: Record<string, unknown> = { ...from }
  const after: Record<string, unknown> = { ...to }
  return Object.keys(after).filter((field) => !sameValue(before[field], after[field]))
}

/** Whether two records hold the same values. */
export const sameRecord = (a: AnyRecord, b: AnyRecord): boolean => a === b || (a.id === b.id && changedFields(a, b).length === 0)
