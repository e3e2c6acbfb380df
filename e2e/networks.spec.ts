import { execFileSync } from 'node:child_process'
import { expect, test } from './insel.js'
import { LONG } from './tier.js'

test('five segments are planned in a block, moved by a key, and carried to three hosts', async ({ demo }) => {
  const { page } = demo
  await demo.go('networks/plan')
  await page.getByLabel('Block').fill('10.77.0.0/22')
  await page.getByRole('button', { name: 'Add the usual five' }).click()
  const drawing = page.getByRole('group', { name: '10.77.0.0/22, drawn to scale' })
  // 100 machines and 50 % make 150: a /24. The rest nests beside it.
  await expect(drawing.getByRole('button', { name: /^servers, 10\.77\.0\.0\/24, 254 addresses, 150 wanted/ })).toBeVisible()
  await page.getByLabel('Machines on servers').fill('2000')
  await expect(page.getByText(/servers needs a \/20 for .* and 10\.77\.0\.0\/22 has none free/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Record 4 segments' })).toBeDisabled()
  await page.getByLabel('Machines on servers').fill('100')

  await drawing.getByRole('button', { name: /^servers/ }).press('ArrowRight')
  await expect(drawing.getByRole('button', { name: /^servers, 10\.77\.2\.0\/24/ })).toBeVisible()
  for (const host of ['gannet', 'fulmar', 'puffin']) await page.getByLabel(host, { exact: true }).check()
  await page.getByRole('button', { name: 'Record 5 segments' }).click()
  await expect(page.getByRole('link', { name: 'servers', exact: true })).toBeVisible()
  const subnets = (await demo.list('subnets')).filter(({ prefix }) => String(prefix).startsWith('10.77.'))
  expect(subnets.map(({ prefix }) => prefix)).toContain('10.77.2.0/24')
  const networkIds = new Set(subnets.map(({ networkId }) => networkId))
  expect((await demo.list('attachments')).filter(({ networkId }) => networkIds.has(networkId))).toHaveLength(15)

  // A recorded subnet is moved by way of a preview.
  await demo.go('networks/plan')
  await page.getByLabel('Block').fill('10.61.64.0/20')
  await page.getByRole('button', { name: /^lab, 10\.61\.70\.0\/24/ }).press('ArrowRight')
  await expect(page.getByText('Prefix: 10.61.70.0/24 → 10.61.71.0/24')).toBeVisible()
  await page.getByRole('button', { name: 'Record it' }).click()
  await expect(page.getByRole('button', { name: /^lab, 10\.61\.71\.0\/24/ })).toBeVisible()
})

test('addresses are given by the map and by a spec line, and a conflict is mended by its fix', async ({ demo }) => {
  const { page } = demo
  const office = await demo.idOf('network', 'office')
  await demo.go(`networks/${office}?at=10.61.40.50`)
  const map = page.getByRole('grid', { name: 'Addresses of 10.61.40.0/24' })
  // The server is slow; who works on meanwhile loses nothing.
  await page.route('**/commands*', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 700))
    await route.continue()
  })
  await page.getByLabel('Assign to').fill('files')
  await page.getByRole('button', { name: 'Assign 10.61.40.50' }).click()
  await expect(map.getByRole('gridcell', { name: '10.61.40.50, fixed: adapter 1 of files' })).toBeVisible()

  // A run by keys: three addresses are kept in one go, and released again.
  await map.press('ArrowRight')
  await map.press('Shift+ArrowRight')
  await map.press('Shift+ArrowRight')
  await page.getByLabel('Kept for').fill('cameras')
  await page.getByRole('button', { name: 'Reserve 3 addresses' }).click()
  await expect(map.getByRole('gridcell', { name: '10.61.40.53, reserved: cameras' })).toBeVisible()
  await page.unroute('**/commands*')

  await demo.go('guests/new')
  await page.getByLabel('The guest in a line').fill('subtitles 2cpu 4G 40G on fulmar net office=10.61.40.60')
  await page.getByRole('button', { name: 'Add guest' }).click()
  await expect(page.getByText('10.61.40.60')).toBeVisible()

  await demo.go(`networks/${office}?at=10.61.40.120`)
  await expect(
    map.getByRole('gridcell', { name: /^10\.61\.40\.120, conflict: adapter 1 of weather-desk, fixed inside a DHCP range/ }),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Show the fix' }).click()
  await page.getByRole('button', { name: 'Apply fix' }).click()
  await expect(map.getByRole('gridcell', { name: '10.61.40.120, DHCP range: desks and laptops' })).toBeVisible()
  await expect(page.getByText('Fixed address in a DHCP range.')).toBeHidden()

  // Anything that has an address is found by it, on the map.
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder(/^A name, an address, a MAC/).fill('printer-desk')
  await page.getByRole('option', { name: /10\.61\.41\.20/ }).click()
  await expect(page.getByRole('gridcell', { name: '10.61.41.20, DHCP reservation: printer-desk' })).toBeVisible()
})

