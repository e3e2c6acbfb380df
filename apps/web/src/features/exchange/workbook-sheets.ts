import { Unzip, UnzipInflate } from 'fflate'

/** How far a sheet of a workbook reaches. */
interface SheetReach {
  /** The farthest row and column that have a cell, counted from 1; 0 where there is none. */
  readonly rows: number
  readonly columns: number
  /** That corner as people write it. @example 'XFD1048576' */
  readonly last: string
}

/** Parts that unpack to more than this are made to exhaust: two million cells take a tenth of it. */
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

/** What a workbook unpacks to, as far as it was looked at. */
interface WorkbookReach {
  readonly sheets: readonly SheetReach[]
  /** Whether its parts together are more than is read. */
  readonly isTooLarge: boolean
}

/**
 * How far the sheets of a workbook reach, and whether its parts can be unpacked at all: found by unpacking them piece by piece, without
 * keeping any.
 *
 * @param unpackedMax bytes of its parts together
 * @see ECMA-376 part 1, section 18.3.1.4: c (cell), and its reference
 */
export function reachOf(bytes: Uint8Array, unpackedMax = UNPACKED_MAX): WorkbookReach {
  const sheets: SheetReach[] = []
  const seen = { unpacked: 0, isTooLarge: false }
  const unzip = new Unzip((file) => {
    // Pictures and what else a workbook may hold are never unpacked.
    if (!/\.(?:xml|rels)$/.test(file.name)) return
    const cells = /\/worksheets\/[^/]+\.xml$/.test(file.name) ? new CellsSeen() : undefined
    file.ondata = (error, chunk, isLast) => {
      // What is wrong with the archive is said by who reads it.
      if (error || seen.isTooLarge) return
      seen.unpacked += chunk.length
      cells?.look(chunk, isLast)
      seen.isTooLarge = seen.unpacked > unpackedMax || cells?.isEndless === true
      if (seen.isTooLarge) file.terminate()
      if (isLast && cells) sheets.push(cells.reach())
    }
    file.start()
  })
  unzip.register(UnzipInflate)
  for (let at = 0; at < bytes.length && !seen.isTooLarge; at += PIECE)
    unzip.push(bytes.subarray(at, at + PIECE), at + PIECE >= bytes.length)
  return { sheets, isTooLarge: seen.isTooLarge }
}

/** The cells of one sheet, as its text comes in. */
class CellsSeen {
  readonly #decoder = new TextDecoder()
  #open = ''
  #rows = 0
  #columns = 0

  look(chunk: Uint8Array, isLast: boolean): void {
    const text = this.#open + this.#decoder.decode(chunk, { stream: !isLast })
    let from = text.indexOf('<')
    for (let to = text.indexOf('>', from); from >= 0 && to >= 0; to = text.indexOf('>', from)) {
      const tag = text.slice(from, to + 1)
      const [, column = '', row = ''] = (CELL.test(tag) && AT.exec(tag)) || []
      this.#rows = Math.max(this.#rows, Number(row))
      this.#columns = Math.max(this.#columns, numberOf(column))
      from = text.indexOf('<', to)
    }
    this.#open = from < 0 ? '' : text.slice(from)
  }

  /** Whether a tag does not end. */
  get isEndless(): boolean {
    return this.#open.length > TAG_MAX
  }

  reach(): SheetReach {
    return { rows: this.#rows, columns: this.#columns, last: `${lettersOf(this.#columns)}${this.#rows}` }
  }
}
