import {
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_text,
  tableFeatures,
  useTable,
  type ColumnDef,
} from '@tanstack/react-table'
import { useVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useRef, type KeyboardEvent, type ReactNode } from 'react'

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric, text: sortFn_text },
})

/** A column: its heading, the value it sorts by, and what it shows. */
export interface Column<T> {
  readonly id: string
  readonly header: string
  readonly value: (row: T) => string | number
  readonly cell?: (row: T) => ReactNode
  readonly isNumber?: boolean
  /** Only shown when chosen. */
  readonly isExtra?: boolean
  /** Heading in CSV, with the unit of the bare number. */
  readonly csvHeader?: string
}

/** The columns of a list that says of everything it could show whether it has one. */
export const shownColumns = <T,>(columns: Readonly<Record<string, Column<T> | null>>): readonly Column<T>[] =>
  Object.values(columns).filter((column) => column !== null)

/** Rows that are chosen, to do something with all of them. */
export interface Selection<T> {
  readonly ids: ReadonlySet<string>
  readonly toggle: (id: string) => void
  readonly nameOf: (row: T) => string
}

const ROW_HEIGHT = 34

/**
 * A sortable list that draws only the rows in sight. Arrow keys move from row to row; headings sort.
 *
 * @param rows the records; each needs an id
 */
export function RecordTable<T extends { readonly id: string }>({
  label,
  rows,
  columns,
  sortBy,
  groupOf,
  selection,
}: {
  label: string
  rows: readonly T[]
  columns: readonly Column<T>[]
  sortBy: string
  /** The heading a row stands under; rows of one heading stand together, in the order of their headings. */
  groupOf?: ((row: T) => string) | undefined
  /** Rows can be chosen: which are, and what each is called. */
  selection?: Selection<T> | undefined
}) {
  const definitions = columns.map((column): ColumnDef<typeof features, T> => ({
    id: column.id,
    header: column.header,
    accessorFn: column.value,
    sortFn: 'alphanumeric',
    sortDescFirst: false,
  }))
  const table = useTable({
    features,
    columns: definitions,
    data: rows,
    getRowId: (row: T) => row.id,
    initialState: { sorting: [{ id: sortBy, desc: false }] },
    enableSortingRemoval: false,
  })
  const sorted = table.getRowModel().rows.map(({ original }) => original)
  const lines = groupOf ? grouped(sorted, groupOf) : sorted
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
    initialRect: { width: 1200, height: 600 },
  })
  const items = virtual.getVirtualItems()
  const [above, below] = [items[0]?.start ?? 0, virtual.getTotalSize() - (items.at(-1)?.end ?? 0)]

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
    const links = [...(scroller.current?.querySelectorAll<HTMLElement>('tbody a[data-row]') ?? [])]
    const at = links.indexOf(document.activeElement as HTMLElement)
    const next = links[at + (event.key === 'ArrowDown' ? 1 : -1)]
    if (!next) return
    event.preventDefault()
    next.focus()
  }
  return (
    <div ref={scroller} onKeyDown={onKeyDown} className="overflow-auto max-h-[calc(100vh-180px)]" tabIndex={-1}>
      <table className="ledger w-full text-[13px]" aria-label={label} aria-rowcount={sorted.length}>
        <thead className="sticky top-0 bg-paper z-10">
          <tr>
            {selection && (
              <th scope="col" className="w-8">
                <span className="sr-only">chosen</span>
              </th>
            )}
            {table.getHeaderGroups()[0]?.headers.map((header, index) => {
              const order = header.column.getIsSorted()
              return (
                <th
                  key={header.id}
                  scope="col"
                  aria-sort={order === 'asc' ? 'ascending' : order === 'desc' ? 'descending' : 'none'}
                  className={columns[index]?.isNumber ? '!text-right' : ''}
                >
                  <button
                    type="button"
                    className="inline-flex items-center gap-1 hover:text-ink min-h-6"
                    onClick={header.column.getToggleSortingHandler()}
                  >
                    {columns[index]?.header}
                    {order === 'asc' ? <ArrowUp size={12} aria-hidden /> : order === 'desc' ? <ArrowDown size={12} aria-hidden /> : null}
                  </button>
                </th>
              )
            })}
          </tr>
        </thead>
        <tbody>
          {above > 0 && <tr aria-hidden style={{ height: above }} />}
          {items.map(({ index }) => {
            const row = lines[index]
            if (row && 'heading' in row)
              return (
                <tr key={`heading ${row.heading}`} style={{ height: ROW_HEIGHT }}>
                  <th colSpan={columns.length + (selection ? 1 : 0)} scope="rowgroup" className="!text-ink !font-bold !pt-3">
                    {row.heading} <span className="font-normal text-faint">{row.count}</span>
                  </th>
                </tr>
              )
            return (
              row && (
                <tr
                  key={row.id}
                  style={{ height: ROW_HEIGHT }}
                  className={`hover:bg-sheet ${selection?.ids.has(row.id) ? 'bg-accent-wash/50' : ''}`}
                >
                  {selection && (
                    <td>
                      <input
                        type="checkbox"
                        className="size-4 accent-[var(--accent)]"
                        aria-label={`Choose ${selection.nameOf(row)}`}
                        checked={selection.ids.has(row.id)}
                        onChange={() => selection.toggle(row.id)}
                      />
                    </td>
                  )}
                  {columns.map((column) => (
                    <td key={column.id} className={column.isNumber ? 'text-right font-mono text-[12.5px] whitespace-nowrap' : ''}>
                      {column.cell ? column.cell(row) : column.value(row)}
                    </td>
                  ))}
                </tr>
              )
            )
          })}
          {below > 0 && <tr aria-hidden style={{ height: below }} />}
        </tbody>
      </table>
    </div>
  )
}

interface Heading {
  readonly heading: string
  readonly count: number
}

/** Sorted rows put together under their headings, each group with its heading before it. */
function grouped<T extends { readonly id: string }>(rows: readonly T[], groupOf: (row: T) => string): readonly (T | Heading)[] {
  const groups = new Map<string, T[]>()
  for (const row of rows) {
    const group = groups.get(groupOf(row))
    if (group) group.push(row)
    else groups.set(groupOf(row), [row])
  }
  return [...groups]
    .sort(([a], [b]) => a.localeCompare(b, 'en', { numeric: true }))
    .flatMap(([heading, members]): readonly (T | Heading)[] => [{ heading, count: members.length }, ...members])
}
