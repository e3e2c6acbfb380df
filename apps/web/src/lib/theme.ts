import { useSyncExternalStore } from 'react'
import { usePrinting } from './use-media'

export type Theme = 'light' | 'dark'
const listeners = new Set<() => void>()

const current = (): Theme => (document.documentElement.dataset['theme'] === 'dark' ? 'dark' : 'light')

const STORED = 'insel.theme'

function show(theme: Theme): void {
  document.documentElement.dataset['theme'] = theme
  for (const listener of listeners) listener()
}

/** Changes the theme and remembers it; `public/theme.js` sets it before the first paint. */
export function setTheme(theme: Theme): void {
  localStorage.setItem(STORED, theme)
  show(theme)
}

/** While nobody has chosen a theme, the page goes with the system, also when that changes in the evening. */
export function followSystem(): void {
  window.matchMedia('(prefers-color-scheme: dark)').addEventListener('change', ({ matches }) => {
    if (localStorage.getItem(STORED) === null) show(matches ? 'dark' : 'light')
  })
}

/** The theme that is shown; on paper the light one. */
export function useTheme(): Theme {
  const shown = useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, current)
  return usePrinting() ? 'light' : shown
}
