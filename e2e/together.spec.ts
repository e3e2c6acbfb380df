import type { Browser } from '@playwright/test'
import pg from 'pg'
import { expect, remember, test, type Estate } from './insel.js'
import { LONG } from './tier.js'

/** A colleague in their own browser. */
async function colleague(browser: Browser, demo: Estate, name = 'Tove Lind') {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
  await remember(page, demo.id, await demo.idOf('person', name))
  return { page, go: (path: string) => page.goto(`${demo.server}/estates/${demo.id}/${path}`) }
}

test('two browsers see each other’s change without a reload', async ({ demo, browser }) => {
  const { page: other, go } = await colleague(browser, demo)
  const vault = await demo.idOf('guest', 'vault')
  await demo.go(`guests/${vault}`)
  await go(`guests/${vault}`)
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
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeVisible()
  // By keyboard, from wherever one is.
  await page.keyboard.press('u')
  await expect(page.getByText('Guest, running')).toBeVisible()

  await page.getByRole('button', { name: 'Record as stopped' }).click()
  await expect(page.getByText('Guest, stopped')).toBeVisible()
  await page.getByRole('button', { name: 'Record as running' }).click()
  await expect(page.getByText('Guest, running')).toBeVisible()
  await page.getByRole('link', { name: 'Logbook', exact: true }).click()
  // The guest’s page, which stays until the logbook is there, lists the same changes.
  await page.getByRole('heading', { name: 'Logbook', level: 1, exact: true }).waitFor()
  const stopped = page.getByRole('main').getByRole('listitem').filter({ hasText: 'Power off dns-1' }).first()
  await stopped.getByRole('button', { name: /^Revert/ }).click()
  await expect(stopped.getByRole('alert')).toContainText('cannot be reverted: what it did was changed since')
})

test('the logbook filters by thing, person and day', { tag: LONG }, async ({ demoWithHistory: demo }) => {
  const { page } = demo
  await demo.go('logbook')
  const entries = page.getByRole('main').getByRole('listitem')
  await expect.poll(() => entries.count()).toBeGreaterThan(25)
  // So many things are searched by name.
  await page.getByLabel('Thing').click()
  await page.keyboard.type('gate guest')
  await expect(page.getByRole('listbox').getByRole('option')).toHaveText(['sound-gate (guest)'])
  await page.keyboard.press('Enter')
  // What was done to the guest itself, and to its disks, adapters and addresses.
  await expect(entries).toHaveCount(3)
  await page.getByLabel('Words').fill('adapter sound-gate')
  await expect(page).toHaveURL(/text=adapter/)
  await expect(entries.first()).toBeVisible()
  await page.getByLabel('Words').fill('no such words')
  await expect(page.getByText('No change fits these filters.')).toBeVisible()
  await page.getByRole('button', { name: 'Show all' }).click()
  await expect.poll(() => entries.count()).toBeGreaterThan(25)
  await page.getByLabel('Range').selectOption('last 7 days')
  await expect(entries.first()).toBeVisible()
  await page.getByRole('button', { name: 'Show all' }).click()
  await page.getByLabel('Until').fill('2001-01-01')
  await expect(page.getByText('No change fits these filters.')).toBeVisible()
})

test(
  'what one is typing stays when a colleague saves; each field says what the other made of it',
  { tag: LONG },
  async ({ demo, browser }) => {
    const { page } = demo
    const { page: other, go } = await colleague(browser, demo)
    const mail = await demo.idOf('guest', 'mail')
    await demo.go(`records/guest/${mail}`)
    await go(`records/guest/${mail}`)
    // One field that only I change, one that both do, one that only Tove does, and one that I am at without having typed.
    await page.getByLabel('Purpose (optional)').fill('letters, mine')
    await page.getByLabel('Memory', { exact: true }).fill('12288')
    await page.getByLabel('Processors', { exact: true }).focus()
    await other.getByLabel('Memory', { exact: true }).fill('10240')
    await other.getByLabel('Processors', { exact: true }).fill('3')
    await other.getByLabel('Group (optional)').fill('the office')
    await other.getByRole('button', { name: /^Save changes/ }).click()
    // Opened by its address, it has nowhere to go back to but the estate.
    await expect(other).toHaveURL(new RegExp(`/estates/${demo.id}$`))

    await expect(page.getByLabel('Group (optional)')).toHaveValue('the office')
    await expect(page.getByLabel('Purpose (optional)')).toHaveValue('letters, mine')
    await expect(page.getByLabel('Memory', { exact: true })).toHaveValue('12288')
    await expect(page.getByText('Tove Lind changed it to 10 GiB meanwhile.')).toBeVisible()
    await expect(page.getByText('Tove Lind changed it to 3 vCPU meanwhile.')).toBeVisible()
    // Nothing is saved over the other's before one has chosen.
    await page.getByRole('button', { name: /^Save changes/ }).click()
    await expect(page.getByText(/was changed meanwhile: choose yours or theirs/)).toBeVisible()
    await page.getByRole('button', { name: 'Keep mine for Memory' }).click()
    await page.getByRole('button', { name: 'Take theirs for Processors' }).click()
    await expect(page.getByLabel('Processors', { exact: true })).toHaveValue('3')
    await page.getByRole('button', { name: /^Save changes/ }).click()
    await expect
      .poll(async () => (await demo.list('guests')).find(({ id }) => id === mail))
      .toMatchObject({ purpose: 'letters, mine', memoryMiB: 12_288, vcpu: 3, group: 'the office' })
    await other.context().close()
  },
)

