import { EVENT_ESTATES_MAX, type RevisionEvent } from '@insel/contract'
import { AWAY } from '../lib/api'

/** Before a stream that the server has ended is opened again. */
const REOPEN_MS = 3000

/** One connection to the server's events, for all the estates that are wanted. */
export class RevisionStream {
  readonly #tell: (event: RevisionEvent) => void
  readonly #last = new Map<string, RevisionEvent>()
  #source: EventSource | undefined
  #wanted: readonly string[] = []
  #reopening: ReturnType<typeof setTimeout> | undefined

  /** @param tell called with the revision of a wanted estate, at first and after each change */
  constructor(tell: (event: RevisionEvent) => void) {
    this.#tell = tell
  }

  /** The last that was heard of an estate. */
  last(estateId: string): RevisionEvent | undefined {
    return this.#last.get(estateId)
  }

  /** Says of which estates to hear from now on; with others than before the connection is made again. */
  want(estates: ReadonlySet<string>): void {
    const wanted = [...estates].slice(-EVENT_ESTATES_MAX).sort()
    if (wanted.join() === this.#wanted.join()) return
    this.#wanted = wanted
    for (const id of this.#last.keys()) if (!estates.has(id)) this.#last.delete(id)
    this.#open()
  }

  #open(): void {
    clearTimeout(this.#reopening)
    this.#source?.close()
    this.#source = undefined
    if (this.#wanted.length === 0) return
    const source = new EventSource(`/api/v1/events?estates=${this.#wanted.join(',')}`)
    this.#source = source
    source.addEventListener('revision', (event) => {
      const told = JSON.parse((event as MessageEvent<string>).data) as RevisionEvent
      this.#last.set(told.estateId, told)
      this.#tell(told)
    })
    source.addEventListener('error', () => {
      dispatchEvent(new Event(AWAY))
      // A broken connection the browser makes again by itself; one that was answered otherwise it gives up.
      if (source.readyState !== EventSource.CLOSED) return
      clearTimeout(this.#reopening)
      this.#reopening = setTimeout(() => this.#open(), REOPEN_MS)
    })
  }
}
