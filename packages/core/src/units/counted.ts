import { formatNumber } from './bytes.js'

/**
 * A number with its noun, in the singular or the plural.
 *
 * @param many the plural, where it is not the singular with an s
 * @example counted(1, 'guest') // '1 guest'
 * @example counted(12, 'address', 'addresses') // '12 addresses'
 */
export const counted = (count: number, one: string, many = `${one}s`): string => `${formatNumber(count, 0)} ${count === 1 ? one : many}`
