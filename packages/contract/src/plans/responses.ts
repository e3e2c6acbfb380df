import type { Difference, FieldProblem } from '@insel/core'

/** An item as a plan goes from the record as it is now. */
export interface ProjectedItemResponse {
  readonly itemId: string
  readonly title: string
  readonly minutes: number
  /** What it would do; null where it cannot be applied. */
  readonly difference: Difference | null
  /** Why it cannot be applied. */
  readonly refusal: { readonly code: string; readonly message: string; readonly errors: readonly FieldProblem[] } | null
  /** How its effect has changed since it was written, in sentences; it is stale where there are any, or it cannot be applied. */
  readonly departures: readonly string[]
}

/** `GET plans/:id/projection`: the items that are still to be done, and what they do together. */
export interface ProjectionResponse {
  readonly revision: number
  readonly items: readonly ProjectedItemResponse[]
  readonly difference: Difference
}

/** `POST plans/:id/revert`: what was reverted, the last first, and why it went no further. */
export interface PlanRevertResponse {
  readonly revision: number
  readonly reverted: readonly string[]
  readonly stopped: { readonly itemId: string; readonly message: string } | null
}
