import { Popover } from 'radix-ui'
import { useState, type ReactNode } from 'react'
import { download, fileName, writeCsv } from '../lib/files'
import { holdsAll, wordsOf as wordsIn } from '../lib/words'
import { useQueryParam } from '../lib/query-param'
import { Button } from './button'
import { Chosen } from './chosen'
import { FilterInput, useFilter } from './filter'
import { LeftOutNote } from './differs'
import { Empty, Page } from './page'
import type { Column } from './columns'
import { useListPane } from './list-pane'
import { printSort, readSort, useSorted } from './sorting'
import { RecordTable } from './table'

/** How many columns a list has beside a thing. */
const COLUMNS_BESIDE = 3

/** A way to put rows together under headings. */
export interface Grouping<T> {
  readonly id: string
  readonly label: string
  readonly of: (row: T) => string
}

/**
 * The page of a section that lists its records: sorted, filtered, grouped, with chosen columns, out as CSV, with the way to
 * add one. The address keeps all of it.
 *
 * @param wordsOf what the filter looks in
 * @param whenEmpty what to do first, when nothing is recorded yet
 * @param more links to other views of the same records
 * @param bulk what can be done with several rows at once
 */
export function ListPage<T extends { readonly id: string }>({
  title,
  one,
  kind,
  rows,
  columns,
  sortBy,
  wordsOf,
  add,
  whenEmpty,
  ways,
  groupings = [],
  more,
  about,
  bulk,
}: {
  title: string
  one: string
  /** The kind of its records, so that those which are not as shown here are named; none where a row is not a record. */
  kind?: string
  rows: readonly T[]
  columns: readonly Column<T>[]
  sortBy: string
  wordsOf: (row: T) => readonly string[]
  add: ReactNode
  whenEmpty: string
  /** Other ways to the first ones. */
  ways?: ReactNode
  groupings?: readonly Grouping<T>[]
  more?: ReactNode
  /** Stands under the count, such as the ways to other views. */
  about?: ReactNode
  /** What can be done with several rows at once; `done` lets go of them. */
  bulk?: ((chosen: readonly T[], done: () => void) => ReactNode) | undefined
}) {
  const filter = useFilter()
  const wanted = wordsIn(filter.wanted)
  const [groupId, setGroup] = useQueryParam('group')
  const [columnIds, setColumns] = useQueryParam('columns')
  const [sortText, setSortText] = useQueryParam('sort')
  const isBeside = useListPane().openId !== undefined
  const [chosenIds, setChosenIds] = useState<ReadonlySet<string>>(new Set())
  const grouping = groupings.find(({ id }) => id === groupId)
  const chosen = columnIds ? columnIds.split(',') : columns.filter(({ isExtra }) => !isExtra).map(({ id }) => id)
  // The first column says what the row is about and always stays.
  const chosenColumns = columns.filter(({ id }, index) => index === 0 || chosen.includes(id))
  const found = filter.wanted ? rows.filter((row) => holdsAll(wordsOf(row), wanted)) : rows
  const sort = readSort(sortText, sortBy)
  const shownColumns = isBeside ? columnsBeside(chosenColumns, sort.id) : chosenColumns
  const shown = useSorted(found, columns, sort)
  if (rows.length === 0)
    return (
      <Page title={title}>
        {kind && <LeftOutNote kind={kind} />}
        <Empty
          action={
            <>
              {add}
              {ways}
            </>
          }
        >
          {whenEmpty}
        </Empty>
      </Page>
    )
  const saveCsv = () =>
    download(
      fileName(title.toLowerCase(), 'csv'),
      writeCsv(
        chosenColumns.map(({ header, csvHeader }) => csvHeader ?? header),
        shown.map((row) => chosenColumns.map(({ value, csvValue = value }) => csvValue(row))),
      ),
      'text/csv',
    )
  return (
    <Page
      title={title}
      about={
        <>
          {shown.length === rows.length ? `${rows.length} recorded.` : `${shown.length} of ${rows.length} shown.`}
          {!isBeside && more && <span className="ml-3">{more}</span>}
          {!isBeside && about}
        </>
      }
      actions={
        isBeside ? (
          <FilterInput filter={filter} label={`Filter ${title.toLowerCase()}`} />
        ) : (
          <>
            {groupings.length > 0 && (
              <select
                className="field !w-40 print:hidden"
                aria-label="Group by"
                value={grouping?.id ?? ''}
                onChange={(event) => setGroup(event.target.value)}
              >
                <option value="">not grouped</option>
                {groupings.map(({ id, label }) => (
                  <option key={id} value={id}>
                    by {label}
                  </option>
                ))}
              </select>
            )}
            <ColumnChoice columns={columns} chosen={chosen} choose={setColumns} />
            <Button onClick={saveCsv}>CSV</Button>
            <FilterInput filter={filter} label={`Filter ${title.toLowerCase()}`} />
            {add}
          </>
        )
      }
    >
      {kind && <LeftOutNote kind={kind} />}
      {shown.length === 0 ? (
        <Empty>
          No {one} fits “{filter.text}”.
        </Empty>
      ) : (
        <>
          {bulk && !isBeside && (
            <BulkBar
              shown={shown}
              chosen={rows.filter(({ id }) => chosenIds.has(id))}
              choose={(list) => setChosenIds(new Set(list.map(({ id }) => id)))}
              bulk={bulk}
            />
          )}
          <RecordTable<T>
            label={title}
            rows={shown}
            columns={shownColumns}
            sort={sort}
            setSort={(next) => setSortText(printSort(next, sortBy))}
            groupOf={grouping?.of}
            selection={
              bulk && !isBeside
                ? {
                    ids: chosenIds,
                    nameOf: (row) => String(columns[0]?.value(row) ?? ''),
                    toggle: (id) => setChosenIds((before) => toggled(before, id)),
                  }
                : undefined
            }
          />
        </>
      )}
    </Page>
  )
}

