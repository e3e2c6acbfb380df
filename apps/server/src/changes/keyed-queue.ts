/**
 * One turn after the other for each name. Changes of one estate wait for each other at the lock of its head anyway; when
 * they wait here instead, a rush of them holds one database connection and not all, and none is refused for waiting.
 */
export class KeyedQueue {
  readonly #last = new Map<string, Promise<void>>()

  /** Runs work when everything asked for earlier under this name has ended, well or not. */
  async take<T>(name: string, work: () => Promise<T>): Promise<T> {
    const before = this.#last.get(name) ?? Promise.resolve()
    const result = before.then(work)
    const ended = result.then(
      () => undefined,
      () => undefined,
    )
    this.#last.set(name, ended)
    try {
      return await result
    } finally {
      if (this.#last.get(name) === ended) this.#last.delete(name)
    }
  }
}
