import { formatExactBytes, withArticle } from '../units/index.js'
import {
  CommandError,
  guestStates,
  holderPhrase,
  joinPath,
  kindNames,
  kinds,
  readRecord,
  readSome,
  recordTitle,
  referencesOf,
  referredTo,
  referrersOf,
  sameRecord,
  statesAfter,
  type AnyRecord,
  type Difference,
  type Estate,
  type EstateBuilder,
  type Field,
  formatField,
  type Kind,
  type NewRecord,
  type RecordOf,
} from '../estate/index.js'
import { invariants, type Contradiction } from './invariants.js'

/** Where new ids come from: the core makes no random values. */
export interface IdMaker {
  readonly newId: () => string
}

/** What a command may use besides the estate: the core reads no clock either. */
export interface CommandContext extends IdMaker {
  /** The time of the command, ISO 8601 in UTC. */
  readonly now: string
  /** The revision that the estate comes to by the commands. */
  readonly revision: number
  /** Who does it, where anybody is named. */
  readonly personId?: string | undefined
  /** Looks at a finding as it is now. Left out where the rules are not at hand, as on a page: what needs it is then decided by the server. */
  readonly findingOf?: (estate: Estate, id: string, today: string) => SeenFinding | undefined
  /** The checks of a move that are errors and neither settled nor accepted. Left out where they are not at hand, as `findingOf`. */
  readonly openChecks?: (
    estate: Estate,
    move: RecordOf<'migration'>,
    today: string,
  ) => readonly { readonly title: string; readonly sentence: string }[]
}

/** What a finding says, for a command about it. */
export interface SeenFinding {
  readonly sentence: string
  /** What it is based on, as one text. */
  readonly evidence: string
  /** The figure of its rule by which it gets worse, where the rule names one. */
  readonly value: number | null
}

/** An estate while a command works on it. Used by the commands only. */
export class EstateEdit {
  readonly #builder: EstateBuilder
  readonly #taken: (kind: Kind, from: AnyRecord | undefined, to: AnyRecord | undefined) => void

  /** @param taken called with what happens to each record: it comes, changes, or goes */
  constructor(
    builder: EstateBuilder,
    readonly context: CommandContext,
    taken: (kind: Kind, from: AnyRecord | undefined, to: AnyRecord | undefined) => void,
  ) {
    this.#builder = builder
    this.#taken = taken
  }

  get estate(): Estate {
    return this.#builder.estate
  }

  /** What was done last: the same object for as long as nothing else was done or undone, whichever command does it. */
  get lastStep(): object | undefined {
    return this.#builder.last()
  }

  /**
   * The record with this id.
   *
   * @throws CommandError `not-found`
   */
  require<K extends Kind>(kind: K, id: string, path: string): RecordOf<K> {
    const record = this.estate.find(kind, id)
    if (!record)
      throw new CommandError('not-found', `There is no ${kinds[kind].label} with the id ${id}; somebody may have removed it.`, path)
    return record
  }

  /** @throws CommandError `invalid`, `id-taken` */
  add<K extends Kind>(kind: K, input: NewRecord<K>, path = 'record'): RecordOf<K> {
    const { id = this.context.newId(), ...values } = input as { id?: string } & Record<string, unknown>
    this.#requireFree(id, path)
    return this.#added(kind, readRecord(kinds[kind].fields, id, values, path))
  }

  /**
   * Adds a record like another, with some of its fields changed. What stays as it is was read when it was recorded.
   *
   * @throws CommandError `invalid`, `id-taken`
   */
  copy<K extends Kind>(
    kind: K,
    original: RecordOf<K>,
    { id = this.context.newId(), ...changes }: Partial<NewRecord<K>>,
    path: string,
  ): RecordOf<K> {
    this.#requireFree(id, path)
    const [old, given] = [original, changes] as unknown as readonly [Readonly<Record<string, unknown>>, Readonly<Record<string, unknown>>]
    const changed: Record<string, unknown> = {}
    for (const name of Object.keys(given)) if (given[name] !== old[name]) changed[name] = given[name]
    return this.#added(kind, { ...original, ...readSome(kinds[kind].fields, changed, path), id })
  }

