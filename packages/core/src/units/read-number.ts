/** The sign before the decimals of a number: `8.5` or `8,5`. The other sign then sets thousands apart. */
export const numberStyles = ['point', 'comma'] as const
export type NumberStyle = (typeof numberStyles)[number]

/** A number as it was read, or a sentence that says why not; `isAmbiguous` where another reading is as likely. */
export type NumberReading =
  { readonly ok: true; readonly value: number } | { readonly ok: false; readonly sentence: string; readonly isAmbiguous?: true }

/** Longer texts are no numbers. */
const LONGEST = 40
const DIGITS = /^\d+$/
const PLAIN = /^(\d+)(?:([.,])(\d+))?$/
const GROUPED = /^\d{1,3}(?:([.,])\d{3})(?:\1\d{3})*(?:([.,])(\d+))?$/

/**
 * Reads a number as people and spreadsheets write it: `8192`, `8 192`, `8'192`, `1.5`, `1,5`, `1.234,5`, `1,234.5`.
 *
 * One sign with three digits behind it may set thousands apart or come before decimals (`8,192`): without a style it is
 * not guessed.
 *
 * @param style how the text it comes from writes numbers, where that is known
 * @returns the number, not negative, or a sentence
 * @example readNumber('8,192', 'point') // { ok: true, value: 8192 }
 */
export function readNumber(text: string, style?: NumberStyle): NumberReading {
  const trimmed = text.trim()
  const no: NumberReading = { ok: false, sentence: `“${trimmed.slice(0, LONGEST)}” is not a number.` }
  if (trimmed.length > LONGEST) return no
  const joined = withoutSpaces(trimmed)
  if (joined === undefined) return no
  if (DIGITS.test(joined)) return { ok: true, value: Number(joined) }
  const decimal = style === 'comma' ? ',' : '.'
  const grouped = GROUPED.exec(joined)
  const plain = PLAIN.exec(joined)
  if (plain && grouped) {
    // One sign, three digits behind it: 8,192.
    if (!style && !joined.startsWith('0')) {
      const [before = '', after = ''] = joined.split(/[.,]/)
      return {
        ok: false,
        isAmbiguous: true,
        sentence: `“${trimmed}” may be ${before}${after} or ${before}.${after}. Write ${before}${after}, or with another number of decimals.`,
      }
    }
    const isDecimal = style ? plain[2] === decimal : true
    return { ok: true, value: Number(isDecimal ? joined.replace(',', '.') : `${plain[1] ?? ''}${plain[3] ?? ''}`) }
  }
  if (grouped && grouped[1] !== grouped[2]) {
    if (style && grouped[1] === decimal) return no
    return { ok: true, value: Number(joined.replaceAll(grouped[1] ?? '', '').replace(grouped[2] ?? ',', '.')) }
  }
  if (!plain || (style && plain[2] !== decimal)) return no
  return { ok: true, value: Number(joined.replace(',', '.')) }
}

/** Blanks (also thin and non-breaking ones) and apostrophes between groups of three, taken out; undefined where they are elsewhere. */
function withoutSpaces(text: string): string | undefined {
  if (!/[\s'’]/.test(text)) return text
  const [whole = '', ...rest] = text.split(/(?=[.,])/)
  const groups = whole.split(/[\s'’]/)
  if (/[\s'’]/.test(rest.join(''))) return undefined
  const isGrouped = groups.every((group, at) => (at === 0 ? /^\d{1,3}$/ : /^\d{3}$/).test(group))
  return isGrouped ? groups.join('') + rest.join('') : undefined
}

/**
 * How a set of texts writes its numbers, from those of them that leave only one reading: two signs in one number, a sign that
 * comes twice, or another number of digits than three behind it.
 *
 * @returns undefined where none decides, or where they contradict each other
 * @example numberStyleOf(['8,192', '1.5']) // 'point'
 */
export function numberStyleOf(texts: Iterable<string>): NumberStyle | undefined {
  let [point, comma] = [false, false]
  for (const text of texts) {
    if (text.length > LONGEST) continue
    const [number = ''] = /\d[\d.,]*/.exec(withoutSpaces(text.trim()) ?? text) ?? []
    const plain = PLAIN.exec(number)
    const grouped = GROUPED.exec(number)
    const sign =
      plain && (!grouped || number.startsWith('0'))
        ? plain[2]
        : !plain && grouped
          ? grouped[2] && grouped[2] !== grouped[1]
            ? grouped[2]
            : grouped[1] === ','
              ? '.'
              : ','
          : undefined
    if (sign === '.') point = true
    else if (sign === ',') comma = true
  }
  return point === comma ? undefined : point ? 'point' : 'comma'
}
