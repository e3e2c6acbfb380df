/**
 * Whether a memory size looks mistyped: not a multiple of 64 MiB, and a power of two once one digit is put in.
 *
 * @returns the size that was probably meant, MiB
 * @see common practice, no source
 * @example probablyMeant(496) // 4096
 */
export function probablyMeant(memoryMiB: number): number | undefined {
  if (memoryMiB % 64 === 0) return undefined
  const digits = String(memoryMiB)
  for (let power = 64; power <= 2 ** 24; power *= 2) {
    const text = String(power)
    if (text.length !== digits.length + 1) continue
    for (let skip = 0; skip < text.length; skip++) if (text.slice(0, skip) + text.slice(skip + 1) === digits) return power
  }
  return undefined
}
