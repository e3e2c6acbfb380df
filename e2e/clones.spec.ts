import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, remember, test } from './insel.js'
import { LONG } from './tier.js'

test('a template gets a new version that is renewed by its sheet; the one before is withdrawn, and its copies are told of it', async ({
  demo,
}) => {
  const { page } = demo
  await demo.go(`guests/${await demo.idOf('guest', 'tpl-server-2027-01')}/template`)
  await page.getByLabel('Version', { exact: true }).fill('2027-02')
  await page.getByRole('button', { name: /^Begin/ }).click()
  await expect(page.getByRole('heading', { name: 'tpl-server-2027-02', level: 1, exact: true })).toBeVisible()
  const sheet = page.getByRole('list', { name: 'Template sheet of tpl-server-2027-02' })
  await expect(sheet.getByText(/^Not recorded as removed: machine name, machine-id, host keys/)).toBeVisible()
  await page.getByRole('button', { name: 'Start the renewal' }).click()
  await page.getByRole('button', { name: 'Record it as running' }).click()
  await page.getByRole('button', { name: 'Record it as patched today' }).click()
  await page.getByLabel('What is installed').fill('remote login, guest agent, cloud-init, chrony')
  await page.getByRole('button', { name: 'Record', exact: true }).click()
  await page.getByRole('button', { name: 'All of it was removed' }).click()
  await expect(sheet.getByText(/^Not recorded as removed/)).toBeHidden()
  await page.getByRole('button', { name: 'Record it as stopped' }).click()
  const open = () => sheet.getByRole('button', { name: /^Done/ })
  for (let left = 8; left > 0; left--) {
    await expect(open()).toHaveCount(left)
    await open().first().click()
  }
  await expect(page.getByText('Renewed').first()).toBeVisible()
  // The version before is withdrawn for a reason, and its copies have a finding about it.
  await page.getByRole('link', { name: 'tpl-server-2027-01' }).click()
  await page.getByLabel('Why it is withdrawn').fill('a hole in remote login')
  await page.getByRole('button', { name: 'Withdraw version' }).click()
  await page.getByRole('link', { name: /^Findings/ }).click()
  await expect(
    page.getByText(/relay-1 was made of version 2027-01 of tpl-server-2027-01, withdrawn since .*: a hole in remote login/),
  ).toBeVisible()
  await page.getByRole('link', { name: 'Clones', exact: true }).click()
  await expect(
    page
      .getByRole('row')
      .filter({ hasText: 'tpl-server-2027-02' })
      .getByRole('link', { name: /^Make copies/ }),
  ).toBeVisible()
})