  /** @throws CommandError `not-found`, `invalid` */
  update<K extends Kind>(kind: K, id: string, changes: Readonly<Record<string, unknown>>, path = 'changes'): RecordOf<K> {
    const from = this.require(kind, id, 'id')
    checkTransition(kind, from as AnyRecord, changes, path)
    checkShrink(this.estate, kind, from as AnyRecord, changes, path)
    // What does not change was read when it was recorded.
    const to = { ...from, ...readSome(kinds[kind].fields, changes, path) }
    if (!sameRecord(from as AnyRecord, to as AnyRecord)) this.#put(kind, from as AnyRecord, to as AnyRecord)
    return to
  }

  remove(kind: Kind, id: string): void {
    const record = this.estate.find(kind, id)
    if (record) this.#put(kind, record, undefined)
  }

  /** Does what was worked out on this estate before: what commands come to that a record holds. */
  take({ added, updated, removed }: Difference): void {
    for (const { kind, record } of Object.values(removed)) this.#put(kind, record, undefined)
    for (const { kind, from, to } of Object.values(updated)) this.#put(kind, from, to)
    for (const { kind, record } of Object.values(added)) this.#put(kind, undefined, record)
  }

  /** @throws CommandError `id-taken` */
  #requireFree(id: string, path: string): void {
    const taken = this.estate.kindOf(id)
    if (taken)
      throw new CommandError('id-taken', `The id ${id} already belongs to ${withArticle(kinds[taken].label)}.`, joinPath(path, 'id'))
  }

  #added<K extends Kind>(kind: K, record: RecordOf<K>): RecordOf<K> {
    this.#put(kind, undefined, record as AnyRecord)
    return record
  }

  #put(kind: Kind, from: AnyRecord | undefined, to: AnyRecord | undefined): void {
    this.#builder.put(kind, from, to)
    this.#taken(kind, from, to)
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
    joinPath(path, 'state'),
  )
}

/** @throws CommandError `invalid` when a disk would be made smaller than what it holds */
function checkShrink(estate: Estate, kind: Kind, record: AnyRecord, changes: Readonly<Record<string, unknown>>, path: string): void {
  const { sizeBytes } = changes
  if (kind !== 'disk' || typeof sizeBytes !== 'number') return
  const disk = record as RecordOf<'disk'>
  const used = typeof changes['usedBytes'] === 'number' ? changes['usedBytes'] : (disk.usedBytes ?? 0)
  if (sizeBytes >= disk.sizeBytes || sizeBytes >= used) return
  throw new CommandError(
    'invalid',
    `Disk ${disk.position} of ${estate.find('guest', disk.guestId)?.name ?? ''} holds ${formatExactBytes(used)}; ${formatExactBytes(sizeBytes)} is too small. Free space on it first, or correct what is recorded as used.`,
    joinPath(path, 'sizeBytes'),
  )
}

/** Where a problem with a field of a record is said to be: a path into what was asked. */
export type PathOf = (field: string, id: string) => string

/**
 * Checks that the records a difference touched are right in the estate after it. What contradicted itself before is let be: only what
 * the difference causes is refused.
 *
 * @param before the estate before the difference; asked for when something is wrong after it
 * @throws CommandError `dangling-reference`, `not-unique`, `referred-to`, `invalid`
 */
export function checkDifference(before: () => Estate, after: Estate, difference: Difference, pathOf: PathOf): void {
  checkArchive(before, after, difference)
  const touched = [...Object.values(difference.added), ...Object.values(difference.updated).map(({ kind, to }) => ({ kind, record: to }))]
  for (const { kind, record } of touched) checkReferencesAndKeys(after, kind, record, pathOf)
  for (const { kind, record } of Object.values(difference.removed)) {
    const referrers = referrersOf(after, kind, record.id)
    // Named as they were called when it was there.
    if (referrers.length > 0) throw referredTo(before(), kind, record, referrers, pathOf('id', record.id))
  }
  const contradicting = touched.flatMap(({ kind, record }) => {
    const contradiction = contradictionOf(after, kind, record)
    return contradiction ? [{ kind, record, contradiction }] : []
  })
  if (contradicting.length === 0) return
  const was = before()
  for (const { kind, record, contradiction } of contradicting) {
    const old = was.find(kind, record.id)
    if (!old || contradictionOf(was, kind, old)?.field !== contradiction.field)
      throw new CommandError('invalid', contradiction.sentence, pathOf(contradiction.field, record.id))
  }
}

