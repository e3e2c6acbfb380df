/** What this browser remembers: the person, the theme, drafts. Never more than it can lose. */
const PREFIX = 'insel.'

/** A remembered value; undefined when there is none, or when what is there cannot be read. */
export function readStored<T>(name: string): T | undefined {
  const text = localStorage.getItem(PREFIX + name)
  if (text === null) return undefined
  try {
    return JSON.parse(text) as T
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
    localStorage.removeItem(PREFIX + name)
    return undefined
  }
}

export function store(name: string, value: unknown): void {
  if (value === undefined) localStorage.removeItem(PREFIX + name)
  else localStorage.setItem(PREFIX + name, JSON.stringify(value))
}
