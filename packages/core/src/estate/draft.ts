import { CommandError } from './command-error.js'
import { readFields, readSome } from './define-kind.js'
import { holderPhrase, recordPhrase } from './describe.js'
import { DifferenceSum, sameRecord, type Difference, type Presence, type Update } from './difference.js'
import type { Estate, EstateEdit } from './estate.js'
import { invariants } from './invariants.js'
import { guestStates, statesAfter } from './lifecycle.js'
import { kindNames, kinds, referencesOf, type AnyRecord, type Kind, type NewRecord, type RecordOf } from './kinds/index.js'

/** What a command may use besides the estate: the core has no clock and no randomness of its own. */
export interface CommandContext {
  readonly newId: () => string
  /** The time of the command, ISO 8601 in UTC. */
  readonly now: string
}

/** An estate while a command works on it; keeps the difference so far. Used by the commands only. */
export class Draft {
  readonly context: CommandContext
  readonly #edit: EstateEdit
  readonly #difference = new DifferenceSum()

  constructor(edit: EstateEdit, context: CommandContext) {
    this.#edit = edit
    this.context = context
  }

  get estate(): Estate {
    return this.#edit.estate
  }

  /**
   * The record with this id.
   *
   * @throws CommandError `not-found`
   */
  require<K extends Kind>(kind: K, id: string, path: string): RecordOf<K> {
    const record = this.estate.find(kind, id)
    if (!record)
      throw new CommandError('not-found', `There is no ${kinds[kind].label} with the id ${id}; it may have been removed meanwhile.`, path)
    return record
  }

  /** @throws CommandError `invalid`, `id-taken` */
  add<K extends Kind>(kind: K, input: NewRecord<K>, path = 'record'): RecordOf<K> {
    const { id = this.context.newId(), ...values } = input as { id?: string } & Record<string, unknown>
    const taken = this.estate.kindOf(id)
    if (taken) throw new CommandError('id-taken', `The id ${id} belongs to a ${kinds[taken].label} already.`, `${path}.id`)
    const record = { id, ...readFields(kinds[kind].fields, values, path) } as unknown as RecordOf<K>
    this.#take({ added: { [id]: { kind, record } as Presence }, updated: {}, removed: {} })
    return record
  }

  /** @throws CommandError `not-found`, `invalid` */
  update<K extends Kind>(kind: K, id: string, changes: Readonly<Record<string, unknown>>, path = 'changes'): RecordOf<K> {
    const from = this.require(kind, id, 'id')
    checkTransition(kind, from as AnyRecord, changes, path)
    // What does not change was read when it was recorded.
    const to = { ...from, ...readSome(kinds[kind].fields, changes, path) }
    if (!sameRecord(from as AnyRecord, to as AnyRecord))
      this.#take({ added: {}, updated: { [id]: { kind, from, to } as Update }, removed: {} })
    return to
  }

  remove(kind: Kind, id: string): void {
    const record = this.estate.find(kind, id)
    if (record) this.#take({ added: {}, updated: {}, removed: { [id]: { kind, record } } })
  }

  /**
   * Ends the command: what was touched must refer to records that exist, keep its keys unique and its kind's invariants.
   *
   * @throws CommandError `dangling-reference`, `not-unique`, `referred-to`, `invalid`
   */
  finish(pathOf: (field: string) => string = (field) => `record.${field}`): Difference {
    const difference = this.#difference.difference()
    checkDifference(this.estate, difference, pathOf)
    return difference
  }

  #take(step: Difference): void {
    this.#edit.take(step)
    this.#difference.add(step)
  }
}

/** @throws CommandError `wrong-state` when a guest's life does not go that way */
function checkTransition(kind: Kind, record: AnyRecord, changes: Readonly<Record<string, unknown>>, path: string): void {
  if (kind !== 'guest' || changes['state'] === undefined) return
  const { name, state, kind: guestKind } = record as RecordOf<'guest'>
  const after = statesAfter(state)
  if (guestKind === 'template' || changes['state'] === state || (after as readonly unknown[]).includes(changes['state'])) return
  if (!(guestStates as readonly unknown[]).includes(changes['state'])) return
  throw new CommandError(
    'wrong-state',
    `${name} is ${state}; from there it can only be ${after.join(' or ')}, not ${String(changes['state'])}.`,
    path ? `${path}.state` : 'state',
  )
}

