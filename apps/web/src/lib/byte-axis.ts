import { GiB, MiB, TiB } from '@insel/core'

/** The unit in which a chart's axis of bytes reads best, and how many bytes it is. */
export function byteAxis(most: number): { readonly unit: 'MiB' | 'GiB' | 'TiB'; readonly size: number } {
  if (most >= 2 * TiB) return { unit: 'TiB', size: TiB }
  return most >= 2 * GiB ? { unit: 'GiB', size: GiB } : { unit: 'MiB', size: MiB }
}
