import { applyAll, disksOf, importTables, readTables } from '@insel/core'
import { smallEstate, testContext } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import write from 'write-excel-file/node'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { stubServer } from '../../testing/api-stand-in'
import { renderPlace } from '../../testing/render-place'
import { press } from '../../testing/open-page'
import { readTablesFile } from './read-tables-file'
import { tablesOfWorkbook, WorkbookError } from './workbook'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const TABLE = 'name,host,vCPU,memory,disks\nweb-1,gannet,2,4G,40G\nplayout-1,gannet,6,8G,\nlost,nowhere,1,1G,\n'

async function open(text = TABLE) {
  const api = stubServer()
  const page = await renderPlace('guests/exchange')
  const area = await screen.findByLabelText<HTMLTextAreaElement>('Table')
  act(() => void fireEvent.change(area, { target: { value: text } }))
  const posted = () => api.asked.filter(({ method }) => method === 'POST')
  return { api, area, posted, ...page }
}
const typeInto = (label: string, text: string) => {
  const input = screen.getByLabelText(label)
  act(() => void fireEvent.change(input, { target: { value: text } }))
  act(() => void fireEvent.keyDown(input, { key: 'Enter' }))
}

describe('a table', () => {
  it('says what it holds and which rows cannot be taken, before anything is recorded', async () => {
    const { posted } = await open()
    expect(await screen.findByText('1 guest added, 1 guest changed; 1 row refused.')).toBeDefined()
    const rows = within(screen.getByRole('region', { name: 'Rows' }))
    expect([rows.getByText('4').textContent, rows.getByText('There is no host “nowhere”.').textContent]).toBeDefined()
    expect(posted()).toEqual([])
  })

  it('that was pasted and left is offered again, and is gone once it is recorded or discarded', async () => {
    const first = await open()
    await screen.findByText(/1 row refused/)
    typeInto('host, line 4', 'gannet')
    await screen.findByText('2 guests added, 1 guest changed.')
    first.unmount()
    const again = await renderPlace('guests/exchange')
    const offer = await screen.findByText(/^Typed here .* and not recorded: a table of 4 lines, 1 of them changed here\.$/)
    expect(offer.textContent).toBeDefined()
    await press('Take it up')
    expect(screen.getByLabelText<HTMLTextAreaElement>('Table').value).toBe(TABLE)
    // What was mended by hand is mended again.
    expect(await screen.findByText('2 guests added, 1 guest changed.')).toBeDefined()
    again.unmount()
    await renderPlace('guests/exchange')
    await screen.findByText(/^Typed here/)
    await press('Discard it')
    expect(screen.queryByText(/^Typed here/)).toBeNull()
  })

  it('is mended in place: a cell is typed in, a row left out and taken again', async () => {
    await open()
    await screen.findByText(/1 row refused/)
    typeInto('host, line 4', 'gannet')
    expect(await screen.findByText('2 guests added, 1 guest changed.')).toBeDefined()
    await press('Leave out line 4')
    expect(await screen.findByText('1 guest added, 1 guest changed.')).toBeDefined()
    await press('Take line 4 again')
    expect(await screen.findByText('2 guests added, 1 guest changed.')).toBeDefined()
  })

  it('is recorded as one change by the server, which reads the rows itself', async () => {
    const { api, area, posted, view } = await open()
    await screen.findByText(/1 row refused/)
    await press('Record them')
    await waitFor(() => expect(view().recorded.byKey('guest', { name: 'web-1' })).toHaveLength(1))
    const [sent] = posted()
    expect([sent?.route.split('/').slice(-2).join('/'), sent?.body['kind'], sent?.body['expectedRevision']]).toEqual([
      'imports/apply',
      'tables',
      1,
    ])
    expect(view().recorded.byKey('guest', { name: 'playout-1' })[0]?.vcpu).toBe(6)
    expect([api.revision, area.value]).toEqual([2, ''])
    expect(screen.getByText('Recorded: 1 guest added, 1 guest changed; 1 row refused.')).toBeDefined()
  })

  it('is refused when the estate changed since, and stays to be looked at again', async () => {
    const { api, area } = await open()
    await screen.findByText(/1 row refused/)
    api.change([{ type: 'network.add', record: { name: 'elsewhere' } }])
    await press('Record them')
    expect((await screen.findAllByRole('alert')).map(({ textContent }) => textContent).join(' ')).toContain('changed since the preview')
    expect([area.value, api.revision]).toEqual([TABLE, 2])
  })

  it('goes into the plan as its commands', async () => {
    const { api, view } = await open()
    const before = view().recorded.all('guest').length
    await screen.findByText(/1 row refused/)
    await press('Add to plan')
    await waitFor(() =>
      expect(
        view()
          .recorded.all('item')[0]
          ?.commands.map(({ type }) => type),
      ).toContain('guest.add'),
    )
    expect([api.revision, view().recorded.all('guest').length]).toEqual([2, before])
  })

  it('that is no table is said to be none', async () => {
    await open('nothing at all')
    expect(await screen.findByText(/There are no rows/)).toBeDefined()
    expect(screen.queryByRole('button', { name: 'Record them' })).toBeNull()
  })

  it('what its columns hold outlasts another text with the same headings, and the next time', async () => {
    const headings = 'label,vcpu,memory'
    const { area, view } = await open(`${headings}\na,1,1G`)
    const choose = (text: string) =>
      act(() => void fireEvent.change(screen.getByLabelText('Column label holds'), { target: { value: text } }))
    expect(await screen.findByText('1 row refused.')).toBeDefined()
    choose('name')
    expect(await screen.findByText('1 guest added.')).toBeDefined()
    act(() => void fireEvent.change(area, { target: { value: `${headings}\nb,1,1G\nc,1,1G` } }))
    expect(await screen.findByText('2 guests added.')).toBeDefined()
    await press('Record them')
    await waitFor(() => expect(view().recorded.byKey('guest', { name: 'c' })).toHaveLength(1))
    cleanup()
    await open(`${headings}\nd,1,1G`)
    expect(await screen.findByText('1 guest added.')).toBeDefined()
  })
})