test('five copies by a pattern, one row changed, carried out on a phone with a first boot that fails; dropped, and another in its place', async ({
  demo,
  browser,
}) => {
  const { page } = demo
  await demo.go('clones')
  await page
    .getByRole('row')
    .filter({ hasText: 'tpl-server-2027-01' })
    .first()
    .getByRole('link', { name: /^Make copies/ })
    .last()
    .click()
  await page.getByLabel('Names').fill('desk-{01..05}')
  await page.getByLabel('Addresses', { exact: true }).selectOption('next free, fixed')
  await expect(page.getByLabel('Address of copy 5')).toHaveValue(/^10\.61\.40\./)
  // A row is changed by keyboard; what cannot be is said while it is typed.
  await page.getByLabel('Name of copy 3').fill('newsroom')
  await expect(page.getByText(/already used by guest newsroom/)).toBeVisible()
  await expect(page.getByRole('button', { name: /^Begin batch of 5/ })).toBeDisabled()
  await page.getByLabel('Name of copy 3').fill('front-desk')
  await page.getByLabel('Memory of copy 3').fill('2G')
  await page.getByRole('button', { name: /^Begin batch of 5/ }).click()
  await expect(page.getByRole('button', { name: 'front-desk, copied: open' })).toBeVisible()
  const made = (await demo.list('guests')).filter(({ name }) => /desk-0\d|front-desk/.test(String(name)))
  expect(made.map(({ state, identity }) => `${String(state)} ${String(identity)}`)).toEqual(Array(5).fill('planned removed'))

  const phone = await browser.newPage({ viewport: { width: 390, height: 844 } })
  await remember(phone, demo.id, await demo.idOf('person', 'Ola Berg'))
  await phone.goto(page.url())
  const card = (name: string) => phone.getByRole('region', { name: new RegExp(`^${name}`) })
  await card('desk-01')
    .getByRole('button', { name: /^Begin copying/ })
    .click()
  await expect(card('desk-01')).toContainText('under way')
  await card('desk-01')
    .getByRole('button', { name: /^Copied: done/ })
    .click()
  await card('desk-01')
    .getByRole('button', { name: /^Attached: done/ })
    .click()
  await card('desk-01').getByRole('button', { name: 'Failed…' }).click()
  await card('desk-01').getByLabel('What went wrong').fill('stops at the boot loader')
  await card('desk-01').getByRole('button', { name: 'Record as failed' }).click()
  await expect(card('desk-01')).toContainText('First boot: stops at the boot loader')
  await card('desk-01').getByRole('button', { name: 'Drop…' }).click()
  await card('desk-01').getByLabel('Why it is dropped').fill('copied from a broken disk')
  await card('desk-01').getByRole('button', { name: 'Drop the copy' }).click()
  await card('desk-01').getByRole('button', { name: 'Begin another in its place' }).click()
  await expect(card('desk-01')).toHaveCount(2)
  const [address] = (await demo.list('guests')).filter(({ name }) => name === 'desk-01')
  expect(address?.['state']).toBe('planned')
  // The others as a whole, each in one go.
  for (const name of ['desk-02', 'front-desk', 'desk-04', 'desk-05']) {
    await card(name)
      .getByRole('button', { name: /^All 11 left are done/ })
      .click()
    await expect(card(name)).toContainText('in service')
  }
  await card('desk-01')
    .last()
    .getByRole('button', { name: /^All 11 left are done/ })
    .click()
  await expect(phone.getByText('Every copy is in service or dropped.')).toBeVisible()
  // Seen on the desk, too.
  await expect(page.getByText('Every copy is in service or dropped.')).toBeVisible()
  await phone.close()
})

test(
  'copy first, generalise after: the isolated first boot keeps each copy off the network until it is itself',
  { tag: LONG },
  async ({ demo }) => {
    const { page } = demo
    await demo.go(`guests/${await demo.idOf('guest', 'tpl-desktop')}/clone`)
    await expect(page.getByText(/is not recorded as free of its host keys of remote login/)).toBeVisible()
    await page.getByLabel('Identity').selectOption('each generalised on an isolated first boot')
    await expect(page.getByText(/is not recorded as free of its host keys/)).toBeHidden()
    await page.getByLabel('Names').fill('reception-1')
    await page.getByLabel(/^It is made already/).uncheck()
    await page.getByRole('button', { name: /^Begin the copy/ }).click()
    await page.getByRole('button', { name: 'reception-1, copied: open' }).click()
    const card = page.getByRole('region', { name: /^reception-1/ })
    await card.getByRole('button', { name: /^Copied: done/ }).click()
    await card.getByRole('button', { name: /^First boot: done/ }).click()
    await expect(card.getByText('Generalised.')).toBeVisible()
    // Connecting it earlier is refused with the reason.
    const guest = await demo.idOf('guest', 'reception-1')
    const [adapter] = (await demo.list('adapters')).filter(({ guestId }) => guestId === guest)
    expect(adapter?.['isConnected']).toBe(false)
    await demo.visit(`records/adapter/${String(adapter?.['id'])}`)
    await page.getByLabel('Connected at power-on').selectOption({ label: 'yes' })
    await page.getByRole('button', { name: /^Save changes/ }).click()
    await expect(
      page.getByText(/still has the identity of what it was copied from and is on its isolated first boot/).first(),
    ).toBeVisible()
    const [batch] = (await demo.list('batches')).filter(({ name }) => String(name).startsWith('tpl-desktop'))
    await demo.go(`clones/${String(batch?.['id'])}`)
    await page.getByRole('button', { name: 'reception-1, generalised: open' }).click()
    await card.getByRole('button', { name: /^Generalised: done/ }).click()
    await card.getByRole('button', { name: /^Attached: done/ }).click()
    await expect(card.getByText('Named.')).toBeVisible()
    const after = (await demo.list('adapters')).find(({ id }) => id === adapter?.['id'])
    expect([after?.['isConnected'], (await demo.list('guests')).find(({ id }) => id === guest)?.['identity']]).toEqual([true, 'its own'])
  },
)

