import {
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_text,
  tableFeatures,
  useTable,
  type ColumnDef,
} from '@tanstack/react-table'
import type { Column } from './columns'

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric, text: sortFn_text },
})

/** By which column a list is sorted, and which way. */
export interface Sort {
  readonly id: string
  readonly isDescending: boolean
}

/**
 * A sort as an address keeps it: the column's id, with a minus before it from the last to the first.
 *
 * @param usual the same, where the address says nothing
 *
 * @example readSort('-memory', 'name') // { id: 'memory', isDescending: true }
 */
export const readSort = (text: string, usual: string): Sort =>
  (text || usual).startsWith('-') ? { id: (text || usual).slice(1), isDescending: true } : { id: text || usual, isDescending: false }

/** The same the other way; empty where it is the usual one. */
export function printSort({ id, isDescending }: Sort, usual: string): string {
  const printed = isDescending ? `-${id}` : id
  return printed === usual ? '' : printed
}

/** Rows in the order of a sort; names as people count. A column that is not there is as if none were asked for. */
export function useSorted<T extends { readonly id: string }>(
  rows: readonly T[],
  columns: readonly Column<T>[],
  { id, isDescending }: Sort,
): readonly T[] {
  const definitions = columns.map((column): ColumnDef<typeof features, T> => ({
    id: column.id,
    accessorFn: column.value,
    sortFn: 'alphanumeric',
  }))
  const table = useTable({
    features,
    columns: definitions,
    data: rows,
    getRowId: (row: T) => row.id,
    state: { sorting: columns.some((column) => column.id === id) ? [{ id, desc: isDescending }] : [] },
  })
  return table.getRowModel().rows.map(({ original }) => original)
}
