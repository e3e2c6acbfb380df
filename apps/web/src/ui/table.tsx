import { useVirtualizer, useWindowVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useLayoutEffect, useRef, useState, type KeyboardEvent, type ReactNode, type RefObject } from 'react'
import { Link, parsePath, useNavigate } from 'react-router'
import { useIsNarrow, usePrinting } from '../lib/use-media'
import { Button } from './button'
import type { Column } from './columns'
import { Differs } from './differs'
import { useListPane } from './list-pane'
import type { Sort } from './sorting'

/** Rows that are chosen, to do something with all of them. */
interface Selection<T> {
  readonly ids: ReadonlySet<string>
  readonly toggle: (id: string) => void
  readonly nameOf: (row: T) => string
}

interface ListProps<T> {
  readonly label: string
  /** In the order they are shown. */
  readonly rows: readonly T[]
  readonly columns: readonly Column<T>[]
  readonly sort: Sort
  readonly setSort: (sort: Sort) => void
  /** The heading a row is under; rows of one heading are together, in the order of their headings. */
  readonly groupOf?: ((row: T) => string) | undefined
  /** Rows can be chosen: which are, and what each is called. */
  readonly selection?: Selection<T> | undefined
}

const ROW_HEIGHT = 34

/** The link to a row's thing: arrow keys go from one to the next. Beside a thing the list stays as it is sorted and filtered. */
export function RowLink({ to, id, children }: { to: string; id: string; children: ReactNode }) {
  const { search, openId } = useListPane()
  const path = parsePath(to)
  return (
    <>
      <Link
        data-row={id}
        className={`font-medium name-link ${openId === id ? 'text-accent' : ''}`}
        aria-current={openId === id ? 'true' : undefined}
        to={{ ...path, ...(search === '' ? {} : { search }) }}
      >
        {children}
      </Link>
      <Differs id={id} className="ml-1.5" />
    </>
  )
}

/**
 * A sorted list that draws only the rows in sight, and all of them on paper. Arrow keys move from row to row; where a thing is
 * open beside the list, it follows. Headings sort. Where there is little room, a row is a few lines with labels.
 */
export function RecordTable<T extends { readonly id: string }>(props: ListProps<T>) {
  const { groupOf, rows } = props
  const box = useRef<HTMLDivElement>(null)
  const isPrinting = usePrinting()
  const isNarrow = useIsNarrow()
  const navigate = useNavigate()
  const { openId } = useListPane()
  const lines = groupOf ? grouped(rows, groupOf) : rows
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
    const links = [...(box.current?.querySelectorAll<HTMLAnchorElement>('a[data-row]') ?? [])]
    const at = links.indexOf(document.activeElement as HTMLAnchorElement)
    const next = links[at + (event.key === 'ArrowDown' ? 1 : -1)]
    if (!next) return
    event.preventDefault()
    next.focus()
    if (openId !== undefined) void navigate(next.pathname + next.search, { replace: true, preventScrollReset: true })
  }
  return (
    <div ref={box} onKeyDown={onKeyDown}>
      {isPrinting ? (
        <Rows {...props} lines={lines} />
      ) : isNarrow ? (
        <LabelledRows {...props} lines={lines} />
      ) : (
        <RowsInSight {...props} lines={lines} />
      )}
    </div>
  )
}

type Drawn<T> = ListProps<T> & { readonly lines: readonly (T | Heading)[] }

function RowsInSight<T extends { readonly id: string }>(props: Drawn<T>) {
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: props.lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
    initialRect: { width: 1200, height: 600 },
  })
  const items = virtual.getVirtualItems()
  useShowOpen(props.lines, (index) => virtual.scrollToIndex(index))
  return (
    <div ref={scroller} className="overflow-auto max-h-[calc(100vh-180px)] scrolls" tabIndex={-1}>
      <Rows
        {...props}
        lines={items.flatMap(({ index }) => props.lines[index] ?? [])}
        above={items[0]?.start ?? 0}
        below={virtual.getTotalSize() - (items.at(-1)?.end ?? 0)}
      />
    </div>
  )
}

/** Brings the row of the thing that is open beside the list into sight, when the list is first shown with it. */
function useShowOpen<T extends { readonly id: string }>(lines: readonly (T | Heading)[], show: (index: number) => void) {
  const { openId } = useListPane()
  const isDone = useRef(false)
  useLayoutEffect(() => {
    if (isDone.current) return
    isDone.current = true
    const index = lines.findIndex((line) => !('heading' in line) && line.id === openId)
    if (index > 0) show(index)
  })
}

function Rows<T extends { readonly id: string }>({
  label,
  rows,
  lines,
  columns,
  selection,
  above = 0,
  below = 0,
  ...sorting
}: Drawn<T> & { above?: number; below?: number }) {
  return (
    <table className="ledger w-full text-dense" aria-label={label} aria-rowcount={rows.length}>
      <thead className="sticky top-0 bg-paper z-10">
        <tr>
          {selection && (
            <th scope="col" className="w-8 print:hidden">
              <span className="sr-only">chosen</span>
            </th>
          )}
          {columns.map((column) => (
            <HeadingCell key={column.id} column={column} {...sorting} />
          ))}
        </tr>
      </thead>
      <tbody>
        {above > 0 && <tr aria-hidden style={{ height: above }} />}
        {lines.map((line) =>
          'heading' in line ? (
            <tr key={`heading ${line.heading}`} style={{ height: ROW_HEIGHT }}>
              <th colSpan={columns.length + (selection ? 1 : 0)} scope="rowgroup" className="!text-ink !font-bold !pt-3">
                {line.heading} <span className="font-normal text-faint">{line.count}</span>
              </th>
            </tr>
          ) : (
            <Row key={line.id} row={line} columns={columns} selection={selection} />
          ),
        )}
        {below > 0 && <tr aria-hidden style={{ height: below }} />}
      </tbody>
    </table>
  )
}