/** The first columns, and among them the one that the list is sorted by. */
function columnsBeside<T>(columns: readonly Column<T>[], sortedBy: string): readonly Column<T>[] {
  const first = columns.slice(0, COLUMNS_BESIDE)
  const sorted = columns.find(({ id }) => id === sortedBy)
  return !sorted || first.includes(sorted) ? first : [...first.slice(0, -1), sorted]
}

function toggled(ids: ReadonlySet<string>, id: string): ReadonlySet<string> {
  const next = new Set(ids)
  if (!next.delete(id)) next.add(id)
  return next
}

/** How many rows are chosen, the ways to choose all that are shown or none, and what to do with them. */
function BulkBar<T extends { readonly id: string }>({
  shown,
  chosen,
  choose,
  bulk,
}: {
  shown: readonly T[]
  chosen: readonly T[]
  choose: (rows: readonly T[]) => void
  bulk: (chosen: readonly T[], done: () => void) => ReactNode
}) {
  return (
    <div className="text-dense mb-2 print:hidden">
      <Chosen shown={shown} chosen={chosen} choose={choose} />
      {chosen.length > 0 && bulk(chosen, () => choose([]))}
    </div>
  )
}

function ColumnChoice<T>({
  columns,
  chosen,
  choose,
}: {
  columns: readonly Column<T>[]
  chosen: readonly string[]
  choose: (ids: string | undefined) => void
}) {
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button>Columns</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label="Columns"
          align="end"
          sideOffset={4}
          className="z-30 bg-sheet border border-rule rounded-md shadow-lg p-3 text-dense max-h-[70vh] overflow-auto"
        >
          <ColumnBoxes columns={columns} chosen={chosen} choose={choose} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** The address follows a moment after a box is ticked; the boxes do not wait for it. */
function ColumnBoxes<T>({
  columns,
  chosen,
  choose,
}: {
  columns: readonly Column<T>[]
  chosen: readonly string[]
  choose: (ids: string | undefined) => void
}) {
  const [ticked, setTicked] = useState(chosen)
  const set = (ids: readonly string[]) => {
    setTicked(ids)
    choose(ids.join(',') || columns[0]?.id)
  }
  return (
    <>
      {columns.slice(1).map(({ id, header }) => (
        <label key={id} className="flex items-center gap-2 min-h-7">
          <input
            type="checkbox"
            className="size-4 accent-[var(--accent)]"
            checked={ticked.includes(id)}
            onChange={(event) =>
              set(columns.map((column) => column.id).filter((other) => (other === id ? event.target.checked : ticked.includes(other))))
            }
          />
          {header}
        </label>
      ))}
      <Button
        look="quiet"
        className="!min-h-7"
        onClick={() => {
          setTicked(columns.filter(({ isExtra }) => !isExtra).map(({ id }) => id))
          choose(undefined)
        }}
      >
        Default columns
      </Button>
    </>
  )
}
