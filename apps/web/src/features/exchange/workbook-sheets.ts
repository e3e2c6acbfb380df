import { Unzip, UnzipInflate, type UnzipFile } from 'fflate'

/** How far a sheet of a workbook reaches. */
export interface SheetReach {
  /** The farthest row and column that have a cell, counted from 1; 0 where there is none. */
  readonly rows: number
  readonly columns: number
  /** That corner as people write it. @example 'XFD1048576' */
  readonly last: string
  /** Whether it was not looked at to its end. */
  readonly isTooLarge: boolean
}

/** A part that unpacks to more than this is made to exhaust: two million cells take a tenth of it. */
const UNPACKED_MAX = 400_000_000
/** So much is unpacked before it is looked at again whether that is too much. */
const PIECE = 64 * 1024
/** The tag of a cell, whatever prefix its names have; and where it says that it is. */
const CELL = /^<(?:[A-Za-z]{1,20}:)?c\s/
const AT = /\sr\s?=\s?["']([A-Z]{1,3})(\d{1,7})["']/
/** A tag that is longer is made to exhaust. */
const TAG_MAX = 64 * 1024

const numberOf = (letters: string): number => letters.split('').reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0)
const lettersOf = (number: number): string =>
  number <= 0 ? '' : lettersOf(Math.floor((number - 1) / 26)) + String.fromCharCode(65 + ((number - 1) % 26))

/**
 * How far the sheets of a workbook reach, found by unpacking them piece by piece, without keeping any.
 *
 * @see ECMA-376 part 1, section 18.3.1.4: c (cell), and its reference
 */
export function sheetsOf(bytes: Uint8Array): readonly SheetReach[] {
  const sheets: SheetReach[] = []
  const unzip = new Unzip((file) => {
    if (/\/worksheets\/[^/]+\.xml$/.test(file.name)) look(file, (sheet) => sheets.push(sheet))
  })
  unzip.register(UnzipInflate)
  for (let at = 0; at < bytes.length; at += PIECE) unzip.push(bytes.subarray(at, at + PIECE), at + PIECE >= bytes.length)
  return sheets
}

function look(file: UnzipFile, done: (sheet: SheetReach) => void): void {
  const decoder = new TextDecoder()
  let [rows, columns, unpacked, open, isTooLarge] = [0, 0, 0, '', false]
  const end = () => done({ rows, columns, last: `${lettersOf(columns)}${rows}`, isTooLarge })
  file.ondata = (error, chunk, isLast) => {
    if (isTooLarge) return
    // What is wrong with the archive is said by who reads it.
    if (error) return end()
    unpacked += chunk.length
    const text = open + decoder.decode(chunk, { stream: !isLast })
    let from = text.indexOf('<')
    for (let to = text.indexOf('>', from); from >= 0 && to >= 0; to = text.indexOf('>', from)) {
      const tag = text.slice(from, to + 1)
      const [, column = '', row = ''] = (CELL.test(tag) && AT.exec(tag)) || []
      rows = Math.max(rows, Number(row))
      columns = Math.max(columns, numberOf(column))
      from = text.indexOf('<', to)
    }
    open = from < 0 ? '' : text.slice(from)
    isTooLarge = unpacked > UNPACKED_MAX || open.length > TAG_MAX
    if (isTooLarge) file.terminate()
    if (isTooLarge || isLast) end()
  }
  file.start()
}
