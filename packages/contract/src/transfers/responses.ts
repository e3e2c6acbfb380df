import type { NumberDoubt, ProgressView } from '@insel/core'

/** Readings taken in, and those that were not. */
export interface ReadingsTaken {
  readonly taken: number
  readonly rejected: readonly { readonly index: number; readonly reason: string }[]
  /** Lines of a text in which nothing was said of progress. */
  readonly unread: number
  /** A number of the text that may be two: nothing was taken; send it again with the style that is meant. */
  readonly doubt?: NumberDoubt
  /** What is odd about those that were taken, a sentence each: from before the copying began, or long before the newest. */
  readonly remarks: readonly string[]
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
