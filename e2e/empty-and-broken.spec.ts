import { expect, test } from './insel.js'
import { LONG } from './tier.js'

test('every section of an empty estate says what to do first and offers it', async ({ empty }) => {
  const { page } = empty
  for (const [section, words, offer] of [
    ['board', 'Nothing is recorded yet', 'Add platform'],
    ['hosts', 'No host is recorded yet', 'Add host'],
    ['networks', 'No network is recorded yet', 'Add network'],
    ['guests', 'No guest is recorded yet', 'Add guest'],
    ['clones', 'No template or copy is recorded yet', 'Go to the guests'],
    ['migrations', 'No migration is under way', 'Add physical machine'],
  ] as const) {
    await empty.go(section)
    await expect(page.getByRole('main').getByText(words)).toBeVisible()
    await expect(page.getByRole('main').getByRole('link', { name: offer }).first()).toBeVisible()
  }
  await empty.go('findings')
  await expect(page.getByText('checked every record and found nothing')).toBeVisible()
  await empty.go('logbook')
  await expect(page.getByRole('main').getByRole('listitem')).toHaveCount(1)
  await empty.go('guests/new')
  await expect(page.getByText('A guest runs on a host')).toBeVisible()
  await empty.go('hosts/new')
  await expect(page.getByText('A host runs a platform')).toBeVisible()
})

test('a name is asked once, and a new person is a record', async ({ empty, browser }) => {
  const page = await (await browser.newContext()).newPage()
  await page.goto(`${empty.server}/estates/${empty.id}/board`)
  const dialog = page.getByRole('dialog', { name: 'Recorded as' })
  await expect(dialog).toBeVisible()
  await dialog.getByLabel('Or a new name').fill('Sigrun Dahl')
  await dialog.getByRole('button', { name: 'Record as' }).click()
  await expect(dialog).toBeHidden()
  await expect(page.getByRole('button', { name: 'Account: recorded as Sigrun Dahl' })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('button', { name: 'Account: recorded as Sigrun Dahl' })).toBeVisible()
  await expect(dialog).toBeHidden()
  expect((await empty.list('people')).map((person) => person['name'])).toContain('Sigrun Dahl')
  await page.context().close()
})

test('a second estate is made from the interface and stands beside the first', async ({ empty }) => {
  const { page } = empty
  await empty.go('board')
  await page.getByRole('button', { name: 'Bare Rock' }).click()
  await page.getByRole('menuitem', { name: 'New estate' }).click()
  await page.getByLabel('Name of the estate').fill('Far Stack')
  await page.getByLabel('Your name').fill('Ola Berg')
  await page.getByRole('button', { name: 'Create estate' }).click()
  await expect(page.getByRole('button', { name: 'Far Stack' })).toBeVisible()
  await page.getByRole('button', { name: 'Far Stack' }).click()
  await page.getByRole('menuitem', { name: 'Bare Rock' }).first().click()
  await expect(page.getByRole('button', { name: 'Bare Rock', includeHidden: true })).toBeAttached()
})

test('a server that does not answer is said, and what was typed stays', async ({ demo }) => {
  const { page } = demo
  await demo.go('guests/new')
  const line = page.getByLabel('The guest in a line')
  await line.fill('unsent-1 2cpu 4G 40G on gannet net office')
  await page.route('**/api/v1/**', (route) => route.abort('connectionrefused'))
  await page.getByRole('button', { name: 'Add guest' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'The server does not answer' })).toBeVisible()
  await expect(line).toHaveValue('unsent-1 2cpu 4G 40G on gannet net office')
  await page.unroute('**/api/v1/**')
  await page.getByRole('button', { name: 'Add guest' }).click()
  await expect(page.getByRole('heading', { name: 'unsent-1', level: 1, exact: true })).toBeVisible()
})

