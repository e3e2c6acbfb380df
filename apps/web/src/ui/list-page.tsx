import type { ReactNode } from 'react'
import { Empty, Page } from './page'
import { FilterInput, useFilter } from './filter'
import { RecordTable, type Column } from './table'

/**
 * The page of a section that lists its records: sorted, filtered, with the way to add one.
 *
 * @param wordsOf what the filter looks in
 * @param whenEmpty what to do first, when nothing is recorded yet
 */
export function ListPage<T extends { readonly id: string }>({
  title,
  one,
  rows,
  columns,
  sortBy,
  wordsOf,
  add,
  whenEmpty,
}: {
  title: string
  one: string
  rows: readonly T[]
  columns: readonly Column<T>[]
  sortBy: string
  wordsOf: (row: T) => readonly string[]
  add: ReactNode
  whenEmpty: string
}) {
  const filter = useFilter()
  const shown = filter.wanted ? rows.filter((row) => wordsOf(row).some((word) => word.toLowerCase().includes(filter.wanted))) : rows
  if (rows.length === 0)
    return (
      <Page title={title}>
        <Empty action={add}>{whenEmpty}</Empty>
      </Page>
    )
  return (
    <Page
      title={title}
      about={`${rows.length} recorded.`}
      actions={
        <>
          <FilterInput filter={filter} label={`Filter ${title.toLowerCase()}`} />
          {add}
        </>
      }
    >
      {shown.length === 0 ? (
        <Empty>
          No {one} fits “{filter.text}”.
        </Empty>
      ) : (
        <RecordTable label={title} rows={shown} columns={columns} sortBy={sortBy} />
      )}
    </Page>
  )
}
