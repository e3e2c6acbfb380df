import { counted, type SourceTable } from '@insel/core'
import readSheets from 'read-excel-file/universal'
import { reachOf } from './workbook-sheets'

/** Of all sheets together, those that are empty counted. */
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
    checkCells(bytes)
    sheets = await readSheets(new Blob([bytes]))
  } catch (error) {
    if (error instanceof WorkbookError) throw error
    throw new WorkbookError(
      'This file cannot be read as a workbook. Save it as .xlsx (Office Open XML) or as CSV, without a password, and choose it again.',
      { cause: error },
    )
  }
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

/**
 * Looks at the cells before they are read: a sheet is read as far as its last cell, and one cell in its farthest corner makes it
 * seventeen thousand million.
 *
 * @throws WorkbookError where there are too many
 */
function checkCells(bytes: ArrayBuffer): void {
  const { sheets, isTooLarge } = reachOf(new Uint8Array(bytes))
  if (isTooLarge) throw new WorkbookError('This workbook unpacks to more than is read. Save the rows you need as CSV, and choose that.')
  let all = 0
  for (const { last, rows, columns } of sheets) {
    all += rows * columns
    if (all > CELLS_MAX)
      throw new WorkbookError(
        `This workbook reaches to cell ${last}, which makes more than ${counted(CELLS_MAX, 'cell')}. Delete what is beyond the table, empty rows and columns too, or cut it in two.`,
      )
  }
}

/** What a cell says. A number has at most the fifteen digits that the program which wrote it kept. */
function textOf(cell: unknown): string {
  if (cell === null || cell === undefined) return ''
  if (cell instanceof Date) {
    // Beyond the days there are: said in its cell, where the row that needs it is refused.
    if (Number.isNaN(cell.getTime())) return 'not a date'
    const iso = cell.toISOString()
    return iso.endsWith('T00:00:00.000Z') ? iso.slice(0, 10) : iso
  }
  if (typeof cell === 'number') return String(Number(cell.toPrecision(15)))
  if (typeof cell === 'boolean') return cell ? 'yes' : 'no'
  return typeof cell === 'string' ? cell : ''
}
