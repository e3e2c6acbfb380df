import type { Difference } from './difference.js'
import { kindNames, kinds, referencesOf, type AnyRecord, type Kind, type RecordOf, type Records } from './kinds/index.js'
import { LayeredMap } from './layered-map.js'

type Table = LayeredMap<AnyRecord>
/** Ids of records, by what their field or key holds. */
type Index = LayeredMap<readonly string[]>

/** How an index is filled: the entry of a record, or undefined when it has none. */
interface IndexDefinition {
  readonly name: string
  readonly kind: Kind
  readonly entryOf: (record: AnyRecord) => string | undefined
}

const fieldOf = (record: AnyRecord, field: string): unknown => (record as unknown as Record<string, unknown>)[field]
const referrerIndex = (kind: Kind, field: string) => `${kind}.${field}>`
const keyIndex = (kind: Kind, field: string) => `${kind}.${field}=`
/** Names compare without case; everything else a key holds is in one form already. */
const keyEntry = (field: string, value: unknown): string => (field === 'name' ? String(value).toLowerCase() : String(value))

const indexDefinitions: Readonly<Record<Kind, readonly IndexDefinition[]>> = Object.fromEntries(
  kindNames.map((kind) => [
    kind,
    [
      ...referencesOf(kind).map(({ field }): IndexDefinition => ({
        name: referrerIndex(kind, field),
        kind,
        entryOf: (record) => (fieldOf(record, field) as string | null) ?? undefined,
      })),
      // A key of several fields is looked up by one of them: it holds a reference, or a field that is a key of its own.
      ...kinds[kind].keys.flatMap(({ fields: [field, ...more] }): IndexDefinition[] =>
        field === undefined || more.length > 0
          ? []
          : [
              {
                name: keyIndex(kind, field),
                kind,
                entryOf: (record) => {
                  const value = fieldOf(record, field)
                  return value === null ? undefined : keyEntry(field, value)
                },
              },
            ],
      ),
    ],
  ]),
) as unknown as Record<Kind, readonly IndexDefinition[]>

/**
 * All records of an estate at one moment, with what is needed to find them: by id, by who refers to them, by key.
 * A value: a change gives a new estate that shares what did not change. Rules, plans and screens all read it.
 */
export class Estate {
  readonly #tables: Readonly<Record<Kind, Table>>
  readonly #indexes: ReadonlyMap<string, Index>
  readonly #lists = new Map<Kind, readonly AnyRecord[]>()

  private constructor(tables: Readonly<Record<Kind, Table>>, indexes: ReadonlyMap<string, Index>) {
    this.#tables = tables
    this.#indexes = indexes
  }

  /** An estate of these records; kinds left out are empty. Does not check them: the commands do. */
  static fromRecords(records: Partial<Records>): Estate {
    const tables: Partial<Record<Kind, Table>> = {}
    const indexes = new Map<string, Index>()
    for (const kind of kindNames) {
      const list: readonly AnyRecord[] = records[kind] ?? []
      const table = new Map<string, AnyRecord>()
      for (const record of list) table.set(record.id, record)
      tables[kind] = LayeredMap.of(table)
      for (const { name, entryOf } of indexDefinitions[kind]) {
        const index = new Map<string, string[]>()
        for (const record of list) {
          const entry = entryOf(record)
          if (entry === undefined) continue
          const ids = index.get(entry)
          if (ids) ids.push(record.id)
          else index.set(entry, [record.id])
        }
        indexes.set(name, LayeredMap.of(index))
      }
    }
    return new Estate(tables as Record<Kind, Table>, indexes)
  }

  static readonly empty = Estate.fromRecords({})

  /** The record of a kind with this id, if there is one. */
  find<K extends Kind>(kind: K, id: string | null | undefined): RecordOf<K> | undefined {
    return id ? this.#tables[kind].get(id) : undefined
  }

  /** All records of a kind, in no particular order. */
  all<K extends Kind>(kind: K): readonly RecordOf<K>[] {
    let list = this.#lists.get(kind)
    if (!list) {
      list = this.#tables[kind].values()
      this.#lists.set(kind, list)
    }
    return list
  }

  /** How many records of a kind there are. */
  count(kind: Kind): number {
    return this.#tables[kind].size
  }

  /** The same object for as long as no record of the kind changes, to keep what was worked out from them by. */
  tableOf(kind: Kind): object {
    return this.#tables[kind]
  }