function HeadingCell<T>({ column, sort, setSort }: { column: Column<T> } & Pick<ListProps<T>, 'sort' | 'setSort'>) {
  const isSorted = sort.id === column.id
  const Arrow = sort.isDescending ? ArrowDown : ArrowUp
  return (
    <th
      scope="col"
      aria-sort={isSorted ? (sort.isDescending ? 'descending' : 'ascending') : 'none'}
      className={column.isNumber ? 'is-number !text-right' : ''}
    >
      <button
        type="button"
        className="inline-flex items-center gap-1 hover:text-ink min-h-7 min-w-7"
        onClick={() => setSort({ id: column.id, isDescending: isSorted && !sort.isDescending })}
      >
        {column.header}
        {isSorted && <Arrow size={12} aria-hidden />}
      </button>
    </th>
  )
}

function Row<T extends { readonly id: string }>({ row, columns, selection }: { row: T } & Pick<ListProps<T>, 'columns' | 'selection'>) {
  const { openId } = useListPane()
  return (
    <tr
      style={{ height: ROW_HEIGHT }}
      className={`hover:bg-sheet ${selection?.ids.has(row.id) ? 'bg-accent-wash/50' : openId === row.id ? 'bg-accent-wash' : ''}`}
    >
      {selection && (
        <td className="print:hidden">
          <Choose row={row} selection={selection} />
        </td>
      )}
      {columns.map((column) => (
        <td key={column.id} className={column.isNumber ? 'is-number text-right font-mono text-small whitespace-nowrap' : ''}>
          {column.cell ? column.cell(row) : column.value(row)}
        </td>
      ))}
    </tr>
  )
}

const Choose = <T extends { readonly id: string }>({ row, selection }: { row: T; selection: Selection<T> }) => (
  <label className="inline-flex items-center justify-center min-w-7 -my-1">
    <input
      type="checkbox"
      className="size-4 accent-[var(--accent)]"
      aria-label={`Choose ${selection.nameOf(row)}`}
      checked={selection.ids.has(row.id)}
      onChange={() => selection.toggle(row.id)}
    />
  </label>
)

/** Rows for a narrow place: the first column as a heading, the others with their labels. The page scrolls, not the list. */
function LabelledRows<T extends { readonly id: string }>({ label, lines, columns, selection, sort, setSort }: Drawn<T>) {
  const list = useRef<HTMLUListElement>(null)
  const margin = useOffset(list)
  const virtual = useWindowVirtualizer({
    count: lines.length,
    estimateSize: () => 40 + Math.ceil((columns.length - 1) / 2) * 20,
    overscan: 6,
    scrollMargin: margin,
    initialRect: { width: 390, height: 844 },
  })
  useShowOpen(lines, (index) => virtual.scrollToIndex(index))
  const [first, ...rest] = columns
  return (
    <>
      <p className="flex gap-2 items-center text-dense mb-1">
        <label className="flex gap-2 items-center">
          Sort by
          <select
            className="field !w-auto max-w-48"
            value={sort.id}
            onChange={(event) => setSort({ id: event.target.value, isDescending: false })}
          >
            {columns.map(({ id, header }) => (
              <option key={id} value={id}>
                {header}
              </option>
            ))}
          </select>
        </label>
        <Button aria-pressed={sort.isDescending} onClick={() => setSort({ ...sort, isDescending: !sort.isDescending })}>
          {sort.isDescending ? <ArrowDown size={14} aria-hidden /> : <ArrowUp size={14} aria-hidden />}
          {sort.isDescending ? 'descending' : 'ascending'}
        </Button>
      </p>
      <ul ref={list} aria-label={label} className="relative text-dense" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const line = lines[index]
          return (
            line && (
              <li
                key={'heading' in line ? `heading ${line.heading}` : line.id}
                ref={virtual.measureElement}
                data-index={index}
                className="absolute inset-x-0 border-t border-line py-1.5"
                style={{ top: start - margin }}
              >
                {'heading' in line ? (
                  <h2 className="font-bold text-dense pt-2">
                    {line.heading} <span className="font-normal text-faint">{line.count}</span>
                  </h2>
                ) : (
                  <>
                    <div className="flex items-center gap-1">
                      {selection && <Choose row={line} selection={selection} />}
                      <span className="min-w-0 break-words">{first && (first.cell ? first.cell(line) : first.value(line))}</span>
                    </div>
                    <dl className="flex flex-wrap gap-x-4 text-small">
                      {rest.map((column) => {
                        const shown = column.cell ? column.cell(line) : column.value(line)
                        return (
                          column.value(line) !== '' && (
                            <div key={column.id} className="flex gap-1.5 min-w-0">
                              <dt className="text-faint">{column.header}</dt>
                              <dd className={`min-w-0 break-words ${column.isNumber ? 'font-mono' : ''}`}>{shown}</dd>
                            </div>
                          )
                        )
                      })}
                    </dl>
                  </>
                )}
              </li>
            )
          )
        })}
      </ul>
    </>
  )
}

/** How far an element is from the top of the page. */
function useOffset(element: RefObject<HTMLElement | null>): number {
  const [offset, setOffset] = useState(0)
  useLayoutEffect(() => {
    if (!element.current) return
    // oxlint-disable-next-line react/set-state-in-effect -- a measured place is known only once the element is there
    setOffset(Math.round(element.current.getBoundingClientRect().top + window.scrollY))
  }, [element])
  return offset
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
