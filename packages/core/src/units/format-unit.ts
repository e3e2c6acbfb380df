import { formatBytes, formatMiB, formatNumber } from './bytes.js'
import type { FigureUnit } from './figure.js'

/**
 * A value in the unit a figure carries, as the interface prints it.
 *
 * @example formatUnit(1434, 'MiB') // '1.4 GiB'
 */
export function formatUnit(value: number, unit: FigureUnit): string {
  switch (unit) {
    case 'MiB':
      return formatMiB(value, 2)
    case 'bytes':
      return formatBytes(value, 2)
    case '%':
      return `${formatNumber(value, 1)} %`
    case 'ratio':
      return formatNumber(value, 2)
    default:
      return `${formatNumber(value, 1)} ${unit}`
  }
}
