import { mappingGiven, readTables, sourceOf, type MappedTable, type SourceTable, type TableName } from '@insel/core'
import { useCallback, useMemo, useState } from 'react'
import { readStored, store } from '../../lib/storage'

/** What a person said of a table: what its rows are, and its columns. */
export interface TableChoice {
  readonly holds: TableName | 'nothing'
  readonly mapping?: MappedTable['mapping']
}

/** What a person made of a row: other texts in its cells, or nothing at all. */
export interface RowEdit {
  readonly cells?: readonly string[]
  readonly isOut?: boolean
}

/** Tables that are being taken in, as far as they are: kept until they are recorded. */
export interface TablesKept {
  readonly text: string
  readonly sources: readonly SourceTable[]
  readonly choices: Readonly<Record<string, TableChoice>>
  readonly edits: readonly (readonly [key: string, edit: RowEdit])[]
}

const KEPT_MAX = 50

/** What was said of tables before; JSON has no `undefined`. */
const choicesRead = (kept: Readonly<Record<string, TableChoice>>): Readonly<Record<string, TableChoice>> =>
  Object.fromEntries(
    Object.entries(kept).map(([signature, { holds, mapping }]) => [
      signature,
      mapping ? { holds, mapping: mappingGiven(mapping) } : { holds },
    ]),
  )

/** Tables are the same to a person where their headings are. */
const signatureOf = (headings: readonly string[]): string => headings.map((heading) => heading.toLowerCase()).join('\u001f')
export const keyOf = (table: string, line: number): string => `${table}\u001f${line}`

/**
 * Tables that come in, with what is said of them: what their columns hold outlasts another file with the same headings, and is kept
 * in this browser for the next time once it was recorded.
 */
export function useTables(estateId: string) {
  const slot = `columns.${estateId}`
  const [sources, setSources] = useState<readonly SourceTable[]>([])
  const [text, setText] = useState('')
  const [choices, setChoices] = useState<Readonly<Record<string, TableChoice>>>(() =>
    choicesRead(readStored<Record<string, TableChoice>>(slot) ?? {}),
  )
  const [edits, setEdits] = useState<ReadonlyMap<string, RowEdit>>(new Map())
  const take = useCallback((next: readonly SourceTable[], typed = '') => {
    setSources(next)
    setText(typed)
    setEdits(new Map())
  }, [])
  const read = useMemo(() => {
    const tables: (MappedTable & { readonly isOut: boolean })[] = []
    const none: { name: string; sentence: string }[] = []
    for (const source of sources) {
      const first = readTables([source])
      const [guess] = first.tables
      const chosen = guess && choices[signatureOf(guess.headings)]
      const asked = chosen && chosen.holds !== 'nothing' && chosen.holds !== guess.holds ? readTables([source], chosen.holds) : first
      none.push(...asked.none)
      for (const table of asked.tables)
        tables.push({ ...table, mapping: chosen?.mapping ?? table.mapping, isOut: chosen?.holds === 'nothing' })
    }
    return { tables, none }
  }, [sources, choices])
  /** The tables as they come in: with what was typed into their cells, without the rows that are left out. */
  const mapped = useMemo(
    () =>
      read.tables
        .filter(({ isOut }) => !isOut)
        .map((table) => ({
          ...table,
          rows: table.rows.flatMap((row) => {
            const edit = edits.get(keyOf(table.name, row.line))
            return edit?.isOut ? [] : [edit?.cells ? { ...row, cells: edit.cells } : row]
          }),
        })),
    [read, edits],
  )
  const kept = useMemo(
    (): TablesKept | undefined =>
      sources.length === 0
        ? undefined
        : {
            text,
            sources,
            choices: Object.fromEntries(
              read.tables.flatMap(({ headings }) => {
                const choice = choices[signatureOf(headings)]
                return choice ? [[signatureOf(headings), choice]] : []
              }),
            ),
            edits: [...edits],
          },
    [text, sources, read, choices, edits],
  )
  const choose = (table: MappedTable, choice: TableChoice) => setChoices((before) => ({ ...before, [signatureOf(table.headings)]: choice }))
  const edit = (table: string, line: number, change: RowEdit) =>
    setEdits((before) => new Map(before).set(keyOf(table, line), { ...before.get(keyOf(table, line)), ...change }))
  const keep = () => {
    const used = new Set(read.tables.map(({ headings }) => signatureOf(headings)))
    const said = read.tables.map((table): [string, TableChoice] => [
      signatureOf(table.headings),
      { holds: table.isOut ? 'nothing' : table.holds, mapping: table.mapping },
    ])
    store(slot, Object.fromEntries([...Object.entries(choices).filter(([key]) => !used.has(key)), ...said].slice(-KEPT_MAX)))
  }
  return {
    text,
    tables: read.tables,
    none: read.none,
    mapped,
    edits,
    take,
    kept,
    /** What was kept stands here again. */
    takeUp(was: TablesKept) {
      setText(was.text)
      setSources(was.sources)
      setChoices((before) => ({ ...before, ...choicesRead(was.choices) }))
      setEdits(new Map(was.edits))
    },
    /** @returns a sentence where it is too long to be read */
    takeText(typed: string): string | undefined {
      const source = typed.trim() === '' ? undefined : sourceOf(typed)
      if (source && 'sentence' in source) return source.sentence
      take(source ? [source] : [], typed)
      return undefined
    },
    choose,
    edit,
    keep,
  }
}
