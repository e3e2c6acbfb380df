import { derivedId, policyOf, usualWish, type BatchWish, type Guest, type RowEdit } from '@insel/core'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { readStored, store } from '../../lib/storage'

/** A batch while it is composed: what is asked for, what was written into rows, and the ids of its copies. */
export interface BatchDraft {
  readonly wish: BatchWish
  readonly edits: ReadonlyMap<number, RowEdit>
  idOf(row: number): string
  setWish(changes: Partial<BatchWish>): void
  /** Writes into rows, from one on; nothing takes what was written back. */
  edit(changes: readonly (readonly [row: number, edit: Partial<Record<keyof RowEdit, RowEdit[keyof RowEdit] | undefined>>])[]): void
  clear(): void
}

interface Kept {
  readonly wish: BatchWish
  readonly edits: readonly (readonly [number, RowEdit])[]
}

/** The draft of a batch of one template, kept in this browser until it is recorded or planned. */
export function useBatchDraft(template: Guest): BatchDraft {
  const { estate, estateId } = useEstate()
  const key = `batch.${estateId}.${template.id}`
  const first = (): Kept => ({
    wish: usualWish(estate, template, template.kind === 'template' && policyOf(estate).cloneSchool === 'isolated first boot'),
    edits: [],
  })
  const [draft, setDraft] = useState<Kept>(() => {
    const kept = readStored<Kept>(key)
    return kept ? { wish: { ...first().wish, ...kept.wish, templateId: template.id }, edits: kept.edits } : first()
  })
  const [made, setMade] = useState(newId)
  const keep = (next: Kept) => {
    store(key, next)
    setDraft(next)
  }
  return {
    wish: draft.wish,
    edits: new Map(draft.edits),
    idOf: (row) => derivedId(made, `copy ${row}`),
    setWish: (changes) => keep({ ...draft, wish: { ...draft.wish, ...changes } }),
    edit(changes) {
      const edits = new Map(draft.edits)
      for (const [row, one] of changes) {
        const all: readonly [string, unknown][] = Object.entries({ ...edits.get(row), ...one })
        const next: RowEdit = Object.fromEntries(all.filter(([, value]) => value !== undefined))
        if (Object.keys(next).length === 0) edits.delete(row)
        else edits.set(row, next)
      }
      keep({ ...draft, edits: [...edits] })
    },
    clear() {
      store(key, undefined)
      setMade(newId())
      setDraft(first())
    },
  }
}
