import Papa from 'papaparse'

/**
 * How a cell begins that a spreadsheet takes for a formula, or for one behind its first line.
 *
 * @source OWASP, CSV Injection: = + - @, tab, carriage return, line feed, and the same signs in full width
 */
const FORMULA = /^[=+\-@\t\r\n＝＋－＠]/

/**
 * Rows as CSV with a heading, a line each. A text that a spreadsheet would take for a formula has a quote before it, which our own
 * reader takes away again.
 *
 * @see RFC 4180
 * @example writeCsv(['name'], [['gannet'], ['=1+1']]) // 'name\r\ngannet\r\n"\'=1+1"\r\n'
 */
export const writeCsv = (headings: readonly string[], rows: readonly (readonly (string | number)[])[]): string =>
  `${Papa.unparse({ fields: [...headings], data: rows.map((row) => [...row]) }, { escapeFormulae: FORMULA, newline: '\r\n' })}\r\n`

/** A cell without the quote that keeps it from being a formula. @example readCell("'=1+1") // '=1+1' */
export const readCell = (cell: string): string => {
  const text = cell.trim()
  return text.startsWith("'") && FORMULA.test(text.slice(1)) ? text.slice(1) : text
}
