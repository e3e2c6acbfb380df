import write from 'write-excel-file/node'
import { expect, test } from './insel.js'

type Cell = string | number
const sheet = (name: string, rows: readonly (readonly Cell[])[]) => ({
  sheet: name,
  data: rows.map((row) => row.map((value) => (typeof value === 'number' ? { value, type: Number } : { value, type: String }))),
})

/** Thirty machines as somebody kept them for years: titles, marks in names, units in headings, a total below, a few plain mistakes. */
async function messyBook(): Promise<Buffer> {
  const machine = (at: number): readonly Cell[] => [
    at === 0 ? 'Büro-Server' : `vm-${at}`,
    at % 2 === 0 ? 'kittiwake' : 'Dunlin',
    at === 4 ? 'zwei' : 2,
    at === 7 ? '' : 4,
    at === 9 ? '1 T' : '40G + 100G',
    at === 11 ? '10.9.9.9' : `10.40.0.${20 + at}`,
    at === 13 ? '52:54:00:00:00' : at % 3 === 0 ? `52-54-00-00-00-${String(at).padStart(2, '0')}` : '',
    at % 4 === 0 ? 'on' : 'off',
    at % 5 === 0 ? 'Anna' : '',
    at === 2 ? 'blue' : '',
  ]
  return write([
    sheet('VLANs', [
      ['Our networks'],
      ['Name', 'VLAN', 'Subnet', 'Mask', 'Gateway'],
      ['office', 40, '10.40.0.0', '255.255.255.0', '10.40.0.1'],
      ['lab', 41, '10.41.0.1/24', '', '10.41.0.1'],
    ]),
    sheet('Servers', [
      ['Server', 'CPU', 'RAM', 'Drives', 'VLAN', 'Serial no.', 'Rack'],
      ['kittiwake', '2x16', '256 GB', '2 x 4 TB', '40', 'SN-1', 'B'],
      ['dunlin', '2x16', '256 GB', '2 x 4 TB', '40', 'SN-2', 'B'],
    ]),
    sheet('Machines', [
      ['Machines, as of March'],
      [''],
      ['VM name', 'Host', 'CPUs', 'RAM (GB)', 'Disk', 'IP', 'MAC', 'Power', 'Owner', 'Colour'],
      ...Array.from({ length: 30 }, (_, at) => machine(at)),
      ['Total', '', 60, 120, '', '', '', '', '', ''],
    ]),
    sheet('Phone list', [
      ['Who', 'Extension'],
      ['Anna', 12],
    ]),
  ]).toBuffer()
}

test('a messy workbook of thirty machines becomes a true record, without leaving the page', async ({ empty }) => {
  const { page } = empty
  await empty.send([{ type: 'platform.add', record: { name: 'Brackwater 5' } }])
  await empty.go('guests/exchange')
  await page
    .getByLabel('Choose a workbook or CSV file')
    .setInputFiles({ name: 'machines.xlsx', mimeType: 'application/octet-stream', buffer: await messyBook() })
  await page.getByLabel('Phone list holds').selectOption('nothing')
  await expect(page.getByLabel('VLANs holds', { exact: true })).toHaveValue('network')
  await expect(page.getByLabel('Servers holds', { exact: true })).toHaveValue('host')
  await expect(page.getByLabel('Machines holds', { exact: true })).toHaveValue('guest')

  // Everything that is wrong is named at once, with its line, and is mended where it stands.
  const rows = page.getByRole('region', { name: 'Rows' })
  await expect(rows.getByText('“zwei” is not a whole number.')).toBeVisible()
  await expect(rows.getByText('It is new, and needs memory.')).toBeVisible()
  await expect(rows.getByText('10.9.9.9 is in no recorded subnet. Record its network first, or leave the address out.')).toBeVisible()
  await expect(rows.getByText(/“52:54:00:00:00”/)).toBeVisible()
  const mend = async (column: string, line: number, text: string) => {
    await rows.getByLabel(`${column}, line ${line}`, { exact: true }).fill(text)
    await page.keyboard.press('Enter')
  }
  await mend('memory', 11, '4')
  await mend('addresses', 15, '10.40.0.31')
  await mend('MACs', 17, '')
  await expect(rows.getByText(/“Total” reads like a sum/)).toBeVisible()
  await rows.getByRole('button', { name: 'Leave out line 34' }).click()
  await expect(rows.getByText('“zwei” is not a whole number.')).toBeVisible()
  // Left half-way, it is there on the way back with all that was mended, the cell one was in included.
  await rows.getByLabel('vCPU, line 8', { exact: true }).fill('2')
  await page.reload()
  await expect(page.getByText(/not recorded: 4 tables of \d+ lines, 5 of them changed here\./)).toBeVisible()
  await page.getByRole('button', { name: 'Take it up' }).click()
  await expect(page.getByText('2 networks added; 2 hosts added; 30 guests added.', { exact: true })).toBeVisible()
  await expect(page.getByText('Left out: Machines Colour (1 cell)', { exact: false })).toBeVisible()
  await rows.getByRole('combobox', { name: 'Rows' }).selectOption('with remarks')
  await expect(rows.getByText('“Büro-Server” is recorded as Buro-Server.')).toBeVisible()
  await page.getByRole('button', { name: 'Record them' }).click()
  await expect(page.getByText('Recorded: 2 networks added; 2 hosts added; 30 guests added.', { exact: true })).toBeVisible()

  const guests = await empty.list('guests')
  expect(guests).toHaveLength(30)
  expect(guests.find(({ name }) => name === 'Buro-Server')).toMatchObject({ state: 'running', memoryMiB: 4096, owner: 'Anna' })
  const adapters = await empty.list('adapters')
  // Nobody asked the others for theirs: none is made up.
  expect(adapters.filter(({ mac }) => mac !== null)).toHaveLength(10)
  expect(await empty.list('addresses')).toHaveLength(30)

  // The same file again: what was said of its columns is still known, and nothing of it is new but what was mended.
  await page
    .getByLabel('Choose a workbook or CSV file')
    .setInputFiles({ name: 'machines.xlsx', mimeType: 'application/octet-stream', buffer: await messyBook() })
  await expect(page.getByLabel('Phone list holds')).toHaveValue('nothing')
  await expect(page.getByText(/as recorded/).first()).toBeVisible()
})
