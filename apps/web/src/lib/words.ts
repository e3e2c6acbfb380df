/** A word as it is searched: a MAC in whatever spelling is its digits. */
const wordOf = (word: string): string => {
  const digits = word.replace(/[:.-]/g, '')
  return /[:.-]/.test(word) && /^[0-9a-f]{6,12}$/.test(digits) && !/^\d{1,3}(?:\.\d{1,3}){1,3}$/.test(word) ? digits : word
}

/** The words of a text that is looked for: all of them are needed. */
export const wordsOf = (query: string): readonly string[] => query.trim().toLowerCase().split(/\s+/).filter(Boolean).map(wordOf)

/** A MAC as it is found: as it is written, and by its digits. */
export const macWords = (mac: string | null): string => (mac === null ? '' : `${mac} ${mac.replaceAll(':', '')}`)

/**
 * Whether texts hold every word that is looked for, each in any of them.
 *
 * @param wanted words as `wordsOf` gives them
 */
export function holdsAll(texts: readonly string[], wanted: readonly string[]): boolean {
  if (wanted.length === 0) return true
  const all = texts.join('\n').toLowerCase()
  return wanted.every((word) => all.includes(word))
}
