import { expect, test } from './insel.js'
import { LONG } from './tier.js'

test('dragging a guest to another lane says what fits, then records its migration or plans it; the record does not change before it is carried out', async ({
  demo,
}) => {
  const { page } = demo
  await demo.go('board')
  const block = page.getByRole('button', { name: /^transcode-2/ })
  const lane = page.getByRole('region', { name: /^gannet/ })
  const [from, to] = [await block.boundingBox(), await lane.boundingBox()]
  if (!from || !to) throw new Error('the board has no such block or lane')
  await page.mouse.move(from.x + 30, from.y + 12)
  await page.mouse.down()
  await page.mouse.move(from.x + 60, from.y + 40, { steps: 5 })
  await page.mouse.move(to.x + 500, to.y + 40, { steps: 8 })
  await expect(page.getByRole('heading', { name: 'transcode-2 to gannet', exact: true })).toBeVisible()
  await expect(page.getByText(/Memory: 16\.\d GiB into 18\.9 GiB left/)).toBeVisible()
  await expect(page.getByText('Networks studio and storage are carried')).toBeVisible()
  await page.mouse.up()
  await expect(page.getByRole('button', { name: 'Add to plan' })).toBeFocused()
  await page.getByLabel('Name of the new plan').fill('Saturday')
  await page.getByRole('button', { name: 'Add to plan' }).click()

  const plan = page.getByRole('complementary', { name: 'Plan' })
  await expect(plan.getByText('Migrate transcode-2 to gannet')).toBeVisible()
  await expect(page).toHaveURL(/basis=[0-9a-f-]{36}(~|%7E)[0-9a-f-]{36}/)
  await expect(page.getByRole('region', { name: /^gannet/ }).getByRole('button', { name: /^transcode-2/ })).toBeVisible()
  const fulmar = await demo.idOf('host', 'fulmar')
  const guest = async () => (await demo.list('guests?name=transcode-2'))[0]
  expect((await guest())?.['hostId']).toBe(fulmar)

  await page.getByRole('button', { name: /^Recorded r/ }).click()
  await expect(page.getByRole('region', { name: /^fulmar/ }).getByRole('button', { name: /^transcode-2/ })).toBeVisible()
  await page.keyboard.press('p')
  await expect(plan.getByText('Migrate transcode-2 to gannet')).toBeVisible()
  await page.reload()
  await plan.getByRole('button', { name: 'Carry out all…' }).click()
  await plan.getByRole('button', { name: 'Carry out 1 item' }).click()
  await expect(plan).toBeHidden()
  expect((await guest())?.['hostId']).toBe(await demo.idOf('host', 'gannet'))
})

test('colours follow the switch, and the address of the page keeps it', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('board')
  const legend = page.getByRole('list', { name: 'What the colours mean' })
  for (const [name, entry] of [
    ['state', 'running'],
    ['template', 'stream-edge-1'],
    ['backup', 'vault-disks'],
    ['network', 'office'],
  ] as const) {
    await page.getByRole('button', { name, exact: true }).click()
    await expect(legend).toContainText(entry)
  }
  await page.getByRole('button', { name: 'backup', exact: true }).click()
  await expect(page).toHaveURL(/colour=backup/)
  await page.reload()
  await expect(legend).toContainText('no backup recorded')
})

test('a figure opens its working', async ({ demo }) => {
  const { page } = demo
  await demo.go(`hosts/${await demo.idOf('host', 'puffin')}`)
  await page.getByRole('button', { name: /^Exposure of ssd-3/ }).click()
  const working = page.getByRole('dialog', { name: 'Exposure of ssd-3' })
  await expect(working).toContainText('promised − used − free')
  await expect(working).toContainText('Basis: common practice.')
  await page.keyboard.press('Escape')
  await expect(working).toBeHidden()
})

test('the command field finds names, addresses and MACs', async ({ demo }) => {
  const { page } = demo
  const [adapter] = await demo.list('adapters')
  await demo.go('board')
  await page.getByRole('region', { name: /^gannet/ }).waitFor()
  for (const [typed, found] of [
    ['sound-g', 'sound-gate'],
    ['10.61.10.11', 'address of gannet'],
    [String(adapter?.['mac']), 'adapter'],
    ['go to clo', 'Go to Clones'],
  ] as const) {
    await page.keyboard.press('Control+k')
    await page.getByPlaceholder('A name, an address').fill(typed)
    await expect(page.getByRole('option').first()).toContainText(found)
    await page.keyboard.press('Escape')
    await expect(page.getByRole('dialog')).toBeHidden()
  }
})
