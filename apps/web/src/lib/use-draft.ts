import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { say } from './messages'
import { readStored, store } from './storage'
import { now } from './time'

/** What was typed and not recorded, as this browser kept it. */
export interface KeptDraft<T> {
  readonly at: string
  readonly value: T
}

const KEEP_MS = 300

/**
 * Keeps what is typed on a page in this browser until it is recorded, whatever one does meanwhile, and offers it when one comes back.
 *
 * @param key of the estate and the thing; the same on the way back
 * @param value what is typed now; undefined while nothing is
 */
export function useDraft<T>(key: string, value: T | undefined) {
  const slot = `draft.${key}`
  const [offered, setOffered] = useState(() => readStored<KeptDraft<T>>(slot))
  // Tables are megabytes, and are drawn again for much that is not theirs.
  const text = useMemo(() => (value === undefined ? undefined : JSON.stringify(value)), [value])
  /** What is to be kept: what was typed last, until it is recorded. */
  const typed = useRef<string>(undefined)
  const before = useRef(text)
  const keep = useCallback(() => {
    if (typed.current !== undefined) store(slot, { at: now(), value: JSON.parse(typed.current) as T } satisfies KeptDraft<T>)
  }, [slot])
  useEffect(() => {
    if (text === before.current) return
    before.current = text
    typed.current = text
    // What was typed and taken back again leaves nothing to come back to but what is still offered.
    if (text === undefined) store(slot, offered)
    const timer = setTimeout(keep, KEEP_MS)
    return () => clearTimeout(timer)
  }, [text, slot, keep, offered])
  useEffect(() => {
    window.addEventListener('pagehide', keep)
    return () => {
      window.removeEventListener('pagehide', keep)
      keep()
    }
  }, [keep])
  return {
    offered,
    /** It is taken up: what was kept stands in the page again. */
    taken: () => setOffered(undefined),
    /** What was typed now was recorded: it is not kept. What is still offered was not, and is offered again. */
    over: () => {
      typed.current = undefined
      store(slot, offered)
    },
    /** It is not wanted, until one thinks better of it. */
    discard: () => {
      store(slot, undefined)
      setOffered(undefined)
      say({
        sentence: 'What was typed here is discarded.',
        isTrouble: false,
        undo: () => {
          store(slot, offered)
          setOffered(offered)
        },
      })
    },
  }
}