test('a removed record leaves the form with what was typed, and comes back by a click', async ({ demo, browser }) => {
  const { page } = demo
  const intranet = await demo.idOf('guest', 'intranet')
  await demo.go(`records/guest/${intranet}`)
  await page.getByLabel('Purpose (optional)').fill('wiki and calendar')
  const { page: other, go } = await colleague(browser, demo)
  await go(`records/guest/${intranet}`)
  await other.getByRole('button', { name: 'Remove…' }).click()
  await other.getByRole('group', { name: 'Remove' }).getByRole('button', { name: 'Remove' }).click()
  await expect(page.getByText(/Tove Lind removed it with change \d+\. What you entered is kept here/)).toBeVisible()
  await expect(page.getByLabel('Purpose (optional)')).toHaveValue('wiki and calendar')
  await expect(page.getByRole('button', { name: /^Save changes/ })).toBeDisabled()
  await page.getByRole('button', { name: /^Revert change/ }).click()
  await expect(page.getByText(/What you entered is kept here/)).toBeHidden()
  await page.getByRole('button', { name: /^Save changes/ }).click()
  await expect.poll(async () => (await demo.list('guests')).find(({ id }) => id === intranet)?.['purpose']).toBe('wiki and calendar')
  await other.context().close()
})

test('eight tabs of one browser all show the record and follow it', { tag: LONG }, async ({ demo }) => {
  const context = demo.page.context()
  const vault = await demo.idOf('guest', 'vault')
  const tabs = [demo.page]
  while (tabs.length < 8) tabs.push(await context.newPage())
  for (const tab of tabs) {
    await tab.goto(`${demo.server}/estates/${demo.id}/guests/${vault}`)
    await expect(tab.getByText('Guest, running')).toBeVisible()
  }
  await demo.send([{ type: 'guest.power', guestId: vault, state: 'stopped' }])
  for (const tab of tabs) await expect(tab.getByText('Guest, stopped')).toBeVisible()
  // The tab that was opened first may go; the others still follow.
  await demo.page.goto('about:blank')
  await demo.send([{ type: 'guest.power', guestId: vault, state: 'running' }])
  for (const tab of tabs.slice(1)) await expect(tab.getByText('Guest, running')).toBeVisible()
})

test('a page that was open before a restore shows the restored record, and nothing is recorded upon the old one', async ({
  demo,
  workbench,
}) => {
  const { page } = demo
  const vault = await demo.idOf('guest', 'vault')
  await demo.go(`guests/${vault}`)
  await expect(page.getByText('Guest, running')).toBeVisible()
  // What a restore does to the tables, without the page hearing of it: an older record, another epoch, the same revision.
  const client = new pg.Client({ connectionString: workbench.databaseUrl })
  await client.connect()
  try {
    await client.query(`update guest set purpose = 'as in the backup' where id = $1`, [vault])
    await client.query(`update estate_head set epoch = gen_random_uuid() where estate_id = $1`, [demo.id])
  } finally {
    await client.end()
  }
  await page.getByRole('button', { name: 'Record as stopped' }).click()
  await expect(page.getByText(/The database was restored from a backup since this page was loaded; nothing was changed/)).toBeVisible()
  await expect(page.getByText('as in the backup').first()).toBeVisible()
  await expect(page.getByText('Guest, running')).toBeVisible()
  await page.getByRole('button', { name: 'Record as stopped' }).click()
  await expect(page.getByText('Guest, stopped')).toBeVisible()
})
