import { generateKeyBetween, generateNKeysBetween } from 'fractional-indexing'

/**
 * A key whose place is between two others, so that a thing dragged to another place changes alone.
 *
 * @param before the key it comes after, null at the beginning
 * @param after the key it comes before, null at the end
 * @example orderBetween('a0', 'a1') // 'a0V'
 */
export const orderBetween = (before: string | null, after: string | null): string => {
  // Two things may have come to the same key side by side; what goes between them goes behind both.
  if (before !== null && after !== null && before >= after) return generateKeyBetween(before, null)
  return generateKeyBetween(before, after)
}

/** So many keys in a row between two others. */
export const ordersBetween = (before: string | null, after: string | null, count: number): readonly string[] =>
  generateNKeysBetween(before, after, count)

/** The order of things with keys; those with the same key by their ids. */
export const byOrder = (a: { readonly order: string; readonly id: string }, b: { readonly order: string; readonly id: string }): number =>
  a.order < b.order ? -1 : a.order > b.order ? 1 : a.id < b.id ? -1 : 1
