import type { SourceTable } from '@insel/core'
import readSheets from 'read-excel-file/universal'

const CELLS_MAX = 2_000_000

/** A file that cannot be read as tables, in a sentence. */
export class WorkbookError extends Error {}

/**
 * The sheets of a workbook as tables: each row with its line, dates as days, numbers as they are written.
 *
 * @param bytes the file
 * @returns the sheets that hold something, in their order
 * @throws WorkbookError where it is none
 * @see ECMA-376, Office Open XML: SpreadsheetML
 */
export async function tablesOfWorkbook(bytes: ArrayBuffer): Promise<readonly SourceTable[]> {
  let sheets: Awaited<ReturnType<typeof readSheets>>
  try {
    sheets = await readSheets(new Blob([bytes]))
  } catch (error) {
    throw new WorkbookError(
      'This file cannot be read as a workbook. Save it as .xlsx (Office Open XML) or as CSV, without a password, and choose it again.',
      { cause: error },
    )
  }
  const cells = sheets.reduce((sum, { data }) => sum + data.reduce((of, row) => of + row.length, 0), 0)
  if (cells > CELLS_MAX) throw new WorkbookError(`This workbook has ${cells} cells; at most ${CELLS_MAX} are read. Cut it in two.`)
  return sheets
    .map(({ sheet, data }) => ({
      name: sheet,
      rows: data.flatMap((row, index) => {
        const texts = row.map(textOf)
        return texts.some((text) => text.trim() !== '') ? [{ line: index + 1, cells: texts }] : []
      }),
    }))
    .filter(({ rows }) => rows.length > 0)
}

/** What a cell says. A number has at most the fifteen digits that the program which wrote it kept. */
function textOf(cell: unknown): string {
  if (cell === null || cell === undefined) return ''
  if (cell instanceof Date) {
    const iso = cell.toISOString()
    return iso.endsWith('T00:00:00.000Z') ? iso.slice(0, 10) : iso
  }
  if (typeof cell === 'number') return String(Number(cell.toPrecision(15)))
  if (typeof cell === 'boolean') return cell ? 'yes' : 'no'
  return typeof cell === 'string' ? cell : ''
}
