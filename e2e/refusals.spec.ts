import { expect, test } from './insel.js'
import { LONG } from './tier.js'

test('nonsense in a field gets a sentence at the field, and nothing is lost', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('guests/new')
  const line = page.getByLabel('The guest in a line')
  await line.fill('-bad 0cpu 8X on nowhere net office')
  await expect(page.locator('#spec-about')).toContainText('start and end with a letter or digit')
  await line.fill('newsroom 4cpu 8G 40G on gannet net office')
  await expect(page.getByText('Name newsroom is already used by guest newsroom; choose another.').first()).toBeVisible()
  await page.getByRole('button', { name: 'Add guest' }).click()
  await expect(page.getByText('Name newsroom is already used by guest newsroom; choose another.').last()).toBeVisible()
  await expect(line).toHaveValue('newsroom 4cpu 8G 40G on gannet net office')
  for (const [label, text, sentence] of [
    ['Name', 'two words', 'can only have letters, digits'],
    ['Processors', 'many', 'is not a number'],
    ['Memory', '8 lots', 'not a unit of size'],
    ['Memory', '1 MiB', 'at least 4 MiB'],
    ['Tags', 'good b@d', 'short words'],
  ] as const) {
    await page.getByLabel(label, { exact: true }).fill(text)
    await expect(page.getByLabel(label, { exact: true })).toHaveAttribute('aria-invalid', 'true')
    const about = (await page.getByLabel(label, { exact: true }).getAttribute('aria-describedby')) ?? ''
    await expect(page.locator(`#${about}`)).toContainText(sentence)
  }
  await page.getByLabel('Size of disk 1').fill('big')
  await expect(page.getByText(/“big” is not a size/)).toBeVisible()
})

test('a form says at the field what is wrong, for each kind of field', async ({ demo }) => {
  const { page } = demo
  for (const [path, label, text, sentence] of [
    ['records/subnet/new', 'Prefix', '10.61.40.7/23', 'the prefix itself is 10.61.40.0/23'],
    ['records/address/new', 'Address', '10.61.400.7', 'must be an IPv4 or IPv6 address'],
    ['records/adapter/new', 'MAC (optional)', '02:1a', 'twelve hexadecimal digits'],
    ['records/platform/new', 'MAC prefix', 'zz', 'six hexadecimal digits'],
    ['records/platform/new', 'Supported until (optional)', '2027-02-30', 'is not a day'],
    ['records/network/new', 'VLAN ID (optional)', '4095', 'at most 4094'],
    ['records/store/new', 'Capacity', 'huge', 'not a size'],
    ['records/host/new', 'Cores per socket', '1.5', 'whole number'],
    ['records/migration/new', 'Started (optional)', 'whenever', 'is not a day'],
  ] as const) {
    await demo.go(path)
    await page.getByLabel(label, { exact: true }).fill(text)
    await page.getByRole('button', { name: /^Add / }).last().click()
    await expect(page.getByLabel(label, { exact: true })).toHaveAttribute('aria-invalid', 'true')
    const about = (await page.getByLabel(label, { exact: true }).getAttribute('aria-describedby')) ?? ''
    await expect(page.locator(`[id="${about}"]`)).toContainText(sentence)
    await expect(page.getByLabel(label, { exact: true })).toHaveValue(text)
  }
})

test('what the estate refuses is said, with the record as it was', async ({ demo }) => {
  const { page } = demo
  await demo.go(`guests/${await demo.idOf('guest', 'vault')}`)
  await page.getByLabel('Address for adapter 1').fill('10.61.40.9')
  await page.getByRole('button', { name: 'Assign' }).first().click()
  await expect(page.getByText('10.61.40.9').last()).toBeVisible()
  await page.getByLabel('Address for adapter 2').fill('10.61.10.11')
  await page.getByRole('button', { name: 'Assign' }).last().click()
  await expect(page.getByText('Address 10.61.10.11 is already used by host gannet; choose another.')).toBeVisible()
  await expect(page.getByLabel('Address for adapter 2')).toHaveValue('10.61.10.11')

  // A host that guests are on goes only together with what refers to it; the page says what that is before it does it.
  await demo.go(`records/host/${await demo.idOf('host', 'kittiwake')}`)
  await page.getByRole('button', { name: 'Remove…' }).click()
  await expect(page.getByRole('group', { name: 'Remove' })).toContainText('store nvme-5')
  await page.getByRole('button', { name: 'Cancel' }).click()
  await demo.go(`records/host/${await demo.idOf('host', 'tern')}`)
  await page.getByRole('button', { name: 'Remove…' }).click()
  await expect(page.getByRole('group', { name: 'Remove' })).toContainText('is running and would be on no host')
  expect(await demo.list('hosts')).toHaveLength(6)
})

test('a drop that the estate refuses is not offered', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('board')
  const block = page.getByRole('button', { name: /^phone-queue/ })
  await block.focus()
  await page.keyboard.press('m')
  for (let step = 0; step < 6 && !(await page.getByRole('heading', { name: 'phone-queue to kittiwake', exact: true }).isVisible()); step++)
    await page.keyboard.press('ArrowDown')
  await expect(page.getByText('kittiwake is on order; phone-queue is running')).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('status').filter({ hasText: 'Not possible' })).toBeVisible()
  await expect(page.getByRole('complementary', { name: 'Plan' })).toBeHidden()
})
