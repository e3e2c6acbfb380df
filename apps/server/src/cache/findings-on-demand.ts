import { dayOf, Findings, type Difference, type Estate } from '@insel/core'

/** So many changes are gone through one by one before everything is checked instead. */
const CHAIN_MAX = 32

/**
 * The findings of an estate at a revision. Worked out when they are first asked for, so that a change does not hold its lock for them,
 * and from those of the revision before where these are known.
 */
export class FindingsOnDemand {
  #known: Findings | undefined
  #from: { readonly before: FindingsOnDemand; readonly difference: Difference } | undefined
  readonly #depth: number

  /** @param from the findings before a difference, and the difference that led to this estate */
  constructor(
    readonly estate: Estate,
    from?: { readonly before: FindingsOnDemand; readonly difference: Difference },
  ) {
    this.#depth = from && !from.before.#known ? from.before.#depth + 1 : 0
    if (this.#depth <= CHAIN_MAX) this.#from = from
  }

  /** The findings as of now, all of them up to date. */
  settled(): Findings {
    this.#known = this.now().settled()
    return this.#known
  }

  /** The findings as of now, some perhaps pending. Some come due with time, without any change. */
  now(): Findings {
    const today = dayOf(this.estate, new Date().toISOString())
    this.#known ??= this.#workedOut(today)
    this.#known = this.#known.on(today, this.estate)
    this.#from = undefined
    return this.#known
  }

  #workedOut(today: string): Findings {
    const from = this.#from
    return from ? from.before.now().after(this.estate, from.difference) : Findings.of(this.estate, today)
  }
}