test('a crossed router is found on the path, the fix turns it good, and the intention is met', async ({ demo }) => {
  const { page } = demo
  await demo.go('networks/reach?groups=role')
  await page.getByRole('combobox', { name: 'From' }).fill('newsroom')
  await page.getByRole('combobox', { name: 'To' }).fill('192.0.2.2')
  await expect(page.getByText('Does not reach.')).toBeVisible()
  await expect(page.getByText(/adapter 1 and adapter 2 of sound-gate are swapped/)).toBeVisible()
  const cell = page.getByRole('button', { name: /^outside to role public/ })
  await expect(cell).toHaveAccessibleName('outside to role public: reaches in part, must reach, not met')

  await page.getByRole('combobox', { name: 'On', exact: true }).fill('newsroom')
  await page.getByLabel('Ping', { exact: true }).fill('192.0.2.2')
  await page.getByRole('button', { name: 'Ping' }).click()
  await expect(page.getByText('unreachable', { exact: true })).toBeVisible()

  await page.getByRole('button', { name: 'Apply fix' }).click()
  await expect(page.getByText('Reaches 192.0.2.2, and the answer comes back.')).toBeVisible()
  await expect(cell).toHaveAccessibleName('outside to role public: reaches, must reach')

  // An intention is drawn with the keys, and is among the findings when it is not met.
  await cell.click()
  await page.keyboard.press('ArrowLeft')
  await page.getByLabel('Intended').selectOption('must reach')
  await expect(page.getByText('Not as intended; see the findings.')).toBeVisible()
  await page.getByRole('button', { name: 'Show one that fails' }).click()
  await expect(page.getByText('Does not reach.')).toBeVisible()

  await page.getByLabel('Others on the LAN must reach its guests').check()
  await expect(page.getByText('no: others on the LAN do not reach its guests.').first()).toBeVisible()
})

test('names go out as a zone that BIND accepts, and come in via a preview', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('networks/names')
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Zone file of skerry.example' }).click()
  const file = await (await download).path()
  expect(execFileSync('named-checkzone', ['-k', 'fail', '-M', 'fail', 'skerry.example', file], { encoding: 'utf8' })).toMatch(/OK/)

  await page.getByLabel(/^Paste hosts/).fill('ip,name\n10.61.40.91,scanner\n10.61.40.1000,broken\n10.99.0.1,lost\n')
  await expect(page.getByText('Read as CSV: 1 to record, 0 known already, 2 not taken.')).toBeVisible()
  await expect(page.getByText('10.99.0.1 is in no recorded subnet; add the subnet first.')).toBeVisible()
  await page.getByRole('button', { name: 'Record 1' }).click()
  await expect(page.getByText(/1 names? taken over: recorded/)).toBeVisible()
  expect((await demo.list('addresses')).find(({ ip }) => ip === '10.61.40.91')).toMatchObject({ name: 'scanner', kind: 'reserved' })
})
