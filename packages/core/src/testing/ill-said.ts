/**
 * Where something that people read says nothing, or says what no person would: an empty text, “undefined”, “NaN”, “[object …”, two blanks.
 *
 * @param value anything made of objects, lists and texts; every text in it is read
 * @returns the places, such as `checks.0.remedy: ""`
 * @example illSaid({ sentence: 'undefined is off.', lines: [''] }) // ['sentence: "undefined is off."', 'lines.0: ""']
 */
export function illSaid(value: unknown, at: readonly string[] = []): readonly string[] {
  if (typeof value === 'string')
    return value.trim() === '' || /undefined|\bNaN\b|\[object|\S {2}\S|(?:^|, ), |: \.$|^[,.;:]/.test(value)
      ? [`${at.join('.')}: ${JSON.stringify(value)}`]
      : []
  if (typeof value !== 'object' || value === null) return []
  return Object.entries(value).flatMap(([name, one]) => illSaid(one, [...at, name]))
}
