import { strToU8, zipSync } from 'fflate'
import { expect, test } from './insel.js'

const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006'

/** A workbook of one cell, wherever that is. @see ECMA-376 part 1, 18.3, and part 2 */
const workbook = (cell: string): Buffer =>
  Buffer.from(
    zipSync({
      '[Content_Types].xml': strToU8(
        `<Types xmlns="${PACKAGE}/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`,
      ),
      '_rels/.rels': strToU8(
        `<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="r1" Type="${OFFICE}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
      ),
      'xl/workbook.xml': strToU8(
        `<workbook xmlns="${MAIN}" xmlns:r="${OFFICE}"><sheets><sheet name="Guests" sheetId="1" r:id="r1"/></sheets></workbook>`,
      ),
      'xl/_rels/workbook.xml.rels': strToU8(
        `<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="r1" Type="${OFFICE}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
      ),
      'xl/worksheets/sheet1.xml': strToU8(`<worksheet xmlns="${MAIN}"><sheetData>${cell}</sheetData></worksheet>`),
    }),
  )

test('a workbook made to exhaust is a sentence on the page, and the page goes on', async ({ empty }) => {
  const { page } = empty
  await empty.go('guests/exchange')
  const choose = (name: string, buffer: Buffer) =>
    page.getByLabel('Choose a workbook or CSV file').setInputFiles({ name, mimeType: 'application/octet-stream', buffer })
  await choose('far.xlsx', workbook('<row r="1048576"><c r="XFD1048576"><v>1</v></c></row>'))
  await expect(page.getByText('This workbook reaches to cell XFD1048576')).toBeVisible()
  await choose('torn.xlsx', Buffer.from('PK torn'))
  await expect(page.getByText('This file cannot be read as a workbook.')).toBeVisible()
  await choose('machines.csv', Buffer.from('name,vcpu,memory (MiB)\nweb-1,2,2048\n'))
  await expect(page.getByText('1 guest added')).toBeVisible()
})

test('a change whose answer is lost on the way is recorded once when it is saved again', async ({ demo }) => {
  const { page } = demo
  await demo.go('records/network/new')
  await page.getByLabel('Name', { exact: true }).fill('phones')
  // The server does it, and its answer does not arrive.
  let lost = 0
  await page.route('**/commands?*', async (route) => {
    if (lost++ > 0) return route.fallback()
    await route.fetch()
    return route.abort('connectionreset')
  })
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('What you entered is still here')).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/phones.*recorded as change \d+/i).first()).toBeVisible()
  const networks = (await demo.list('networks')).filter(({ name }) => name === 'phones')
  expect([networks.length, lost]).toEqual([1, 2])
})

test('an address that is not asked says so where it was entered, and another can be entered', async ({ demo }) => {
  const { page } = demo
  const [move] = (await demo.list('migrations?state=copying')) as { id: string }[]
  await demo.go(`migrations/${move?.id ?? ''}`)
  await page.getByText('Ask an address').click()
  await page.getByLabel('Address', { exact: true }).fill('http://169.254.169.254/latest/meta-data')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Insel never asks 169.254.169.254')).toBeInViewport()
  await page.getByRole('button', { name: 'Enter another' }).click()
  await page.getByLabel('Address', { exact: true }).fill(`${demo.transfers}/transfers/99`)
  await page.keyboard.press('Enter')
  await expect(page.getByText(/answers 404\./)).toBeInViewport()
})
