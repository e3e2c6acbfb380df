/** Past this many changed keys the layers are merged, so that the overlay stays cheap to copy. */
const MERGE_AT = 512

const NOTHING: Keys = new Set<string>()

/** Keys to leave out. */
interface Keys {
  readonly size: number
  has(key: string): boolean
}

/** What a table or an index is read by. */
export interface Layer<V> {
  readonly size: number
  get(key: string): V | undefined
  has(key: string): boolean
  values(): V[]
  /** The values of all keys but some. */
  valuesBeside(others: Keys): V[]
  /** One above it to be written to, which leaves it as it is. */
  open(): OpenLayer<V>
  /** What it holds now, as a map that never changes. */
  close(): LayeredMap<V>
}

/** Stands in a layer for a key that is not there any more, so that one look says whether the layer below has to be asked. */
const GONE = Symbol('gone')
type Held<V> = V | typeof GONE

/**
 * A map that never changes: `edit` gives a new one that shares the large base and differs by a small overlay. Meant
 * for the estate's tables, where a command touches a few of tens of thousands of records. (A general persistent map was
 * measured first: building one for 130,000 index entries took ten times the budget.)
 */
export class LayeredMap<V> implements Layer<V> {
  readonly size: number
  readonly #base: ReadonlyMap<string, V>
  readonly #overlay: ReadonlyMap<string, Held<V>>

  private constructor(base: ReadonlyMap<string, V>, overlay: ReadonlyMap<string, Held<V>>, size: number) {
    this.#base = base
    this.#overlay = overlay
    this.size = size
  }

  /** Takes the map as it is: the caller gives it away. */
  static of<V>(base: ReadonlyMap<string, V>): LayeredMap<V> {
    return new LayeredMap<V>(base, new Map(), base.size)
  }

  get(key: string): V | undefined {
    if (this.#overlay.size === 0) return this.#base.get(key)
    const changed = this.#overlay.get(key)
    if (changed === undefined) return this.#base.get(key)
    return changed === GONE ? undefined : changed
  }

  has(key: string): boolean {
    return this.get(key) !== undefined
  }

  values(): V[] {
    return this.valuesBeside(NOTHING)
  }

  keys(): string[] {
    const kept = [...this.#base.keys()].filter((key) => !this.#overlay.has(key))
    for (const [key, value] of this.#overlay) if (value !== GONE) kept.push(key)
    return kept
  }

  open(): OpenLayer<V> {
    return new OpenLayer(this)
  }

  close(): this {
    return this
  }

  valuesBeside(others: Keys): V[] {
    if (this.#overlay.size === 0 && others.size === 0) return [...this.#base.values()]
    const kept: V[] = []
    for (const [key, value] of this.#base) if (!this.#overlay.has(key) && !others.has(key)) kept.push(value)
    for (const [key, value] of this.#overlay) if (value !== GONE && !others.has(key)) kept.push(value)
    return kept
  }

  /**
   * A map with some keys set, or taken out where the value is undefined.
   *
   * @example map.edit(new Map([['a', 1], ['b', undefined]]))
   */
  edit(changes: ReadonlyMap<string, V | undefined>): LayeredMap<V> {
    return this.over(new Map([...changes].map(([key, value]) => [key, value ?? GONE])))
  }

  /** A map with what a layer above it says. */
  over(changes: ReadonlyMap<string, Held<V>>): LayeredMap<V> {
    if (changes.size === 0) return this
    if (this.#overlay.size + changes.size > MERGE_AT) {
      const merged = new Map(this.#base)
      for (const layer of [this.#overlay, changes])
        for (const [key, value] of layer)
          if (value === GONE) merged.delete(key)
          else merged.set(key, value)
      return LayeredMap.of(merged)
    }
    let size = this.size
    const overlay = new Map(this.#overlay)
    for (const [key, value] of changes) {
      size += Number(value !== GONE) - Number(this.has(key))
      overlay.set(key, value)
    }
    return new LayeredMap(this.#base, overlay, size)
  }
}

/** A layer that is written to, above one that stays as it is. */
export class OpenLayer<V> implements Layer<V> {
  size: number
  readonly #base: Layer<V>
  readonly #changes = new Map<string, Held<V>>()

  constructor(base: Layer<V>) {
    this.#base = base
    this.size = base.size
  }

  get(key: string): V | undefined {
    const changed = this.#changes.get(key)
    if (changed === undefined) return this.#base.get(key)
    return changed === GONE ? undefined : changed
  }

  has(key: string): boolean {
    return this.get(key) !== undefined
  }

  values(): V[] {
    return this.valuesBeside(NOTHING)
  }

  valuesBeside(others: Keys): V[] {
    const changes = this.#changes
    const values = this.#base.valuesBeside(
      others.size === 0 ? changes : { size: changes.size + others.size, has: (key) => changes.has(key) || others.has(key) },
    )
    for (const [key, value] of changes) if (value !== GONE && !others.has(key)) values.push(value)
    return values
  }

  open(): OpenLayer<V> {
    return new OpenLayer<V>(this)
  }

  /** Sets a key, or takes it out. @returns what undoes that */
  set(key: string, value: V | undefined): () => void {
    const changed = this.#changes.get(key)
    const wasThere = changed === undefined ? this.#base.get(key) !== undefined : changed !== GONE
    const grows = Number(value !== undefined) - Number(wasThere)
    this.size += grows
    this.#changes.set(key, value ?? GONE)
    return () => {
      this.size -= grows
      if (changed === undefined) this.#changes.delete(key)
      else this.#changes.set(key, changed)
    }
  }

  close(): LayeredMap<V> {
    return this.#base.close().over(this.#changes)
  }
}
