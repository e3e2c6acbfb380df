import type { Difference } from './difference.js'
import { kindNames, kinds, referencesOf, type AnyRecord, type Kind, type RecordOf, type Records } from './kinds/index.js'
import { LayeredMap, type Layer, type OpenLayer } from './layered-map.js'

type Table = Layer<AnyRecord>
/** Ids of records, by what their field or key holds. */
type Index = Layer<readonly string[]>
type Tables = Readonly<Record<Kind, Table>>
type Indexes = ReadonlyMap<string, Index>
type Lists = Map<Kind, readonly AnyRecord[]>

/** How an index is filled: the entry of a record, or undefined when it has none. */
interface IndexDefinition {
  readonly name: string
  readonly kind: Kind
  /** A list where the field holds one. */
  readonly entryOf: (record: AnyRecord) => string | readonly string[] | undefined
}

const NO_ENTRIES: readonly string[] = []
const entriesOf = (entry: string | readonly string[] | undefined): readonly string[] =>
  entry === undefined ? NO_ENTRIES : typeof entry === 'string' ? [entry] : entry

const fieldOf = (record: AnyRecord, field: string): unknown => (record as unknown as Record<string, unknown>)[field]
/** A name of an index, made once: it is asked for at every look-up. */
function named(mark: string): (kind: Kind, field: string) => string {
  const names = new Map<Kind, Map<string, string>>(kindNames.map((kind) => [kind, new Map<string, string>()]))
  return (kind, field) => {
    const ofKind = names.get(kind)
    const known = ofKind?.get(field)
    if (known !== undefined) return known
    const name = `${kind}.${field}${mark}`
    ofKind?.set(field, name)
    return name
  }
}
const referrerIndex = named('>')
const keyIndex = named('=')
/** Names compare without case; everything else a key holds is in one form already. */
const keyEntry = (field: string, value: unknown): string => (field === 'name' ? String(value).toLowerCase() : String(value))

