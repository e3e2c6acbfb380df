import type { ProgressView } from '@insel/core'

/** Readings taken in, and those that were not. */
export interface ReadingsTaken {
  readonly taken: number
  readonly rejected: readonly { readonly index: number; readonly reason: string }[]
  /** Lines of a text in which nothing was said of progress. */
  readonly unread: number
}

/** How many readings of a move there are. */
export interface ReadingsCount {
  readonly count: number
}

/** How a transfer stands. */
export interface TransferResponse extends ProgressView {
  /** How many readings there are; null where they are more than are looked at: counting them takes longer than all else, see `GET samples/count`. */
  readonly count: number | null
  /** What has to be moved, bytes. */
  readonly totalBytes: number
}
