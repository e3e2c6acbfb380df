import { useSyncExternalStore } from 'react'

export type Theme = 'light' | 'dark'
const listeners = new Set<() => void>()

const current = (): Theme => (document.documentElement.dataset['theme'] === 'dark' ? 'dark' : 'light')

/** Changes the theme and remembers it; `public/theme.js` sets it before the first paint. */
export function setTheme(theme: Theme): void {
  localStorage.setItem('insel.theme', theme)
  document.documentElement.dataset['theme'] = theme
  for (const listener of listeners) listener()
}

export function useTheme(): Theme {
  return useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, current)
}