const indexDefinitions: Readonly<Record<Kind, readonly IndexDefinition[]>> = Object.fromEntries(
  kindNames.map((kind) => [
    kind,
    [
      ...referencesOf(kind).map(({ field }): IndexDefinition => ({
        name: referrerIndex(kind, field),
        kind,
        entryOf: (record) => (fieldOf(record, field) as string | readonly string[] | null) ?? undefined,
      })),
      // A key of several fields is looked up by one of them: it holds a reference, or a field that is its own key.
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

/** Values worked out from estates, by the function that does it and by the identities of the tables it reads. */
const workedOut = new WeakMap<object, WeakMap<object, unknown>>()
/** The index of the value among them. */
const VALUE = {}
/** What keeps the values of one thing after the other, by the function that works them out. */
const makers = new WeakMap<object, (estate: Estate) => { readonly estate: Estate; readonly known: Map<unknown, unknown> }>()

let nothing: Estate | undefined

/** An estate that is being changed. What it gives out to read is as the estate is at that moment, and is not kept. */
export interface EstateBuilder {
  /** The estate as it is now. */
  readonly estate: Estate
  /** Takes a difference in. @returns the estate after it */
  take(difference: Difference): Estate
  /** Takes in what happened to one record: it came, changed, or went. */
  put(kind: Kind, from: AnyRecord | undefined, to: AnyRecord | undefined): void
  /** A place in what was taken, to go back to. */
  mark(): number
  /** What was taken last: the same object for as long as nothing else was taken or undone. */
  last(): object | undefined
  /** Undoes what was taken since a mark. */
  rollBack(mark: number): void
  /** The estate with all of it, as a value. Nothing is taken in after that. */
  finish(): Estate
}

/**
 * All records of an estate at one moment, with what is needed to find them: by id, by who refers to them, by key.
 * A value: a change gives a new estate that shares what did not change. Rules, plans and screens all read it.
 */
export class Estate {
  readonly #tables: Tables
  readonly #indexes: Indexes
  readonly #kinds: Layer<Kind>
  readonly #lists: Lists
  /** The identity of a table that is written to in place: another object after each change of it. */
  readonly #tokens: Readonly<Partial<Record<Kind, object>>>
  /** The kinds that may be read; all of them where it does not say. */
  readonly #visible: ReadonlySet<Kind> | undefined

  private constructor(
    tables: Tables,
    indexes: Indexes,
    kindsById: Layer<Kind>,
    lists: Lists = new Map(),
    tokens: Readonly<Partial<Record<Kind, object>>> = {},
    visible?: ReadonlySet<Kind>,
  ) {
    this.#tables = tables
    this.#indexes = indexes
    this.#kinds = kindsById
    this.#lists = lists
    this.#tokens = tokens
    this.#visible = visible
  }

  /** An estate of these records; kinds left out are empty. Does not check them: the commands do. */
  static fromRecords(records: Partial<Records>): Estate {
    const tables: Partial<Record<Kind, Table>> = {}
    const indexes = new Map<string, Index>()
    const kindsById = new Map<string, Kind>()
    for (const kind of kindNames) {
      const list: readonly AnyRecord[] = records[kind] ?? []
      const table = new Map<string, AnyRecord>()
      for (const record of list) {
        table.set(record.id, record)
        kindsById.set(record.id, kind)
      }
      tables[kind] = LayeredMap.of(table)
      for (const { name, entryOf } of indexDefinitions[kind]) {
        const index = new Map<string, string[]>()
        for (const record of list) {
          const entries = entryOf(record)
          if (entries === undefined) continue
          for (const entry of typeof entries === 'string' ? [entries] : entries) {
            const ids = index.get(entry)
            if (ids) ids.push(record.id)
            else index.set(entry, [record.id])
          }
        }
        indexes.set(name, LayeredMap.of(index))
      }
    }
    return new Estate(tables as Record<Kind, Table>, indexes, LayeredMap.of(kindsById))
  }

  /** An estate with nothing in it. */
  static get empty(): Estate {
    nothing ??= Estate.fromRecords({})
    return nothing
  }

  /** The record of a kind with this id, if there is one. */
  find<K extends Kind>(kind: K, id: string | null | undefined): RecordOf<K> | undefined {
    return id ? this.#read(kind).get(id) : undefined
  }

  /** All records of a kind, in no particular order. */
  all<K extends Kind>(kind: K): readonly RecordOf<K>[] {
    const table = this.#read(kind)
    let list = this.#lists.get(kind)
    if (!list) {
      list = table.values()
      this.#lists.set(kind, list)
    }
    return list
  }

  /** How many records of a kind there are. */
  count(kind: Kind): number {
    return this.#read(kind).size
  }

  /** The same object for as long as no record of the kind changes. */
  tableOf(kind: Kind): object {
    return this.#tokens[kind] ?? this.#tables[kind]
  }

  /**
   * A value worked out from records of some kinds, once for as long as none of these changes: in this estate and in every other that
   * has the same.
   *
   * @param kinds what the function reads; reading another throws, so that no value is ever behind
   * @param workOut the same function each time, one that is at the top of its file
   * @example estate.derive(['guest', 'host'], guestsByHost)
   */
  derive<T>(kinds: readonly Kind[], workOut: (estate: Estate) => T): T {
    let node = workedOut.get(workOut)
    if (!node) {
      node = new WeakMap()
      workedOut.set(workOut, node)
    }
    for (const kind of kinds) {
      const table = this.tableOf(kind)
      let next = node.get(table) as WeakMap<object, unknown> | undefined
      if (!next) {
        next = new WeakMap()
        node.set(table, next)
      }
      node = next
    }
    if (!node.has(VALUE)) node.set(VALUE, workOut(this.#seeing(kinds)))
    return node.get(VALUE) as T
  }

  /**
   * The same for one thing after the other: each is worked out when it is first asked for.
   *
   * @example estate.deriveFor(['store', 'disk'], store.id, budgetOf)
   */
  deriveFor<K, T>(kinds: readonly Kind[], key: K, workOut: (estate: Estate, key: K) => T): T {
    let make = makers.get(workOut)
    if (!make) {
      make = (estate: Estate) => ({ estate, known: new Map<unknown, unknown>() })
      makers.set(workOut, make)
    }
    const { estate, known } = this.derive(kinds, make)
    if (!known.has(key)) known.set(key, workOut(estate, key))
    return known.get(key) as T
  }

  /** The same records, of which those of some kinds alone can be read. */
  #seeing(kinds: readonly Kind[]): Estate {
    const visible = new Set(this.#visible ? kinds.filter((kind) => this.#visible?.has(kind)) : kinds)
    return new Estate(this.#tables, this.#indexes, this.#kinds, this.#lists, this.#tokens, visible)
  }

  #read(kind: Kind): Table {
    if (this.#visible && !this.#visible.has(kind))
      throw new Error(`What is worked out here reads records of the kind “${kind}” and does not say so; add it to the kinds of derive.`)
    return this.#tables[kind]
  }

  /** The kind of the record with this id, if it is here. */
  kindOf(id: string): Kind | undefined {
    return this.#kinds.get(id)
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

  /** Records that agree with one field of a key: one that is its own key, otherwise a reference. */
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
    const table = this.#read(kind)
    for (const id of index.get(entry) ?? []) {
      const record = table.get(id)
      if (record) found.push(record)
    }
    return found
  }

  /** The estate after a difference. */
  with(difference: Difference): Estate {
    const builder = this.edit()
    builder.take(difference)
    return builder.finish()
  }

  /** Begins to change the estate by one difference after the other, in time that grows with them alone. It stays as it is. */
  edit(): EstateBuilder {
    const tables: Record<Kind, Table> = { ...this.#tables }
    const indexes = new Map(this.#indexes)
    const openTables = new Map<Kind, OpenLayer<AnyRecord>>()
    const openIndexes = new Map<string, OpenLayer<readonly string[]>>()
    /** Lists of ids that this edit has made, and may add to. */
    const own = new WeakSet<readonly string[]>()
    const undo: (() => void)[] = []
    const tableOf = (kind: Kind) => {
      let open = openTables.get(kind)
      if (!open) {
        open = tables[kind].open()
        openTables.set(kind, open)
        tables[kind] = open
      }
      return open
    }
    const indexOf = (name: string) => {
      let open = openIndexes.get(name)
      if (!open) {
        open = indexes.get(name)?.open()
        if (!open) throw new Error(`There is no index ${name}; its kind's definition names none.`)
        openIndexes.set(name, open)
        indexes.set(name, open)
      }
      return open
    }
    const kindsById = this.#kinds.open()
    const set = (kind: Kind, id: string, from: AnyRecord | undefined, to: AnyRecord | undefined) => {
      undo.push(tableOf(kind).set(id, to))
      if (!from !== !to) undo.push(kindsById.set(id, to && kind))
      for (const { name, entryOf } of indexDefinitions[kind]) {
        const [before, after] = [from && entryOf(from), to && entryOf(to)]
        if (before === after) continue
        const index = indexOf(name)
        for (const entry of entriesOf(before)) {
          const left = (index.get(entry) ?? []).filter((other) => other !== id)
          own.add(left)
          undo.push(index.set(entry, left.length > 0 ? left : undefined))
        }
        for (const entry of entriesOf(after)) {
          const ids = index.get(entry)
          if (ids && own.has(ids)) {
            const mine = ids as string[]
            mine.push(id)
            undo.push(() => mine.pop())
          } else {
            const made = [...(ids ?? []), id]
            own.add(made)
            undo.push(index.set(entry, made))
          }
        }
      }
    }
    const [lists, tokens] = [new Map(this.#lists), { ...this.#tokens }]
    /** Shows each change as soon as it is made. */
    const view = new Estate(tables, indexes, kindsById, lists, tokens)
    const look = (kind: Kind) => {
      lists.delete(kind)
      tokens[kind] = {}
    }
    return {
      get estate() {
        return view
      },
      take({ added, updated, removed }) {
        const touched = new Set<Kind>()
        const taken = (kind: Kind, id: string, from: AnyRecord | undefined, to: AnyRecord | undefined) => {
          touched.add(kind)
          set(kind, id, from, to)
        }
        for (const [id, { kind, record }] of Object.entries(removed)) taken(kind, id, record, undefined)
        for (const [id, { kind, from, to }] of Object.entries(updated)) taken(kind, id, from, to)
        for (const [id, { kind, record }] of Object.entries(added)) taken(kind, id, undefined, record)
        touched.forEach(look)
        return view
      },
      put(kind, from, to) {
        set(kind, (to ?? from)?.id ?? '', from, to)
        look(kind)
      },
      mark: () => undo.length,
      last: () => undo.at(-1),
      rollBack(mark) {
        while (undo.length > mark) undo.pop()?.()
        for (const kind of openTables.keys()) look(kind)
      },
      finish() {
        for (const [kind, open] of openTables) tables[kind] = open.close()
        for (const [name, open] of openIndexes) indexes.set(name, open.close())
        return new Estate(tables, indexes, kindsById.close(), lists)
      },
    }
  }

  /** All records by kind, each kind ordered by id, so that two equal estates give equal records. */
  toRecords(): Records {
    return Object.fromEntries(
      kindNames.map((kind) => [kind, this.#tables[kind].values().sort((a, b) => (a.id < b.id ? -1 : 1))]),
    ) as unknown as Records
  }
}
