// @vitest-environment jsdom
import { apply, readSpecLine, sumFigure, type Difference, type Estate } from '@insel/core'
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react'
import { useState } from 'react'
import { afterEach, beforeAll, describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '@insel/core/testing'
import { DifferenceView } from '../features/proposals/difference-view'
import { FigureView, Working } from '../features/figures/figure-view'
import { Mark } from './mark'
import { SpecInput } from '../features/compose/spec-input'
import { giveSizes } from '../testing/layout'
import { RecordTable } from './table'
import '../testing/looking'

beforeAll(giveSizes)
afterEach(cleanup)

describe('a mark', () => {
  it('has a name and a shape of its own for each meaning, not only a colour', () => {
    const shapes = (['error', 'warning', 'notice'] as const).map((of) => {
      const { container, unmount } = render(<Mark of={of} />)
      const shape = container.querySelector('path')?.getAttribute('d')
      expect(screen.getByRole('img').getAttribute('aria-label')).toBe({ error: 'Error', warning: 'Warning', notice: 'Notice' }[of])
      unmount()
      return shape
    })
    expect(new Set(shapes).size).toBe(3)
  })
  it('is silent where the text beside it says the same', () => {
    render(<Mark of="error" isLabelled={false} />)
    expect(screen.queryByRole('img')).toBeNull()
  })
})

describe('a figure', () => {
  const figure = sumFigure(
    'usable − platform’s own',
    'MiB',
    [
      { label: 'usable', value: 8192, unit: 'MiB', sign: '+', from: 'host tern' },
      { label: 'platform’s own', value: 1024, unit: 'MiB', sign: '−', from: 'platform Marram 2' },
    ],
    'common practice, no source',
  )
  it('shows each input with its sign, value and origin, the result, the formula and the source', () => {
    render(<Working figure={figure} title="Planable memory" />)
    const rows = screen.getAllByRole('row').map((row) =>
      within(row)
        .getAllByRole('cell')
        .map((cell) => cell.textContent),
    )
    expect(rows).toEqual([
      ['', '8 GiB', 'usable (host tern)'],
      ['−', '1 GiB', 'platform’s own (platform Marram 2)'],
      ['=', '7 GiB', 'usable − platform’s own'],
    ])
    expect(screen.getByText('Source: common practice, no source.')).toBeDefined()
  })
  it('shortens a long sum and says by how much', () => {
    const inputs = Array.from({ length: 40 }, (_, n) => ({
      label: `guest-${n}`,
      value: 1,
      unit: 'MiB' as const,
      sign: '+' as const,
      from: 'guest',
    }))
    render(<Working figure={sumFigure('each', 'MiB', inputs, 'common practice, no source')} title="Committed" />)
    expect(screen.getByText('and 26 more')).toBeDefined()
  })
  it('opens its working by click', () => {
    render(<FigureView figure={figure} title="Planable memory" />)
    expect(screen.queryByRole('dialog')).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'Planable memory: 7 GiB, show the working' }))
    expect(screen.getByRole('dialog', { name: 'Planable memory' }).textContent).toContain('host tern')
  })
})

describe('a difference', () => {
  const estate = smallEstate()
  const lines = (difference: Difference, at: Estate = estate) => {
    render(<DifferenceView estate={at} difference={difference} />)
    return screen.queryAllByRole('listitem').map((item) => item.textContent)
  }
  it('says what is added, changed from what to what, and removed', () => {
    const resized = apply(estate, { type: 'guest.resize', guestId: idOf('news'), vcpu: 6 }, testContext(2)).difference
    expect(lines(resized)).toEqual(['±guest newsroomProcessors: 2 vCPU → 6 vCPU', expect.stringMatching(/^Power newsroom off and on/)])
    expect(screen.getByText('Then by hand:')).toBeDefined()
    cleanup()
    const gone = apply(estate, { type: 'guest.remove', id: idOf('news'), withReferring: true }, testContext(2)).difference
    expect(lines(gone).sort()).toEqual(['−adapter 1 of newsroom', '−disk 1 (system) of newsroom', '−guest newsroom'])
    cleanup()
    const cloned = apply(estate, { type: 'guest.clone', guestId: idOf('template'), name: 'web-1' }, testContext(2)).difference
    expect(lines(cloned)[0]).toBe('+guest web-1Host gannet · State stopped · Processors 2 vCPU · Memory 2 GiB · Cloned from tpl-server')
  })
  it('of nothing says so', () => {
    lines({ added: {}, updated: {}, removed: {} })
    expect(screen.getByText('Nothing would change.')).toBeDefined()
  })
})

describe('the spec input', () => {
  function Line({ start }: { start: string }) {
    const [line, setLine] = useState(start)
    const names = { hosts: ['gannet'], networks: ['office'], stores: [] }
    return (
      <SpecInput value={line} onChange={setLine} parts={readSpecLine(line, names).parts} label="The guest" placeholder="" hint="Say it." />
    )
  }
  const field = () => screen.getByLabelText<HTMLInputElement>('The guest')

  it('gives its hint while all is understood', () => {
    render(<Line start="web-1 2cpu 4G on gannet" />)
    expect(field().getAttribute('aria-invalid')).toBe('false')
    expect(screen.getByText('Say it.')).toBeDefined()
  })
  it('offers the nearest word; Tab takes it, and only it', () => {
    render(<Line start="web-1 2cpu on gannit net office" />)
    expect(field().getAttribute('aria-invalid')).toBe('true')
    expect(screen.getByText(/There is no host “gannit”/)).toBeDefined()
    fireEvent.keyDown(field(), { key: 'Tab' })
    expect(field().value).toBe('web-1 2cpu on gannet net office')
    expect(screen.getByText('Say it.')).toBeDefined()
  })
  it('takes it by click, too', () => {
    render(<Line start="web-1 2cpu steddy" />)
    fireEvent.click(screen.getByRole('button', { name: 'steady' }))
    expect(field().value).toBe('web-1 2cpu steady')
  })
  it('Tab goes on where nothing is offered', () => {
    render(<Line start="web-1 2cpu zzzzzz" />)
    expect(fireEvent.keyDown(field(), { key: 'Tab' })).toBe(true)
  })
})

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
