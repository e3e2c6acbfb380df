import type { NewRecord, Summary } from '@insel/core'

/** A system of the catalogue, as an estate would record it. */
export interface CatalogueItem {
  readonly shortId: string
  readonly values: NewRecord<'system'>
}

/** Systems that fit a search, and the dataset they are from. */
export interface CatalogueResponse {
  /** The dataset that was read, or null where it is not installed. */
  readonly dataset: { readonly name: string; readonly version: string; readonly systems: number; readonly loadedAt: string } | null
  readonly items: readonly CatalogueItem[]
  /** How many fit in all. */
  readonly total: number
}

/** Samples taken in, and those that were refused. */
export interface ObservationsTaken {
  readonly taken: number
  readonly rejected: readonly { readonly index: number; readonly reason: string }[]
}

/** What was observed of guests and stores over some days. */
export interface SummariesResponse {
  /** The last observation of anything, ISO 8601. */
  readonly lastSeen: string | null
  readonly summaries: Readonly<Record<string, Summary>>
}

/** Bytes in use on the last observation of each day, by the id of a guest or store. */
export interface DailyResponse {
  readonly daily: Readonly<Record<string, readonly (readonly [day: string, bytes: number])[]>>
}

/** A guest that sends observations on its own. */
export interface ObserverStarted {
  /** The line that sets it up inside the guest; it holds the key, which is shown once. */
  readonly command: string
}
export interface ObserverState {
  readonly madeAt: string
  readonly lastSeenAt: string | null
}
