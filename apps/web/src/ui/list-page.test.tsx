import { cleanup, fireEvent, render, screen, within } from '@testing-library/react'
import { BrowserRouter, useLocation } from 'react-router'
import { afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import { writeCsv } from '../lib/files'
import { giveSizes } from '../testing/layout'
import { ListPage } from './list-page'
import { Tick } from './tick'

beforeAll(giveSizes)
afterEach(cleanup)

const rows = [
  { id: '1', name: 'gannet', site: 'studio', memory: 128 },
  { id: '2', name: 'tern', site: 'mast', memory: 32 },
  { id: '3', name: 'fulmar', site: 'studio', memory: 96 },
]
type Row = (typeof rows)[number]
const Address = () => <p data-testid="address">{useLocation().search}</p>
const show = (address = '/') => {
  window.history.replaceState(null, '', address)
  return render(
    <BrowserRouter>
      <ListPage<Row>
        title="Hosts"
        one="host"
        rows={rows}
        columns={[
          { id: 'name', header: 'Name', value: (row) => row.name },
          { id: 'site', header: 'Site', value: (row) => row.site },
          { id: 'memory', header: 'Memory', value: (row) => row.memory, isNumber: true, isExtra: true },
        ]}
        sortBy="name"
        wordsOf={(row) => [row.name, row.site]}
        add={null}
        whenEmpty="None."
        groupings={[{ id: 'site', label: 'site', of: (row) => row.site }]}
      />
      <Address />
    </BrowserRouter>,
  )
}
const lines = () =>
  screen
    .getAllByRole('row')
    .slice(1)
    .map((row) => row.textContent)

describe('a list', () => {
  it('shows the usual columns, and the others when they are chosen; the address keeps the choice', async () => {
    show()
    expect(screen.getAllByRole('columnheader').map((one) => one.textContent)).toEqual(['Name', 'Site'])
    fireEvent.click(screen.getByRole('button', { name: 'Columns' }))
    fireEvent.click(await screen.findByLabelText('Memory'))
    expect(screen.getByTestId('address').textContent).toBe('?columns=name%2Csite%2Cmemory')
    fireEvent.click(screen.getByLabelText('Site'))
    fireEvent.click(screen.getByLabelText('Memory'))
    expect(lines()).toEqual(['fulmar', 'gannet', 'tern'])
  })

  it('opens as its address says', () => {
    show('/?columns=name,memory&group=site&filter=studio')
    expect(lines()).toEqual(['studio 2', 'fulmar96', 'gannet128'])
    expect(screen.getByText('2 of 3 shown.')).toBeDefined()
  })

  it('groups stand under their headings, sorted inside', () => {
    show('/')
    fireEvent.change(screen.getByLabelText('Group by'), { target: { value: 'site' } })
    expect(lines()).toEqual(['mast 1', 'ternmast', 'studio 2', 'fulmarstudio', 'gannetstudio'])
    const heading = screen.getAllByRole('rowheader')[0]
    expect(heading && within(heading).getByText('1')).toBeDefined()
    fireEvent.click(screen.getByRole('button', { name: 'Name' }))
    expect(lines()).toEqual(['mast 1', 'ternmast', 'studio 2', 'gannetstudio', 'fulmarstudio'])
  })

  it('keeps its order in the address, and its CSV has it too', async () => {
    const saved: string[] = []
    vi.stubGlobal(
      'URL',
      Object.assign(URL, {
        createObjectURL: (blob: Blob) => (void blob.text().then((text) => saved.push(text)), 'blob:x'),
        revokeObjectURL: () => undefined,
      }),
    )
    vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(() => undefined)
    show('/?sort=-memory&columns=name,memory')
    expect(lines()).toEqual(['gannet128', 'fulmar96', 'tern32'])
    fireEvent.click(screen.getByRole('button', { name: 'CSV' }))
    await vi.waitFor(() => expect(saved).toEqual(['Name,Memory\r\ngannet,128\r\nfulmar,96\r\ntern,32\r\n']))
    fireEvent.click(screen.getByRole('button', { name: 'Name' }))
    expect(screen.getByTestId('address').textContent).toBe('?columns=name%2Cmemory')
    fireEvent.click(screen.getByRole('button', { name: 'Name' }))
    expect(screen.getByTestId('address').textContent).toBe('?columns=name%2Cmemory&sort=-name')
    vi.restoreAllMocks()
  })

  it('says when nothing fits the filter', () => {
    show('/?filter=zzz')
    expect(screen.getByText('No host fits “zzz”.')).toBeDefined()
  })
})

// RFC 4180, section 2: quoting of commas, quotes and line breaks, lines ended by CRLF.
describe('CSV', () => {
  it('quotes what needs it', () =>
    expect(
      writeCsv(
        ['a', 'b'],
        [
          ['x, "y"', 1],
          ['two\nlines', 2],
        ],
      ),
    ).toBe('a,b\r\n"x, ""y""",1\r\n"two\nlines",2\r\n'))
  // Common practice, no source: a text that begins with = + - @ is taken for a formula by spreadsheets.
  it('defuses formulas', () => expect(writeCsv(['a'], [['=1+1'], ['@x']])).toBe('a\r\n"\'=1+1"\r\n"\'@x"\r\n'))
})

describe('a box that is ticked', () => {
  it('shows the tick at once, and takes it back when the change is refused', async () => {
    const settle: (() => void)[] = []
    const onTick = vi.fn(() => new Promise<undefined>((resolve) => settle.push(() => resolve(undefined))))
    render(<Tick label="cable" isTicked={false} onTick={onTick} />)
    const box = screen.getByLabelText<HTMLInputElement>('cable')
    fireEvent.click(box)
    expect([box.checked, onTick.mock.calls]).toEqual([true, [[true]]])
    settle[0]?.()
    await vi.waitFor(() => expect(box.checked).toBe(false))
  })
})
