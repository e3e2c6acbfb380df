import { useSyncExternalStore } from 'react'
import { flushSync } from 'react-dom'

const matches = (query: string): boolean => typeof window.matchMedia === 'function' && window.matchMedia(query).matches

/**
 * Whether a media query holds, followed as that changes.
 *
 * @example useMedia('(width >= 1600px)')
 */
function useMedia(query: string): boolean {
  return useSyncExternalStore(
    (changed) => {
      if (typeof window.matchMedia !== 'function') return () => undefined
      const media = window.matchMedia(query)
      // At once: paper is drawn right after this event.
      const follow = () => flushSync(changed)
      media.addEventListener('change', follow)
      return () => media.removeEventListener('change', follow)
    },
    () => matches(query),
  )
}

/** Whether the page is being put on paper: then all of it is drawn, not what is in sight. */
export const usePrinting = (): boolean => useMedia('print')

/** Whether there is no room for a table of several columns. */
export const useIsNarrow = (): boolean => useMedia('(width < 40rem)')

/** From here on a list and one of its things are side by side. */
export const useIsWide = (): boolean => useMedia('(width >= 1600px)')
