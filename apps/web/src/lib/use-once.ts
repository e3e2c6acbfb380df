import { useCallback, useRef } from 'react'

/**
 * Does one thing at a time: who presses a button twice, or the keys for it, means it once.
 *
 * @returns does some work; while other work of it is under way, nothing
 * @example
 * const once = useOnce()
 * const record = () => once(() => submit(commands))
 */
export function useOnce(): <T>(work: () => Promise<T>) => Promise<T | undefined> {
  const isBusy = useRef(false)
  return useCallback(async (work) => {
    if (isBusy.current) return undefined
    isBusy.current = true
    try {
      return await work()
    } finally {
      isBusy.current = false
    }
  }, [])
}