describe('a workbook', () => {
  type Cell = string | number | Date
  const cell = (value: Cell) =>
    value instanceof Date
      ? { value, type: Date, format: 'dd.mm.yyyy' }
      : typeof value === 'number'
        ? { value, type: Number }
        : { value, type: String }
  const bytesOf = async (sheets: Readonly<Record<string, readonly (readonly Cell[])[]>>): Promise<ArrayBuffer> => {
    const buffer = await write(
      Object.entries(sheets).map(([sheet, rows]) => ({ sheet, data: rows.map((row) => row.map(cell)) })),
    ).toBuffer()
    return new Uint8Array(buffer).buffer
  }

  it('is read sheet by sheet: rows with their lines, dates as days, numbers as they are written', async () => {
    const tables = await tablesOfWorkbook(
      await bytesOf({
        Hosts: [['title'], [''], ['host', 'u', 'until'], ['a', 12, new Date(Date.UTC(2029, 2, 31))], ['b', 0.1 + 0.2, '']],
        Nothing: [],
      }),
    )
    expect(tables).toEqual([
      {
        name: 'Hosts',
        rows: [
          { line: 1, cells: ['title', '', ''] },
          { line: 3, cells: ['host', 'u', 'until'] },
          { line: 4, cells: ['a', '12', '2029-03-31'] },
          { line: 5, cells: ['b', '0.3', ''] },
        ],
      },
    ])
  })

  /** Thirty machines: name, host, state, vCPU, memory in GiB, disks in GiB, address. */
  const machines = Array.from({ length: 30 }, (_, at) => ({
    name: `machine-${at + 1}`,
    host: at % 2 === 0 ? 'gannet' : 'fulmar',
    isOn: at % 3 !== 0,
    vcpu: 1 + (at % 4),
    memory: 2 + (at % 7),
    disks: at % 5 === 0 ? [40 + at, 100] : [40 + at],
    ip: at % 4 === 0 ? undefined : `10.61.30.${100 + at}`,
  }))
  const sum = (of: (machine: (typeof machines)[number]) => number) => machines.reduce((all, machine) => all + of(machine), 0)
  const [tall, wide] = [
    (value: string) => ({ value, type: String, rowSpan: 2 }),
    (value: string, columnSpan: number) => ({ value, type: String, columnSpan }),
  ]

  /** As a team in Hamburg and one in Lyon would keep them: two rows of headings, cells that are one, sums, columns that come twice. */
  const german = [
    [cell('Unsere virtuellen Maschinen, Stand März')],
    [
      tall('Rechnername'),
      tall('Wirt'),
      tall('Zustand'),
      wide('Ausstattung', 2),
      null,
      wide('Festplatte', 2),
      null,
      wide('Netzwerk', 2),
      null,
      tall('In Benutzung MB'),
      tall('Speicher'),
    ],
    [
      null,
      null,
      null,
      cell('Prozessoren'),
      cell('Arbeitsspeicher (GB)'),
      cell('1 (GB)'),
      cell('2 (GB)'),
      cell('Segment'),
      cell('IP-Adresse'),
      null,
      null,
    ],
    ...machines.map(({ name, host, isOn, vcpu, memory, disks, ip }) =>
      [name, host, isOn ? 'eingeschaltet' : 'aus', vcpu, memory, disks[0] ?? 0, disks[1] ?? 0, 'office', ip ?? 'dynamisch', 17, 'ja'].map(
        cell,
      ),
    ),
    ['Summe', '', '', sum(({ vcpu }) => vcpu), sum(({ memory }) => memory), 0, 0, '', '', 510, ''].map(cell),
  ]
  const french = [
    [wide('Machines virtuelles', 3), null, null, wide('Ressources', 4), null, null, null, wide('Réseau', 2), null, cell('')],
    [
      'Nom',
      'Hôte',
      'État',
      'Cœurs',
      'Mémoire (GB)',
      'Disque 1 (GB)',
      'Disque 2 (GB)',
      'Segment',
      'Adresse IP',
      'Mémoire utilisée (GB)',
    ].map(cell),
    ...machines.map(({ name, host, isOn, vcpu, memory, disks, ip }) =>
      [name, host, isOn ? 'allumée' : 'éteinte', vcpu, memory, disks[0] ?? 0, disks[1] ?? '-', 'office', ip ?? 'DHCP', 1].map(cell),
    ),
    ['Sous-total', '', '', 30, 100, 0, 0, '', '', ''].map(cell),
    ['Totaux', '', '', 30, 100, 0, 0, '', '', ''].map(cell),
  ]

  it.each([
    // “Speicher” is memory or room on a disk: it is asked. What is in use is said to be left out.
    [
      'German',
      german,
      [
        ['In Benutzung MB', undefined],
        ['Speicher', 'memory'],
      ],
      1,
    ],
    ['French', french, [['Mémoire utilisée (GB)', undefined]], 2],
  ] as const)('of thirty machines in %s comes out true, with nothing dropped unsaid', async (_, data, leftOut, sums) => {
    const buffer = await write([{ sheet: 'Sheet 1', data }]).toBuffer()
    const estate = smallEstate()
    const { tables } = readTables(await tablesOfWorkbook(new Uint8Array(buffer).buffer))
    const imported = importTables(estate, tables, testContext())
    expect(tables.map(({ holds }) => holds)).toEqual(['guest'])
    expect(imported.leftOut.map(({ heading, ask }) => [heading, ask?.column])).toEqual(leftOut)
    expect(imported.rows.filter(({ is }) => is === 'refused').map(({ problems }) => problems[0]?.sentence)).toEqual(
      Array.from({ length: sums }, () => expect.stringContaining('reads like a sum') as string),
    )
    const made = applyAll(estate, imported.commands, testContext(9)).estate
    expect(
      machines.map(({ name }) => {
        const [guest] = made.byKey('guest', { name })
        const adapters = made.referring('adapter', 'guestId', guest?.id ?? '')
        return {
          name,
          host: made.find('host', guest?.hostId)?.name,
          isOn: guest?.state === 'running',
          vcpu: guest?.vcpu,
          memory: (guest?.memoryMiB ?? 0) / 1024,
          disks: disksOf(made, guest?.id ?? '').map(({ sizeBytes }) => sizeBytes / 2 ** 30),
          ip: adapters.flatMap(({ id }) => made.referring('address', 'adapterId', id).map(({ ip }) => ip))[0],
        }
      }),
    ).toEqual(machines)
    expect(made.count('guest')).toBe(estate.count('guest') + machines.length)
  })

  it.each([
    ['a zip that is none', [0x50, 0x4b, 3, 4, 0, 0]],
    ['nothing', []],
  ])('%s is said to be none', async (_, bytes) => {
    await expect(tablesOfWorkbook(new Uint8Array(bytes).buffer)).rejects.toThrow(WorkbookError)
  })

  it.each<[string, Uint8Array<ArrayBuffer>, RegExp]>([
    ['an older spreadsheet', new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 0xa1]), /older spreadsheet. Save it as \.xlsx/],
    ['a picture', new Uint8Array([0x89, 0x4e, 0, 0, 1, 2]), /neither text nor a workbook/],
  ])('%s is asked to be saved as one', async (_, bytes, sentence) => {
    const reading = await readTablesFile(new File([bytes], 'machines'))
    expect('sentence' in reading && reading.sentence).toMatch(sentence)
  })

  it('a file that is too large is not read at all', async () => {
    const file = new File(['name'], 'a.csv')
    Object.defineProperty(file, 'size', { value: 21_000_000 })
    expect(await readTablesFile(file)).toEqual({ sentence: 'This file has 21 MB; at most 20 MB are read. Cut it in two.' })
    const long = await readTablesFile(new File(['x'.repeat(10_000_001)], 'a.csv'))
    expect(long).toEqual({ sentence: 'This is 10 MB; at most 10 MB are read at once. Cut the table in two.' })
  })

  it('a file of CSV is taken with its text', async () => {
    const reading = await readTablesFile(new File(['name,vcpu\r\n\r\na,1\r\n'], 'a.csv'))
    expect('tables' in reading && reading.tables[0]?.rows.map(({ line }) => line)).toEqual([1, 3])
  })
})
