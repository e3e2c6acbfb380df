/**
 * Of some records the eldest that is older than one: of several with the same address or MAC the one that is told is always the
 * same, in whatever order they are read.
 *
 * @param isAlike which of them count
 */
export function elderOf<T extends { readonly id: string }>(
  records: readonly T[],
  own: { readonly id: string },
  isAlike: (record: T) => boolean = () => true,
): T | undefined {
  let eldest: T | undefined
  for (const one of records) if (one.id < (eldest ?? own).id && isAlike(one)) eldest = one
  return eldest
}
