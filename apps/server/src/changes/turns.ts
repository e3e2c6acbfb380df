import { busy } from '../problems/problem.js'

/** What waits for its turn, and who waits for it. */
interface Waiting<W, R> {
  readonly wish: W
  readonly timer: NodeJS.Timeout
  resolve(result: R): void
  reject(error: unknown): void
}

/**
 * Serves what waits for a turn.
 *
 * @param take gives out the wishes that wait together by now: asked once, as late as may be; the last of them may be left for the next turn
 * @returns what became of each that was served, in their order: of those that were given out at least the first
 */
export type Serve<W, R> = (name: string, take: () => readonly W[]) => Promise<readonly PromiseSettledResult<R>[]>

/** How many may be served together, how many names at the same time, and how long one waits for its turn, milliseconds. */
export interface TurnLimits {
  readonly together: number
  readonly names: number
  readonly withinMs: number
}

/**
 * One turn after the other for each name. What comes in while a turn is on waits here, and not at the database, and is served in the next
 * turn together: a rush of changes of one estate holds one connection and takes few ways to the database.
 */
export class Turns<W, R> {
  readonly #waiting = new Map<string, Waiting<W, R>[]>()
  readonly #served = new Set<string>()

  constructor(
    private readonly serve: Serve<W, R>,
    private readonly limits: TurnLimits,
  ) {}

  /**
   * What becomes of a wish when its turn has come.
   *
   * @throws ProblemError 503 when it did not come in time, so that it was not done and will not be; and what serving it throws
   */
  take(name: string, wish: W): Promise<R> {
    return new Promise((resolve, reject) => {
      const one: Waiting<W, R> = {
        wish,
        resolve,
        reject,
        timer: setTimeout(() => {
          const queue = this.#waiting.get(name)
          queue?.splice(queue.indexOf(one), 1)
          reject(
            busy('Others are changing this estate, and their changes take longer than usual; nothing was changed. Try again in a moment.'),
          )
        }, this.limits.withinMs),
      }
      const queue = this.#waiting.get(name)
      if (queue) queue.push(one)
      else this.#waiting.set(name, [one])
      this.#next()
    })
  }

  /** Begins the turns that may begin. */
  #next(): void {
    for (const [name, queue] of this.#waiting) {
      if (this.#served.size >= this.limits.names) return
      if (this.#served.has(name)) continue
      if (queue.length === 0) this.#waiting.delete(name)
      else void this.#turn(name, queue)
    }
  }

  async #turn(name: string, queue: Waiting<W, R>[]): Promise<void> {
    this.#served.add(name)
    let together: Waiting<W, R>[] = []
    const take = () => {
      together = queue.splice(0, this.limits.together)
      for (const { timer } of together) clearTimeout(timer)
      return together.map(({ wish }) => wish)
    }
    let results: readonly PromiseSettledResult<R>[]
    try {
      results = await this.serve(name, take)
    } catch (reason) {
      if (together.length === 0) take()
      results = together.map(() => ({ status: 'rejected', reason }))
    }
    together.forEach((one, index) => {
      const result = results[index]
      if (result?.status === 'fulfilled') one.resolve(result.value)
      else if (result) one.reject(result.reason)
    })
    queue.unshift(...together.slice(results.length))
    this.#served.delete(name)
    this.#next()
  }
}