/** @throws CommandError `not-allowed` when something of an archived estate is changed, but for what is said of the estate itself */
function checkArchive(before: () => Estate, after: Estate, difference: Difference): void {
  const [described] = after.all('estate')
  if (!described?.archivedAt || !before().find('estate', described.id)?.archivedAt) return
  const isOther = [...Object.values(difference.added), ...Object.values(difference.updated), ...Object.values(difference.removed)].some(
    ({ kind }) => kind !== 'estate',
  )
  if (isOther)
    throw new CommandError('not-allowed', `${described.name} is archived: take it out of the archive before anything in it is changed.`, '')
}

const contradictionOf = (estate: Estate, kind: Kind, record: AnyRecord): Contradiction | undefined =>
  invariants[kind]?.(estate, record as never)

/**
 * Checks that every record refers to records that are there and keeps its keys unique: what the database would refuse. What
 * contradicts its surroundings may be so by a change of those, and is a finding.
 *
 * @throws CommandError `dangling-reference`, `not-unique`
 */
export function checkWhole(estate: Estate, pathOf: PathOf): void {
  for (const kind of kindNames) for (const record of estate.all(kind)) checkReferencesAndKeys(estate, kind, record, pathOf)
}

function checkReferencesAndKeys(estate: Estate, kind: Kind, record: AnyRecord, pathOf: PathOf): void {
  const values = record as unknown as Record<string, unknown>
  for (const { field, to } of referencesOf(kind)) {
    const value = values[field]
    if (value === null) continue
    for (const id of typeof value === 'string' ? [value] : (value as readonly string[]))
      if (!estate.find(to, id))
        throw new CommandError(
          'dangling-reference',
          `${fieldLabel(kind, field)}: there is no ${kinds[to].label} with the id ${id}.`,
          pathOf(field, record.id),
        )
  }
  for (const key of kinds[kind].keys) {
    // As in the database: where a value is missing, nothing is the same.
    if (!key.unique || key.fields.some((field) => values[field] === null)) continue
    const other = estate.byKey(kind, Object.fromEntries(key.fields.map((field) => [field, values[field]]))).find((r) => r.id !== record.id)
    if (!other) continue
    const field = key.fields.at(-1) ?? ''
    const what = `${fieldLabel(kind, field)} ${saidValue(estate, kind, field, values[field])}`
    throw new CommandError(
      'not-unique',
      `${what} is already used by ${holderPhrase(estate, kind, other)}; choose another.`,
      pathOf(field, record.id),
      { what, by: other.id },
    )
  }
}

/** A value as it is entered; what a reference names, by its name. */
const saidValue = (estate: Estate, kind: Kind, field: string, value: unknown): string => {
  const definition = (kinds[kind].fields as Readonly<Record<string, Field>>)[field]
  return definition?.type === 'ref' ? formatField(estate, definition, value) : String(value)
}

const fieldLabel = (kind: Kind, field: string): string => (kinds[kind].fields as Record<string, { label: string }>)[field]?.label ?? field

/** Removes a record, what is a part of it, and clears optional references to it; a required reference stops it. */
export function removeWithReferring(edit: EstateEdit, kind: Kind, id: string): void {
  const record = edit.estate.find(kind, id)
  if (!record) return
  for (const referrer of referrersOf(edit.estate, kind, id)) {
    const definition = kinds[referrer.kind]
    const { field } = referrer
    const { type, optional } = (definition.fields as Record<string, { type: string; optional?: boolean }>)[field] ?? { type: 'ref' }
    if (definition.partOf?.includes(field)) removeWithReferring(edit, referrer.kind, referrer.record.id)
    else if (type === 'refs') {
      const now = edit.estate.find(referrer.kind, referrer.record.id) as unknown as Record<string, readonly string[]> | undefined
      if (now) edit.update(referrer.kind, referrer.record.id, { [field]: now[field]?.filter((other) => other !== id) })
    } else if (optional) {
      const memory = definition.remembers?.[field]
      edit.update(referrer.kind, referrer.record.id, {
        [field]: null,
        ...(memory ? { [memory]: recordTitle(edit.estate, kind, record) } : {}),
      })
    } else throw referredTo(edit.estate, kind, record, [referrer], 'id')
  }
  edit.remove(kind, id)
}
