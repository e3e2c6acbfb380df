import { describe, expect, it } from 'vitest'
import { Refusal } from '../../workbench/refusal.js'
import { readCopyBlocks } from './copy-blocks.js'

/** Blocks of a text, in pieces of a size: table, columns, rows. */
async function blocksIn(text: string, piece = 7): Promise<readonly (readonly [string, string, string])[]> {
  const blocks: [string, string, string][] = []
  async function* pieces() {
    const bytes = Buffer.from(text)
    for (let at = 0; at < bytes.length; at += piece) yield await Promise.resolve(bytes.subarray(at, at + piece))
  }
  await readCopyBlocks(pieces(), ({ table, columns }) => {
    const block: [string, string, string] = [table, columns.join(' '), '']
    blocks.push(block)
    return { take: (rows) => Promise.resolve(void (block[2] += rows.toString())), end: () => Promise.resolve() }
  })
  return blocks
}
const head = 'COPY public.person (estate_id, id, "position") FROM stdin;\n'

describe('the text of a backup', () => {
  it('gives the rows of its blocks, however it is cut into pieces', async () => {
    const text = `--\n\\restrict abc\n\nSET statement_timeout = 0;\nSELECT pg_catalog.set_config('search_path', '', false);\n${head}1\t2\t3\n\\N\t\\\\.\tä\n\\.\n\n${head.replace('person', '"array"')}\\.\nSELECT pg_catalog.setval('public.step_id_seq', 3, true);\n`
    for (const piece of [1, 2, 3, 7, 1000])
      expect(await blocksIn(text, piece)).toEqual([
        ['person', 'estate_id id position', '1\t2\t3\n\\N\t\\\\.\tä\n'],
        ['array', 'estate_id id position', ''],
      ])
  })

  it.each([
    "COPY public.person FROM PROGRAM 'id';",
    "COPY public.person (id) FROM '/etc/passwd';",
    'COPY public.person (id) FROM stdin WITH (FORMAT binary);',
    'COPY public.person (id) FROM stdin; drop table guest;',
    'COPY other.person (id) FROM stdin;',
    'COPY public."person"" x" (id) FROM stdin;',
    'copy public.person (id) from stdin;',
    'drop table guest;',
    "SELECT pg_catalog.setval('public.step_id_seq', (select 1), true);",
    "SELECT pg_catalog.set_config('search_path', 'strange', false);",
    'SET role = x; drop table guest;',
    '\\! id',
    '\\restrict a b',
  ])('%s: refused, with the line', async (line) => {
    await expect(blocksIn(`${head}1\t2\t3\n\\.\n${line}\n`)).rejects.toThrow(Refusal)
  })

  it('what comes behind an end within the rows is a line as any other; a text that is cut off is refused', async () => {
    await expect(blocksIn(`${head}1\t2\t3\n\\.\nupdate guest set name = 'x';\n\\.\n`)).rejects.toThrow('update guest')
    await expect(blocksIn(`${head}1\t2\t3\n`)).rejects.toThrow('ends within the rows of person')
  })
})
