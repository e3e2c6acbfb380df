import type { Table } from '@insel/core'
import { useMemo, useState } from 'react'

/**
 * A pasted table, read, with what its columns hold: as its headings say, or as a person chose.
 *
 * @param read the same function each time: reads the text, or says why it is no table
 */
export function useReadTable<C extends string>(read: (text: string) => Table<C> | { readonly sentence: string }) {
  const [text, setText] = useState('')
  const [mapping, setMapping] = useState<Table<C>['proposed']>()
  const table = useMemo(() => (text.trim() === '' ? undefined : read(text)), [text, read])
  const columns = table && 'rows' in table ? (mapping ?? table.proposed) : undefined
  const take = (next: string) => {
    setText(next)
    setMapping(undefined)
  }
  return { text, table, columns, setMapping, take }
}
