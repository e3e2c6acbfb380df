import { useEffect, useState } from 'react'

/** The time it is, milliseconds since 1970, told again and again. @param everyMs how often */
export function useNow(everyMs: number): number {
  const [at, setAt] = useState(Date.now)
  useEffect(() => {
    const timer = window.setInterval(() => setAt(Date.now()), everyMs)
    return () => window.clearInterval(timer)
  }, [everyMs])
  return at
}

/** How often a page looks whether something has grown old, milliseconds. */
export const LOOK_EVERY_MS = 15_000
