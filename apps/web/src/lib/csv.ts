import Papa from 'papaparse'

/**
 * Rows as CSV (RFC 4180) with a heading. Texts that a spreadsheet would take for a formula are defused.
 *
 * @example toCsv(['name'], [['gannet']]) // 'name\r\ngannet'
 */
export const toCsv = (headings: readonly string[], rows: readonly (readonly (string | number)[])[]): string =>
  Papa.unparse({ fields: [...headings], data: rows.map((row) => [...row]) }, { escapeFormulae: true })

/** Gives the browser a file to keep. */
export function download(name: string, text: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type: `${type};charset=utf-8` }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  // The browser has taken the file by the next task.
  setTimeout(() => URL.revokeObjectURL(url), 0)
}
