/** Past this many changed keys the layers are merged, so that the overlay stays cheap to copy. */
const MERGE_AT = 512

/**
 * A map that never changes: `edit` gives a new one that shares the large base and differs by a small overlay. Made for
 * the estate's tables, where a command touches a few of tens of thousands of records. (A general persistent map was
 * measured first: building one for 130,000 index entries took ten times the budget.)
 */
export class LayeredMap<V> {
  readonly size: number
  readonly #base: ReadonlyMap<string, V>
  readonly #overlay: ReadonlyMap<string, V | undefined>

  private constructor(base: ReadonlyMap<string, V>, overlay: ReadonlyMap<string, V | undefined>, size: number) {
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
    if (changed !== undefined) return changed
    return this.#overlay.has(key) ? undefined : this.#base.get(key)
  }

  has(key: string): boolean {
    return this.get(key) !== undefined
  }

  values(): V[] {
    if (this.#overlay.size === 0) return [...this.#base.values()]
    const kept: V[] = []
    for (const [key, value] of this.#base) if (!this.#overlay.has(key)) kept.push(value)
    for (const value of this.#overlay.values()) if (value !== undefined) kept.push(value)
    return kept
  }

  /**
   * A map with some keys set, or taken out where the value is undefined.
   *
   * @example map.edit(new Map([['a', 1], ['b', undefined]]))
   */
  edit(changes: ReadonlyMap<string, V | undefined>): LayeredMap<V> {
    if (changes.size === 0) return this
    let size = this.size
    const overlay = new Map(this.#overlay)
    for (const [key, value] of changes) {
      size += Number(value !== undefined) - Number(this.has(key))
      overlay.set(key, value)
    }
    if (overlay.size <= MERGE_AT) return new LayeredMap(this.#base, overlay, size)
    const merged = new Map(this.#base)
    for (const [key, value] of overlay)
      if (value === undefined) merged.delete(key)
      else merged.set(key, value)
    return LayeredMap.of(merged)
  }
}