/**
 * Checks that the records a difference touched are right in the estate after it.
 *
 * @throws CommandError `dangling-reference`, `not-unique`, `referred-to`, `invalid`
 */
export function checkDifference(after: Estate, difference: Difference, pathOf: (field: string) => string): void {
  for (const { kind, record } of Object.values(difference.added)) checkRecord(after, kind, record, pathOf)
  for (const { kind, to } of Object.values(difference.updated)) checkRecord(after, kind, to, pathOf)
  for (const { kind, record } of Object.values(difference.removed)) {
    const referrers = referrersOf(after, kind, record.id)
    if (referrers.length > 0) throw referredTo(after, kind, record, referrers)
  }
}

/**
 * Checks that every record refers to records that are there and keeps its keys unique: what the database would refuse. What
 * contradicts its surroundings may be so by a change of those, and is a finding.
 *
 * @throws CommandError `dangling-reference`, `not-unique`
 */
export function checkWhole(estate: Estate, pathOf: (field: string) => string): void {
  for (const kind of kindNames) for (const record of estate.all(kind)) checkReferencesAndKeys(estate, kind, record, pathOf)
}

function checkRecord(estate: Estate, kind: Kind, record: AnyRecord, pathOf: (field: string) => string): void {
  checkReferencesAndKeys(estate, kind, record, pathOf)
  const problem = invariants[kind]?.(estate, record as never)
  if (problem) throw new CommandError('invalid', problem.sentence, pathOf(problem.field))
}

function checkReferencesAndKeys(estate: Estate, kind: Kind, record: AnyRecord, pathOf: (field: string) => string): void {
  const values = record as unknown as Record<string, unknown>
  for (const { field, to } of referencesOf(kind)) {
    const id = values[field]
    if (typeof id === 'string' && !estate.find(to, id)) {
      throw new CommandError(
        'dangling-reference',
        `${fieldLabel(kind, field)}: there is no ${kinds[to].label} with the id ${id}.`,
        pathOf(field),
      )
    }
  }
  for (const key of kinds[kind].keys.filter((k) => k.unique)) {
    // As in the database: where a value is missing, nothing is the same.
    if (key.fields.some((field) => values[field] === null)) continue
    const other = estate.byKey(kind, Object.fromEntries(key.fields.map((field) => [field, values[field]]))).find((r) => r.id !== record.id)
    const field = key.fields.at(-1) ?? ''
    if (other)
      throw new CommandError(
        'not-unique',
        `${fieldLabel(kind, field)} ${String(values[field])} is taken by ${holderPhrase(estate, kind, other)}; choose another.`,
        pathOf(field),
      )
  }
}

const fieldLabel = (kind: Kind, field: string): string => (kinds[kind].fields as Record<string, { label: string }>)[field]?.label ?? field

/** A record that refers to another, and the field by which it does. */
export interface Referrer {
  readonly kind: Kind
  readonly record: AnyRecord
  readonly field: string
}

/** Every record that refers to one. */
export function referrersOf(estate: Estate, kind: Kind, id: string): readonly Referrer[] {
  return (Object.keys(kinds) as Kind[]).flatMap((other) =>
    referencesOf(other)
      .filter((reference) => reference.to === kind)
      .flatMap(({ field }) => estate.referring(other, field as never, id).map((record) => ({ kind: other, record, field }))),
  )
}

/** The refusal to remove a record that others refer to, with the list of them. */
export function referredTo(estate: Estate, kind: Kind, record: AnyRecord, referrers: readonly Referrer[]): CommandError {
  const named = referrers.slice(0, 5).map((r) => recordPhrase(estate, r.kind, r.record))
  const more = referrers.length > named.length ? ` and ${referrers.length - named.length} more` : ''
  return new CommandError(
    'referred-to',
    `${recordPhrase(estate, kind, record)} is still referred to by ${named.join(', ')}${more}. Remove them first, or together with it.`,
    referrers.map((r) => ({ path: 'id', code: 'referred-to', message: recordPhrase(estate, r.kind, r.record) })),
  )
}
