import { Refusal } from '../../workbench/refusal.js'

/** A block of rows in the text of a backup: a table and its columns, as they are written there. */
export interface CopyBlock {
  readonly table: string
  readonly columns: readonly string[]
}

/** What takes the rows of a block: pieces of text in the form of COPY, whole lines each. */
export interface RowsTaken {
  take(rows: Buffer): Promise<void>
  end(): Promise<void>
}

/** A row longer than this is none of Insel’s: the largest change is some tens of megabytes. */
const ROW_MAX = 512 * 1024 * 1024
/** So many bytes of rows are handed on at once. */
const PIECE = 256 * 1024

/** A name as PostgreSQL writes it: bare, or in double quotes where it is one of its words. */
const NAME = String.raw`(?:[a-z_][a-z0-9_]*|"[a-z_][a-z0-9_]*")`
const HEADER = new RegExp(String.raw`^COPY public\.(${NAME}) \((${NAME}(?:, ${NAME})*)\) FROM stdin;$`)
/** What else the text of a backup's data has: nothing of it is carried out. */
const AROUND = [
  /^$/,
  /^--/,
  /^\\(un)?restrict [A-Za-z0-9]+$/,
  /^SET [a-z_]+ = [^;]*;$/,
  /^SELECT pg_catalog\.set_config\('search_path', '', false\);$/,
  /^SELECT pg_catalog\.setval\('public\.[a-z_]+', \d+, (?:true|false)\);$/,
]

const plain = (name: string) => name.replaceAll('"', '')

/**
 * Takes blocks of rows out of the text that `pg_restore` writes of a backup's data. Nothing in the text is carried out: what is neither
 * the head of a block nor known around one is refused.
 *
 * @param begin called with each block; gives what takes its rows, or undefined where they are passed over
 * @throws Refusal with the line that does not belong there
 * @see PostgreSQL manual, COPY: text format, ended by a line of `\.`
 */
export async function readCopyBlocks(text: AsyncIterable<Buffer>, begin: (block: CopyBlock) => RowsTaken | undefined): Promise<void> {
  let block: { readonly name: string; readonly to: RowsTaken | undefined } | undefined
  let rows: Buffer[] = []
  let bytes = 0
  const handOn = async () => {
    if (bytes > 0) await block?.to?.take(Buffer.concat(rows))
    rows = []
    bytes = 0
  }
  for await (const line of linesOf(text)) {
    if (block) {
      if (line.length === 3 && line.toString('latin1') === '\\.\n') {
        await handOn()
        await block.to?.end()
        block = undefined
        continue
      }
      rows.push(line)
      bytes += line.length
      if (bytes >= PIECE) await handOn()
      continue
    }
    const said = line.toString('utf8').replace(/\n$/, '')
    const [, table, columns] = HEADER.exec(said) ?? []
    if (table && columns) block = { name: plain(table), to: begin({ table: plain(table), columns: columns.split(', ').map(plain) }) }
    else if (!AROUND.some((known) => known.test(said)))
      throw new Refusal(`The backup holds a line that no backup of Insel has: ${said.slice(0, 100).replaceAll(/[^\x20-\x7e]/g, '?')}`)
  }
  if (block) throw new Refusal(`The backup ends within the rows of ${block.name}: it was cut off.`)
}

/** Lines with their ends. */
async function* linesOf(text: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  let open: Buffer[] = []
  let length = 0
  for await (const chunk of text) {
    let from = 0
    for (let end = chunk.indexOf(10); end >= 0; end = chunk.indexOf(10, from)) {
      const last = chunk.subarray(from, end + 1)
      yield open.length > 0 ? Buffer.concat([...open, last]) : last
      open = []
      length = 0
      from = end + 1
    }
    if (from < chunk.length) {
      open.push(chunk.subarray(from))
      length += chunk.length - from
      if (length > ROW_MAX) throw new Refusal('The backup holds a row that is longer than any of Insel’s.')
    }
  }
  if (open.length > 0) yield Buffer.concat(open)
}