test('three copies in a plan, given addresses by a later item on its basis, and begun from the plan', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go(`guests/${await demo.idOf('guest', 'tpl-server-2027-01')}/clone`)
  await page.getByLabel('Names').fill('shelf-{1..3}')
  await page.getByLabel('Plan it is added to').selectOption({ label: 'new plan' })
  await page.getByLabel('Name of the new plan').fill('Shelves')
  await page.getByRole('button', { name: 'Add to plan' }).click()
  const lookedAt = page.getByRole('complementary', { name: 'Plan' }).locator('[aria-current=step]')
  await expect(lookedAt).toHaveText(/shelf-1/)
  expect((await demo.list('guests')).some(({ name }) => String(name).startsWith('shelf'))).toBe(false)
  // On the plan’s basis the copies are there, and get addresses.
  for (const name of ['shelf-1', 'shelf-2', 'shelf-3']) {
    await page.getByRole('link', { name: 'Guests', exact: true }).click()
    await page.getByRole('link', { name }).click()
    await page.getByRole('heading', { name: new RegExp(`^${name}`), level: 1 }).waitFor()
    await page.getByRole('button', { name: 'Assign' }).click()
    await expect(page.getByRole('link', { name: /^10\.61\.40\./ })).toBeVisible()
  }
  const [plan] = (await demo.list('plans')).filter(({ name }) => name === 'Shelves')
  await demo.visit(`plans/${String(plan?.['id'])}`)
  await page.getByRole('heading', { name: 'Shelves', level: 1, exact: true }).waitFor()
  await page.getByRole('button', { name: /^Begin, and follow each copy/ }).click()
  await expect(page.getByRole('button', { name: 'shelf-3, copied: open' })).toBeVisible()
  await demo.visit(`plans/${String(plan?.['id'])}`)
  await expect(page.getByText(/0 of 3 copies in service/)).toBeVisible()
  for (const name of ['shelf-1', 'shelf-2', 'shelf-3']) {
    const item = page.getByRole('listitem', { name: new RegExp(`^Assign .* ${name}$`) })
    await item
      .getByRole('button', { name: /^Assign/ })
      .first()
      .click()
    await item.getByRole('button', { name: /^Carry out/ }).click()
    await expect(item.getByText('done', { exact: true })).toBeVisible()
  }
  const ids = (await demo.list('guests')).filter(({ name }) => String(name).startsWith('shelf')).map((guest) => guest['id'])
  const adapters = (await demo.list('adapters')).filter(({ guestId }) => ids.includes(guestId)).map((adapter) => adapter['id'])
  expect((await demo.list('addresses')).filter(({ adapterId }) => adapters.includes(adapterId))).toHaveLength(3)
})

test('what a copy is told at its first boot is downloaded as an image and read back', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go(`guests/${await demo.idOf('guest', 'relay-3')}/first-boot`)
  await expect(page.getByText(/has no planned address; it asks DHCP/)).toBeVisible()
  await expect(page.getByText('local-hostname: "relay-3"')).toBeVisible()
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Download the seed image' }).click()])
  expect(download.suggestedFilename()).toBe('relay-3-seed.iso')
  const folder = mkdtempSync(join(tmpdir(), 'insel-seed-journey-'))
  try {
    const image = join(folder, 'seed.iso')
    await download.saveAs(image)
    // Debian's xorriso, as the machine's own driver would read it.
    spawnSync('xorriso', ['-osirrox', 'on', '-indev', image, '-extract', '/', join(folder, 'out')])
    expect(readFileSync(join(folder, 'out', 'meta-data'), 'utf8')).toBe(await page.locator('pre').first().textContent())
    expect(readFileSync(join(folder, 'out', 'network-config'), 'utf8')).toBe(await page.locator('pre').nth(2).textContent())
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
  await page.getByRole('button', { name: 'NetworkManager' }).click()
  await expect(page.getByText(/^\[connection\]/)).toBeVisible()
  await expect(page).toHaveURL(/form=keyfile/)
})
