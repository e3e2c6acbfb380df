import { expect, remember, test } from './insel.js'

test('two browsers see each other’s change without a reload', async ({ demo, browser }) => {
  const other = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
  await remember(other, demo.id, await demo.idOf('person', 'Tove Lind'))
  const vault = await demo.idOf('guest', 'vault')
  await demo.go(`guests/${vault}`)
  await other.goto(`${demo.server}/estates/${demo.id}/guests/${vault}`)
  await other.getByRole('button', { name: 'Record as stopped' }).click()
  await expect(demo.page.getByText('Guest, stopped')).toBeVisible()
  await expect(demo.page.getByText('Tove Lind,').first()).toBeVisible()
  await demo.page.getByRole('button', { name: 'Record as running' }).click()
  await expect(other.getByText('Guest, running')).toBeVisible()
  await other.context().close()
})

test('right after an action it can be undone; later changes that stand on it are named', async ({ demo }) => {
  const { page } = demo
  await demo.go(`guests/${await demo.idOf('guest', 'dns-1')}`)
  await page.getByRole('button', { name: 'Record as stopped' }).click()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByText('Guest, running')).toBeVisible()

  await page.getByRole('button', { name: 'Record as stopped' }).click()
  await expect(page.getByText('Guest, stopped')).toBeVisible()
  await page.getByRole('button', { name: 'Record as running' }).click()
  await expect(page.getByText('Guest, running')).toBeVisible()
  await page.getByRole('link', { name: 'Logbook', exact: true }).click()
  const stopped = page.getByRole('main').getByRole('listitem').filter({ hasText: 'Power off dns-1' }).first()
  await stopped.getByRole('button', { name: /^Revert/ }).click()
  await expect(stopped.getByRole('alert')).toContainText('cannot be reverted: what it did was changed since')
})

test('the logbook filters by thing, person and day', async ({ demo }) => {
  const { page } = demo
  await demo.go('logbook')
  const entries = page.getByRole('main').getByRole('listitem')
  await expect(entries.first()).toBeVisible()
  await page.getByLabel('Thing').selectOption({ label: 'sound-gate (guest)' })
  await expect(entries).toHaveCount(1)
  await page.getByLabel('Person').selectOption('Ola Berg')
  await expect(page.getByText('No change fits these filters.')).toBeVisible()
  await page.getByRole('button', { name: 'Show all' }).click()
  await page.getByLabel('Until').fill('2001-01-01')
  await expect(page.getByText('No change fits these filters.')).toBeVisible()
})
