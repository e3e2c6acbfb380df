import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, beforeAll, describe, expect, it } from 'vitest'
import { giveSizes } from '../testing/layout'
import { RecordTable } from './table'

beforeAll(giveSizes)
afterEach(cleanup)

describe('a list', () => {
  const rows = [
    { id: '1', name: 'host-10', size: 3 },
    { id: '2', name: 'host-2', size: 1 },
    { id: '3', name: 'host-1', size: 2 },
  ]
  const columns = [
    {
      id: 'name',
      header: 'Name',
      value: (row: (typeof rows)[number]) => row.name,
      cell: (row: (typeof rows)[number]) => (
        <a data-row href={`#${row.id}`}>
          {row.name}
        </a>
      ),
    },
    { id: 'size', header: 'Size', value: (row: (typeof rows)[number]) => row.size, isNumber: true },
  ]
  const names = () => screen.getAllByRole('link').map((link) => link.textContent)

  it('sorts names as people count, and says how it is sorted', () => {
    render(<RecordTable label="Hosts" rows={rows} columns={columns} sortBy="name" />)
    expect(names()).toEqual(['host-1', 'host-2', 'host-10'])
    expect(screen.getByRole('columnheader', { name: 'Name' }).getAttribute('aria-sort')).toBe('ascending')
    fireEvent.click(screen.getByRole('button', { name: 'Size' }))
    expect(names()).toEqual(['host-2', 'host-1', 'host-10'])
    fireEvent.click(screen.getByRole('button', { name: 'Size' }))
    expect(names()).toEqual(['host-10', 'host-1', 'host-2'])
    expect(screen.getByRole('columnheader', { name: 'Size' }).getAttribute('aria-sort')).toBe('descending')
  })
  it('arrows move from row to row', () => {
    render(<RecordTable label="Hosts" rows={rows} columns={columns} sortBy="name" />)
    const [first, second] = screen.getAllByRole('link')
    first?.focus()
    if (first) fireEvent.keyDown(first, { key: 'ArrowDown' })
    expect(document.activeElement).toBe(second)
    if (second) fireEvent.keyDown(second, { key: 'ArrowUp' })
    expect(document.activeElement).toBe(first)
  })
  it('draws only what is in sight of five thousand rows', () => {
    const many = Array.from({ length: 5000 }, (_, n) => ({ id: String(n), name: `host-${n}`, size: n }))
    render(<RecordTable label="Hosts" rows={many} columns={columns} sortBy="size" />)
    expect(screen.getByRole('table').getAttribute('aria-rowcount')).toBe('5000')
    expect(screen.getAllByRole('link').length).toBeLessThan(60)
  })
})
