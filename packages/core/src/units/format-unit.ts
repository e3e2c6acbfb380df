import { formatBytes, formatMiB, formatNumber } from './bytes.js'
import type { FigureUnit } from './figure.js'

/**
 * A value in the unit a figure carries, as the interface prints it.
 *
 * @example formatUnit(1434, 'MiB') // '1.4 GiB'
 * @example formatUnit(1, 'guests') // '1 guest'
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
    default: {
      const number = formatNumber(value, 1)
      return `${number} ${number === '1' ? unit.replace(/(?<=ss)es$|s$/, '') : unit}`
    }
  }
}
