import { Injectable } from '@nestjs/common'

/** A refusal counts for so long, unless something is written before: who balances load would otherwise never send a change again. */
const COUNTS_MS = 60_000

/** Whether the database last refused a change for want of room on its disk. Reading goes on, so only a change finds out. */
@Injectable()
export class DatabaseRoom {
  #last: { readonly at: number; readonly why: string } | undefined

  refused(why: string): void {
    this.#last = { at: performance.now(), why }
  }

  wrote(): void {
    this.#last = undefined
  }

  /** Why there is no room, in a sentence; undefined where nothing is known of that. */
  get trouble(): string | undefined {
    return this.#last && performance.now() - this.#last.at < COUNTS_MS ? this.#last.why : undefined
  }
}
