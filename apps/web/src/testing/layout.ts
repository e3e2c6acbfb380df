import { vi } from 'vitest'

/** jsdom lays nothing out; what measures itself is given a size. */
export function giveSizes(): void {
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  )
  for (const [name, value] of [
    ['offsetHeight', 600],
    ['offsetWidth', 1200],
    ['clientHeight', 600],
  ] as const)
    Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get: () => value })
}
