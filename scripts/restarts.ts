/** So many ends one after the other are chance; more are a reason to wait before the next start. */
const CHANCE = 5
/** What ran for longer than this had started well. */
const WELL_MS = 60_000
const LONGEST_MS = 60_000

/** Says how long to wait before a part that ended is started again: not at all at first, then ever longer, a minute at the most. */
export class Restarts {
  #inRow = 0
  #startedAt = 0

  /** How often it ended, one time soon after the other. */
  get inRow(): number {
    return this.#inRow
  }

  /**
   * @param now when it ended, milliseconds
   * @returns milliseconds to wait before the next start
   */
  waitAfter(now: number): number {
    this.#inRow = this.#inRow > 0 && now - this.#startedAt <= WELL_MS ? this.#inRow + 1 : 1
    const wait = this.#inRow <= CHANCE ? 0 : Math.min(LONGEST_MS, 1000 * 2 ** (this.#inRow - CHANCE - 1))
    this.#startedAt = now + wait
    return wait
  }
}