test('what is not there is said: a page, an estate, a record', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await page.goto(`${demo.server}/nowhere`)
  await expect(page.getByRole('heading', { name: 'There is no such page', exact: true })).toBeVisible()
  await page.goto(`${demo.server}/estates/01890000-0000-7000-8000-000000000000/board`)
  await expect(page.getByText('There is no estate with the id')).toBeVisible()
  for (const path of ['guests', 'hosts', 'networks', 'records/store']) {
    await demo.go(`${path}/01890000-0000-7000-8000-000000000000`)
    await expect(page.getByRole('heading', { name: /^There is no such/ })).toBeVisible()
  }
})

test('a plan that no longer fits the record is said, and cannot be carried out', async ({ demo }) => {
  const { page } = demo
  const guest = await demo.idOf('guest', 'mail')
  await demo.go(`guests/${guest}/migrate`)
  await page.getByRole('radio', { name: /gannet/ }).check()
  await page.getByRole('button', { name: 'Add to plan' }).click()
  const plan = page.getByRole('complementary', { name: 'Plan' })
  await expect(plan.getByText('Migrate mail to gannet')).toBeVisible()
  await demo.send([{ type: 'guest.remove', id: guest, withReferring: true }])
  await expect(plan.getByText(/^Cannot be applied: There is no guest/)).toBeVisible()
  await plan.getByRole('button', { name: 'Carry out all…' }).click()
  await plan.getByRole('button', { name: 'Carry out 1 item' }).click()
  await expect(plan.getByRole('alert')).toContainText('Stopped after 0 of 1')
  await plan.getByRole('button', { name: 'Drop plan' }).click()
  await expect(plan).toBeHidden()
})

test('policies are settings: a lower limit raises its finding at once', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('setup')
  await page.getByRole('link', { name: 'Change the policies' }).click()
  await page.getByLabel('Store warning').fill('20')
  await expect(page.getByText(/nvme-1 is \d+ % in use/)).toBeVisible()
  // As quick as can be: the link is followed while the browser is on its way back to the page before.
  await page.getByRole('link', { name: /^Findings/ }).evaluate((link: HTMLElement) => {
    const { history } = window
    const goBack = history.go.bind(history)
    history.go = (delta) => {
      goBack(delta)
      link.click()
    }
  })
  await page.getByRole('button', { name: 'Save changes' }).click()
  await expect(page.getByRole('article').filter({ hasText: 'Store nearly full' }).first()).toBeVisible()
  await page.goBack()
  await expect(page).toHaveURL(/\/setup$/)
})

test('the theme is chosen and kept', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('hosts')
  await page.getByRole('button', { name: /^Account/ }).click()
  await page.getByRole('menuitem', { name: 'Dark theme' }).click()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark')
  await page.reload()
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark')
})

test('lists sort, filter and keep the filter in the address', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('guests')
  const names = page.locator('tbody a[data-row]')
  await page.getByRole('button', { name: 'Memory' }).click()
  await page.getByRole('button', { name: 'Memory' }).click()
  await expect(names.first()).toHaveText('archive-db')
  await page.keyboard.press('/')
  await page.keyboard.type('gannet')
  await expect(names).toHaveCount(9)
  await expect(page).toHaveURL(/filter=gannet/)
  await names.first().focus()
  await page.keyboard.press('ArrowDown')
  await expect(names.nth(1)).toBeFocused()
  await page.getByLabel('Filter guests').fill('nothing like it')
  await expect(page.getByText('No guest fits “nothing like it”.')).toBeVisible()
})

