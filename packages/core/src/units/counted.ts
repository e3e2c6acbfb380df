import { formatNumber } from './bytes.js'

/**
 * A number with its noun, in the singular or the plural.
 *
 * @param many the plural, where it is not the singular with an s
 * @example counted(1, 'guest') // '1 guest'
 * @example counted(12, 'address', 'addresses') // '12 addresses'
 */
export const counted = (count: number, one: string, many = `${one}s`): string => `${formatNumber(count, 0)} ${count === 1 ? one : many}`

/**
 * A word with its article. Kinds of records have no word whose sound is another than its letter.
 *
 * @example withArticle('adapter') // 'an adapter'
 */
export const withArticle = (word: string): string => `${/^[aeiou]/.test(word) ? 'an' : 'a'} ${word}`
