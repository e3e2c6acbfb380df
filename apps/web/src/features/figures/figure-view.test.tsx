import { sumFigure, type Store } from '@insel/core'
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { FigureView, Working } from './figure-view'
import { IfAllFill } from './if-all-fill'

afterEach(cleanup)

describe('a figure', () => {
  const figure = sumFigure(
    'usable − platform',
    'MiB',
    [
      { label: 'usable', value: 8192, unit: 'MiB', sign: '+', from: 'host tern' },
      { label: 'platform', value: 1024, unit: 'MiB', sign: '−', from: 'platform Marram 2' },
    ],
    'common practice',
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
      ['−', '1 GiB', 'platform (platform Marram 2)'],
      ['=', '7 GiB', 'usable − platform'],
    ])
    expect(screen.getByText('Basis: common practice.')).toBeDefined()
  })
  it('shortens a long sum and says by how much', () => {
    const inputs = Array.from({ length: 40 }, (_, n) => ({
      label: `guest-${n}`,
      value: 1,
      unit: 'MiB' as const,
      sign: '+' as const,
      from: 'guest',
    }))
    render(<Working figure={sumFigure('each', 'MiB', inputs, 'common practice')} title="Committed" />)
    expect(screen.getByRole('row', { name: '+ 27 MiB 27 more (added up)' })).toBeDefined()
  })
  it('opens its working by click', () => {
    render(<FigureView figure={figure} title="Planable memory" />)
    expect(screen.queryByRole('dialog')).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'Planable memory: 7 GiB, show the working' }))
    expect(screen.getByRole('dialog', { name: 'Planable memory' }).textContent).toContain('host tern')
  })
  it.each([
    [2, 'short of 2 GiB'],
    [-3, '3 GiB stay free'],
    [0, '0 B stay free'],
  ])('says what becomes of a store when all fills up: %d GiB over', (gib, said) => {
    const input = {
      label: 'exposed',
      value: Math.abs(gib) * 2 ** 30,
      unit: 'bytes' as const,
      sign: gib < 0 ? ('−' as const) : ('+' as const),
    }
    const exposure = sumFigure('promised − size', 'bytes', [{ ...input, from: 'store nvme' }], 'common practice')
    render(<IfAllFill store={{ name: 'nvme' } as Store} exposure={exposure} />)
    expect(screen.getByRole('button').textContent).toBe(said)
  })
})
