import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { useState } from 'react'
import { MemoryRouter, useLocation } from 'react-router'
import { afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import { giveSizes } from '../testing/layout'
import type { Column } from './columns'
import { ListPaneContext } from './list-pane'
import { useSorted, type Sort } from './sorting'
import { RecordTable, RowLink } from './table'

beforeAll(giveSizes)
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
  giveSizes()
})

interface Line {
  readonly id: string
  readonly name: string
  readonly size: number
}
const rows: readonly Line[] = [
  { id: '1', name: 'host-10', size: 3 },
  { id: '2', name: 'host-2', size: 1 },
  { id: '3', name: 'host-1', size: 2 },
]
const many: readonly Line[] = Array.from({ length: 5000 }, (_, n) => ({ id: String(n), name: `host-${n}`, size: n }))
const columns: readonly Column<Line>[] = [
  {
    id: 'name',
    header: 'Name',
    value: (row) => row.name,
    cell: (row) => (
      <RowLink id={row.id} to={`/hosts/${row.id}`}>
        {row.name}
      </RowLink>
    ),
  },
  { id: 'size', header: 'Size', value: (row) => row.size, isNumber: true },
]
function Hosts({ lines, by = 'name' }: { lines: readonly Line[]; by?: string }) {
  const [sort, setSort] = useState<Sort>({ id: by, isDescending: false })
  return <RecordTable label="Hosts" rows={useSorted(lines, columns, sort)} columns={columns} sort={sort} setSort={setSort} />
}
const Address = () => <p data-testid="address">{useLocation().pathname + useLocation().search}</p>
const show = (lines: readonly Line[], { openId, by }: { openId?: string; by?: string } = {}) =>
  render(
    <MemoryRouter initialEntries={['/hosts?sort=-size']}>
      <ListPaneContext value={{ openId, search: '?sort=-size' }}>
        <Hosts lines={lines} {...(by && { by })} />
      </ListPaneContext>
      <Address />
    </MemoryRouter>,
  )
const giveMedia = (which: string) =>
  vi.stubGlobal('matchMedia', (query: string) => ({
    matches: query === which,
    addEventListener: () => undefined,
    removeEventListener: () => undefined,
  }))
const names = () => screen.getAllByRole('link').map((link) => link.textContent)

describe('a list', () => {
  it('sorts names as people count, and says how it is sorted', () => {
    show(rows)
    expect(names()).toEqual(['host-1', 'host-2', 'host-10'])
    expect(screen.getByRole('columnheader', { name: 'Name' }).getAttribute('aria-sort')).toBe('ascending')
    fireEvent.click(screen.getByRole('button', { name: 'Size' }))
    expect(names()).toEqual(['host-2', 'host-1', 'host-10'])
    fireEvent.click(screen.getByRole('button', { name: 'Size' }))
    expect(names()).toEqual(['host-10', 'host-1', 'host-2'])
    expect(screen.getByRole('columnheader', { name: 'Size' }).getAttribute('aria-sort')).toBe('descending')
  })
  it('arrows move from row to row, and nothing opens by that', () => {
    show(rows)
    const [first, second] = screen.getAllByRole('link')
    first?.focus()
    if (first) fireEvent.keyDown(first, { key: 'ArrowDown' })
    expect(document.activeElement).toBe(second)
    if (second) fireEvent.keyDown(second, { key: 'ArrowUp' })
    expect(document.activeElement).toBe(first)
    expect(screen.getByTestId('address').textContent).toBe('/hosts?sort=-size')
  })
  it('where a thing is open beside it, that follows the arrows, and the list stays as it is sorted', () => {
    show(rows, { openId: '3' })
    const [first] = screen.getAllByRole('link')
    expect(first?.getAttribute('aria-current')).toBe('true')
    first?.focus()
    if (first) fireEvent.keyDown(first, { key: 'ArrowDown' })
    expect(screen.getByTestId('address').textContent).toBe('/hosts/2?sort=-size')
  })
  it('draws only what is in sight of five thousand rows', () => {
    show(many, { by: 'size' })
    expect(screen.getByRole('table').getAttribute('aria-rowcount')).toBe('5000')
    expect(screen.getAllByRole('link').length).toBeLessThan(60)
  })
  it('draws all of them on paper', () => {
    giveMedia('print')
    show(many.slice(0, 300), { by: 'size' })
    expect(screen.getAllByRole('link')).toHaveLength(300)
  })
  it('on a narrow screen is rows of labelled values, sorted by a choice', () => {
    giveMedia('(width < 40rem)')
    show(rows)
    expect(screen.queryByRole('table')).toBeNull()
    expect(screen.getAllByRole('listitem').map((row) => row.textContent)).toEqual(['host-1Size2', 'host-2Size1', 'host-10Size3'])
    fireEvent.change(screen.getByLabelText('Sort by'), { target: { value: 'size' } })
    expect(names()).toEqual(['host-2', 'host-1', 'host-10'])
    fireEvent.click(screen.getByRole('button', { name: 'ascending' }))
    expect(names()).toEqual(['host-10', 'host-1', 'host-2'])
  })
})