  /** The kind of the record with this id, if it is here. */
  kindOf(id: string): Kind | undefined {
    return kindNames.find((kind) => this.#tables[kind].has(id))
  }

  /**
   * Records whose field refers to an id.
   *
   * @example estate.referring('disk', 'guestId', guest.id) // the guest's disks
   */
  referring<K extends Kind>(kind: K, field: keyof RecordOf<K> & string, id: string): readonly RecordOf<K>[] {
    return this.#lookUp(kind, referrerIndex(kind, field), id)
  }

  /**
   * Records with the same values in the fields of a key (of the kind's definition); names compare without case.
   *
   * @example estate.byKey('guest', { name: 'vault' })
   */
  byKey<K extends Kind>(kind: K, values: Partial<Record<keyof RecordOf<K>, unknown>>): readonly RecordOf<K>[] {
    const wanted = values as Readonly<Record<string, unknown>>
    const fields = Object.keys(wanted)
    // Like a unique constraint in SQL, a key with an empty field identifies nothing.
    if (fields.some((field) => wanted[field] === null)) return []
    const found = this.#candidates(kind, fields, wanted)
    if (fields.length === 1) return found
    return found.filter((record) =>
      fields.every((field) => keyEntry(field, fieldOf(record as AnyRecord, field)) === keyEntry(field, wanted[field])),
    )
  }

  /** Records that agree with one field of a key: one that is a key of its own, otherwise a reference. */
  #candidates<K extends Kind>(kind: K, fields: readonly string[], wanted: Readonly<Record<string, unknown>>): readonly RecordOf<K>[] {
    for (const indexOf of [keyIndex, referrerIndex])
      for (const field of fields) {
        const name = indexOf(kind, field)
        if (this.#indexes.has(name)) return this.#lookUp(kind, name, keyEntry(field, wanted[field]))
      }
    throw new Error(`No index finds a ${kind} by ${fields.join(' and ')}; its kind's definition names no such key.`)
  }

  #lookUp<K extends Kind>(kind: K, name: string, entry: string): readonly RecordOf<K>[] {
    const index = this.#indexes.get(name)
    if (!index) throw new Error(`There is no index ${name}; its kind's definition names none.`)
    const found: RecordOf<K>[] = []
    for (const id of index.get(entry) ?? []) {
      const record = this.#tables[kind].get(id)
      if (record) found.push(record)
    }
    return found
  }

  /** The estate after a difference. */
  with({ added, updated, removed }: Difference): Estate {
    const records = new Map<Kind, Map<string, AnyRecord | undefined>>()
    const entries = new Map<string, Map<string, readonly string[] | undefined>>()
    const idsAt = (name: string, entry: string) => {
      const edited = entries.get(name)
      return (edited?.has(entry) ? edited.get(entry) : this.#indexes.get(name)?.get(entry)) ?? []
    }
    const put = (kind: Kind, id: string, from: AnyRecord | undefined, to: AnyRecord | undefined) => {
      within(records, kind).set(id, to)
      for (const { name, entryOf } of indexDefinitions[kind]) {
        const [before, after] = [from && entryOf(from), to && entryOf(to)]
        if (before === after) continue
        if (before !== undefined) {
          const left = idsAt(name, before).filter((other) => other !== id)
          within(entries, name).set(before, left.length > 0 ? left : undefined)
        }
        if (after !== undefined) within(entries, name).set(after, [...idsAt(name, after), id])
      }
    }
    for (const [id, { kind, record }] of Object.entries(removed)) put(kind, id, record, undefined)
    for (const [id, { kind, from, to }] of Object.entries(updated)) put(kind, id, from, to)
    for (const [id, { kind, record }] of Object.entries(added)) put(kind, id, undefined, record)

    const tables = { ...this.#tables }
    for (const [kind, changes] of records) tables[kind] = tables[kind].edit(changes)
    const indexes = new Map(this.#indexes)
    for (const [name, changes] of entries) {
      const index = indexes.get(name)
      if (index) indexes.set(name, index.edit(changes))
    }
    return new Estate(tables, indexes)
  }

  /** All records by kind, each kind ordered by id, so that two equal estates give equal records. */
  toRecords(): Records {
    return Object.fromEntries(
      kindNames.map((kind) => [kind, this.#tables[kind].values().sort((a, b) => (a.id < b.id ? -1 : 1))]),
    ) as unknown as Records
  }
}

/** The inner map of a key, made when it is first asked for. */
function within<K, V>(maps: Map<K, Map<string, V>>, key: K): Map<string, V> {
  let inner = maps.get(key)
  if (!inner) {
    inner = new Map()
    maps.set(key, inner)
  }
  return inner
}
