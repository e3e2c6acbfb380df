/**
 * Work that is begun when there is time for it, and asked for later.
 *
 * @example
 * const answer = new Meanwhile(() => workOut())
 * await write(rows, answer.begin) // calls `begin` when the rows are on their way
 * return answer.result()
 */
export class Meanwhile<T> {
  readonly #work: () => Promise<T>
  #begun: Promise<T> | undefined

  constructor(work: () => Promise<T>) {
    this.#work = work
  }

  /** Begins, where it has not begun. What goes wrong is told to whoever asks for the result. */
  readonly begin = (): void => void this.result().catch(() => undefined)

  /** What comes of it. */
  result(): Promise<T> {
    this.#begun ??= this.#work()
    return this.#begun
  }
}