test('the server goes away and comes back: it is said on the page, what was typed stays, and the page goes on by itself', async ({
  demo,
}) => {
  const { page } = demo
  const vault = await demo.idOf('guest', 'vault')
  await demo.go(`records/guest/${vault}`)
  await page.getByLabel('Owner (optional)').fill('News desk')
  // What says it is fetched beside the page.
  await page.waitForFunction(() => performance.getEntriesByType('resource').some(({ name }) => name.includes('connection-')))
  await page.context().setOffline(true)
  // It is asked every ten seconds; that it is away is often noticed sooner.
  await expect(page.getByText('Nothing can be recorded until it is back')).toBeVisible({ timeout: 20_000 })
  await page.getByRole('button', { name: /^Save changes/ }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'try again when it is back' }).first()).toBeVisible()
  await expect(page.getByLabel('Owner (optional)')).toHaveValue('News desk')
  await demo.send([{ type: 'guest.update', id: vault, changes: { purpose: 'said meanwhile' } }])
  await page.context().setOffline(false)
  await expect(page.getByText('Nothing can be recorded until it is back')).toHaveCount(0)
  await expect(page.getByLabel('Purpose (optional)')).toHaveValue('said meanwhile')
  await page.getByRole('button', { name: /^Save changes/ }).click()
  await expect
    .poll(async () => (await demo.list('guests')).find(({ name }) => name === 'vault'))
    .toMatchObject({ owner: 'News desk', purpose: 'said meanwhile' })
})

test('a form left half filled offers what was typed: after another page, and after a reload', async ({ demo }) => {
  const { page } = demo
  await demo.go('guests/new')
  await page.getByLabel('The guest in a line').fill('half-1 2cpu 4G 40G on gannet net office')
  await page.getByRole('link', { name: 'Hosts' }).click()
  await expect(page.getByRole('heading', { name: 'Hosts', level: 1, exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Add host' }).click()
  await page.getByLabel('The host in a line').fill('kittiwake 2x16 128G')
  await page
    .getByLabel('Rack (optional)')
    .or(page.getByLabel('Site', { exact: true }))
    .first()
    .fill('annex')
  await page.reload()
  await page.getByRole('button', { name: 'Take it up' }).click()
  await expect(page.getByLabel('The host in a line')).toHaveValue('kittiwake 2x16 128G')
  await expect(page.getByLabel('Site', { exact: true })).toHaveValue('annex')
  await expect(page.getByLabel('Usable memory')).toHaveValue('128 GiB')
  await demo.go('guests/new')
  await expect(page.getByText('Typed here', { exact: false })).toContainText('half-1 2cpu')
  await page.getByRole('button', { name: 'Take it up' }).click()
  await page.getByRole('button', { name: 'Add guest' }).click()
  await expect(page.getByRole('heading', { name: 'half-1', level: 1, exact: true })).toBeVisible()
  await demo.go('guests/new')
  await expect(page.getByLabel('The guest in a line')).toBeVisible()
  await expect(page.getByText('Typed here', { exact: false })).toHaveCount(0)
})

test(
  'a page that could not be fetched while the server was away comes once it is back, and one stays where one was',
  { tag: LONG },
  async ({ demo }) => {
    const { page } = demo
    await demo.go('guests')
    await page.route(/networks-page-.*\.js/, (route) => route.abort())
    await page.route('**/readyz', (route) => route.abort())
    await page.getByRole('link', { name: 'Networks', exact: true }).click()
    await expect(page.getByText('Nothing can be recorded until it is back')).toBeVisible({ timeout: 20_000 })
    await expect(page.getByRole('heading', { name: 'Guests', level: 1, exact: true })).toBeVisible()
    await page.unroute(/networks-page-.*\.js/)
    await page.unroute('**/readyz')
    await expect(page.getByRole('heading', { name: 'Networks', level: 1, exact: true })).toBeVisible({ timeout: 20_000 })
  },
)

test('a part of the page that could not be fetched while the server was away comes once it is back, and the page stays', async ({
  demo,
}) => {
  const { page } = demo
  await page.route(/command-field-.*\.js/, (route) => route.abort())
  await page.route('**/readyz', (route) => route.abort())
  await demo.go('guests')
  await page.getByRole('button', { name: 'Find or do' }).click()
  await expect(page.getByText('Nothing can be recorded until it is back')).toBeVisible({ timeout: 20_000 })
  await expect(page.getByRole('heading', { name: 'Guests', level: 1, exact: true })).toBeVisible()
  await page.unroute(/command-field-.*\.js/)
  await page.unroute('**/readyz')
  await expect(page.getByRole('combobox', { name: 'Find or do' })).toBeVisible({ timeout: 20_000 })
})
