/** jsdom lays nothing out and has no observer of sizes: nothing ever changes its size here. */
export class NoSizeChanges implements ResizeObserver {
  observe() {}
  unobserve() {}
  disconnect() {}
}

/** What measures itself is given a size. */
export function giveSizes(): void {
  for (const [name, value] of [
    ['offsetHeight', 600],
    ['offsetWidth', 1200],
    ['clientHeight', 600],
  ] as const)
    Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get: () => value })
}
