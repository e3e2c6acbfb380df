import { formatNumber, GiB, MiB, TiB } from '@insel/core'

/** The unit in which a chart's axis of bytes reads best, and how many bytes it is. */
export function byteAxis(most: number): { readonly unit: 'MiB' | 'GiB' | 'TiB'; readonly size: number } {
  if (most >= 2 * TiB) return { unit: 'TiB', size: TiB }
  return most >= 2 * GiB ? { unit: 'GiB', size: GiB } : { unit: 'MiB', size: MiB }
}

/** Durations short enough for an axis, all in the unit that fits the longest. @example axisDurations(12_000)(6000) // '1.7 h' */
export const axisDurations = (longest: number) => {
  const [unit, seconds, digits] =
    longest >= 172_800 ? (['d', 86_400, 1] as const) : longest >= 5400 ? (['h', 3600, 1] as const) : (['min', 60, 0] as const)
  return (value: number): string => `${formatNumber(value / seconds, digits)} ${unit}`
}
