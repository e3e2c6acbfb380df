/** The turn of something did not come in time: it was not run, and will not be. */
export class TurnMissedError extends Error {}

/** Until something is over. @throws TurnMissedError */
async function inTime(before: Promise<void>, withinMs: number): Promise<void> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new TurnMissedError('the turn did not come in time')), withinMs)
  })
  try {
    await Promise.race([before, late])
  } finally {
    clearTimeout(timer)
  }
}

/**
 * One turn after the other for each name. Changes of one estate wait for each other at the lock of its head anyway; when
 * they wait here instead, a rush of them holds one database connection and not all, and none is refused for waiting.
 */
export class KeyedQueue {
  readonly #last = new Map<string, Promise<void>>()

  /**
   * Runs work when everything asked for earlier under this name has ended, well or not.
   *
   * @param withinMs how long it waits for its turn; then it is not run at all
   * @throws TurnMissedError when its turn did not come in time
   */
  async take<T>(name: string, work: () => Promise<T>, withinMs: number): Promise<T> {
    const before = this.#last.get(name) ?? Promise.resolve()
    const result = inTime(before, withinMs).then(work)
    const ended = Promise.allSettled([before, result]).then(() => undefined)
    this.#last.set(name, ended)
    try {
      return await result
    } finally {
      if (this.#last.get(name) === ended) this.#last.delete(name)
    }
  }
}
