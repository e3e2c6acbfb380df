import type { ProgressView } from '@insel/core'

/** Readings taken in, and those that were not. */
export interface ReadingsTaken {
  readonly taken: number
  readonly rejected: readonly { readonly index: number; readonly reason: string }[]
  /** Lines of a text in which nothing was said of progress. */
  readonly unread: number
}

/** How a transfer stands. */
export interface TransferResponse extends ProgressView {
  /** How many readings there are. */
  readonly count: number
  /** What has to be moved, bytes. */
  readonly totalBytes: number
}
