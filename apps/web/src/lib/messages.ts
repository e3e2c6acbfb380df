import { useSyncExternalStore } from 'react'

/** What the line under the bar says: what was just done, or why it was not. */
export interface Message {
  readonly sentence: string
  readonly isTrouble: boolean
  /** Undoes what the sentence says, where that can be done. */
  readonly undo?: () => void
}

let current: Message | undefined
const listeners = new Set<() => void>()

/** Shows a message until the next one comes. It has its own place on the page, so it never covers anything. */
export function say(message: Message | undefined): void {
  current = message
  for (const listener of listeners) listener()
}

/** The message that is shown now. */
export const currentMessage = (): Message | undefined => current

/** The last message, if there was one. */
export const useMessage = (): Message | undefined =>
  useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, currentMessage)
