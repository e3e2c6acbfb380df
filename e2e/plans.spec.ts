import { expect, remember, test } from './insel.js'
import { LONG } from './tier.js'
import type { Locator, Page } from '@playwright/test'

const itemOf = (page: Page, title: string): Locator => page.getByRole('listitem', { name: title, exact: true })
const press = (item: Locator, name: RegExp) => item.getByRole('button', { name }).click()

/** The item that is looked at on the page shown. */
const lookedAt = (page: Page) => page.getByRole('complementary', { name: 'Plan' }).locator('[aria-current=step]')

/** Plans the move of a guest to a host from its page, after what is shown. */
async function planMove(page: Page, demo: { go(path: string): Promise<unknown> }, guest: { name: string; id: string }, host: string) {
  await demo.go(`guests/${guest.id}/migrate${new URL(page.url()).search}`)
  await page.getByRole('radio', { name: new RegExp(host) }).check()
  await page.getByRole('button', { name: /^Add to plan/ }).click()
  await expect(lookedAt(page)).toHaveText(`Migrate ${guest.name} to ${host}`)
}

test('an evening’s work: guests away, memory in, guests back; a colleague makes an item stale; carried out on a phone with one failure, reported, reverted', async ({
  demo,
  browser,
}) => {
  const { page } = demo
  const [queue, desk, gannet, fulmar] = await Promise.all([
    demo.idOf('guest', 'phone-queue'),
    demo.idOf('guest', 'weather-desk'),
    demo.idOf('host', 'gannet'),
    demo.idOf('host', 'fulmar'),
  ])
  const guestsOn = async () => (await demo.list('guests')).filter(({ id }) => id === queue || id === desk).map(({ hostId }) => hostId)
  // Drafted: the first move opens the plan, and everything else is put in on its basis, each after what is there.
  await demo.go(`guests/${queue}/migrate`)
  await page.getByRole('radio', { name: /fulmar/ }).check()
  await page.getByLabel('Plan it is added to').selectOption({ label: 'new plan' })
  await page.getByLabel('Name of the new plan').fill('More memory for gannet')
  await page.getByRole('button', { name: 'Add to plan' }).click()
  const panel = page.getByRole('complementary', { name: 'Plan' })
  await expect(lookedAt(page)).toHaveText('Migrate phone-queue to fulmar')
  await planMove(page, demo, { name: 'weather-desk', id: desk }, 'fulmar')
  await demo.go(`records/host/${gannet}${new URL(page.url()).search}`)
  await page.getByLabel('Usable memory').fill('160 GiB')
  await page.getByRole('button', { name: 'Add to plan “More memory for gannet”' }).click()
  await expect(lookedAt(page)).toHaveText('Change host gannet: usable memory')
  await planMove(page, demo, { name: 'phone-queue', id: queue }, 'gannet')
  await planMove(page, demo, { name: 'weather-desk', id: desk }, 'gannet')
  expect(await guestsOn()).toEqual([gannet, gannet])

  await panel.getByRole('link', { name: 'More memory for gannet' }).click()
  // A press while a page is still loading would keep the one before.
  await page.getByRole('heading', { name: 'More memory for gannet', level: 1, exact: true }).waitFor()
  await page.getByRole('button', { name: 'Show the record' }).click()
  await expect(panel).toBeHidden()
  await page.getByLabel('Title of the task').fill('Tell everybody')
  await page.getByRole('button', { name: 'Add task' }).click()
  // Dragged to the front by its grip.
  const [from, to] = [
    await page.locator('[data-grip="Tell everybody"]').boundingBox(),
    await page.getByRole('listitem').first().boundingBox(),
  ]
  if (!from || !to) throw new Error('there is no such item')
  await page.mouse.move(from.x + 8, from.y + 8)
  await page.mouse.down()
  await page.mouse.move(from.x + 8, from.y - 20, { steps: 4 })
  await page.mouse.move(from.x + 8, to.y + 4, { steps: 12 })
  await page.mouse.up()
  await expect(page.getByRole('listitem').first()).toHaveAttribute('aria-label', 'Tell everybody')
  await page.getByRole('button', { name: 'Agree to plan' }).click()
  await expect(page.getByText('Plan, agreed')).toBeVisible()

  // A colleague in another browser corrects the memory of the host, past the plan.
  const phone = await browser.newPage({ viewport: { width: 390, height: 844 } })
  await remember(phone, demo.id, await demo.idOf('person', 'Ola Berg'))
  await phone.goto(page.url().replace(/plans\/.*/, `records/host/${gannet}`))
  await phone.getByLabel('Usable memory').fill('126 GiB')
  await phone.getByRole('button', { name: /^Save changes/ }).click()
  const memory = page.getByRole('listitem', { name: 'Change host gannet: usable memory' })
  await expect(memory.getByText(/^Usable memory of host gannet: .* when the item was written, 126 GiB now\.$/)).toBeVisible()
  await press(memory, /^Keep as it is now/)
  await expect(page.getByText(/^Usable memory of host gannet/)).toBeHidden()

  // Carried out on the phone, with one thumb.
  await phone.goto(`${page.url().split('?')[0] ?? ''}/run`)
  const next = phone.getByRole('region').first()
  await expect(next.getByRole('heading', { name: 'Tell everybody', exact: true })).toBeVisible()
  await next.getByRole('button', { name: 'Failed…' }).click()
  await next.getByLabel('What went wrong').fill('the list server is down')
  await next.getByRole('button', { name: 'Record as failed' }).click()
  await expect(next.getByRole('heading', { name: 'Migrate phone-queue to fulmar', exact: true })).toBeVisible()
  await next.getByRole('button', { name: 'Begin', exact: true }).click()
  await expect(next.getByText('begun just now')).toBeVisible()
  await next.getByLabel(/^Note for whoever is next/).fill('took the long cable')
  for (const title of ['Migrate phone-queue to fulmar', 'Migrate weather-desk to fulmar', 'Change host gannet: usable memory']) {
    await expect(next.getByRole('heading', { name: title, exact: true })).toBeVisible()
    await next.getByRole('button', { name: 'Done: record it' }).click()
  }
  await expect(next.getByRole('heading', { name: 'Migrate phone-queue to gannet', exact: true })).toBeVisible()
  expect(await guestsOn()).toEqual([fulmar, fulmar])

  // The connection goes; what is ticked meanwhile is kept, and sent when it is back.
  await phone.context().setOffline(true)
  for (const title of ['Migrate phone-queue to gannet', 'Migrate weather-desk to gannet']) {
    await expect(next.getByRole('heading', { name: title, exact: true })).toBeVisible()
    await next.getByRole('button', { name: 'Done: record it' }).click()
  }
  await expect(phone.getByText('No connection. 2 ticks are kept in this browser')).toBeVisible()
  expect(await guestsOn()).toEqual([fulmar, fulmar])
  await phone.context().setOffline(false)
  await expect(phone.getByText(/^No connection/)).toBeHidden()
  expect(await guestsOn()).toEqual([gannet, gannet])
  await expect(phone.getByRole('heading', { name: 'Planned against actual', exact: true })).toBeVisible()
  await expect(phone.getByText('the list server is down').first()).toBeVisible()

  // The first browser has followed, and takes all of it back.
  await expect(page.getByText('5 of 6 items done')).toBeVisible()
  await page.getByRole('button', { name: 'Revert plan…' }).click()
  await page.getByRole('button', { name: 'Revert 5 items' }).click()
  await expect(page.getByRole('listitem', { name: 'Migrate phone-queue to fulmar' }).getByText('reverted', { exact: true })).toBeVisible()
  const hosts = await demo.list('hosts')
  expect(hosts.find(({ id }) => id === gannet)?.['memoryMiB']).toBe(126 * 1024)
  expect(await guestsOn()).toEqual([gannet, gannet])
})

test('a plan by keyboard alone: added, filled, put in order, carried out', async ({ demo }) => {
  const { page } = demo
  const { keyboard } = page
  const press = async (...keys: string[]) => {
    for (const key of keys) await keyboard.press(key)
  }
  await demo.go('board')
  await page.getByRole('heading', { level: 1 }).waitFor({ state: 'attached' })
  await press('g', 'p')
  await page.getByRole('heading', { name: 'Plans', exact: true }).waitFor()
  await press('n')
  await page.getByLabel('Name', { exact: true }).focus()
  await keyboard.type('Quiet hours')
  await press('Control+Enter')
  await page.getByRole('heading', { name: 'Plans', exact: true }).waitFor()
  await press('/')
  await keyboard.type('Quiet hours')
  await page.getByRole('link', { name: 'Quiet hours' }).focus()
  await press('Enter')
  await page.getByRole('heading', { name: 'Quiet hours', level: 1, exact: true }).waitFor()
  await page.getByLabel('Title of the task').focus()
  await keyboard.type('Close the doors')
  await press('Enter')
  await expect(page.getByRole('listitem', { name: 'Close the doors' })).toBeVisible()
  await keyboard.type('Tell the guards')
  await press('Enter')
  const guards = page.getByRole('listitem', { name: 'Tell the guards' })
  await guards.getByRole('button', { name: 'Tell the guards', exact: true }).focus()
  await press('Alt+ArrowUp')
  await expect(page.getByRole('listitem').first()).toHaveAttribute('aria-label', 'Tell the guards')
  await page.getByRole('link', { name: 'Run plan' }).focus()
  await press('Enter')
  const next = page.getByRole('region').first()
  await expect(next.getByRole('heading', { name: 'Tell the guards', exact: true })).toBeVisible()
  await next.getByRole('button', { name: 'Done' }).focus()
  await press('Enter')
  await expect(next.getByRole('heading', { name: 'Close the doors', exact: true })).toBeVisible()
  await next.getByRole('button', { name: 'Skip…' }).focus()
  await press('Enter')
  await keyboard.type('they are closed')
  await press('Enter')
  await expect(page.getByRole('heading', { name: 'Planned against actual', exact: true })).toBeVisible()
})

test('a plan adds a host and composes guests on it, before any of them is there', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('hosts/new')
  await page.getByLabel('The host in a line').fill('skua 2x8 64G +2T at studio net office')
  await page.getByLabel('Platform', { exact: true }).selectOption({ label: 'Brackwater 5' })
  await page.getByLabel('Plan it is added to').selectOption({ label: 'new plan' })
  await page.getByLabel('Name of the new plan').fill('A host more')
  await page.getByRole('button', { name: 'Add to plan' }).click()
  await expect(page.getByRole('region', { name: /^skua/ })).toBeVisible()
  for (const name of ['web-7', 'web-8']) {
    await page.getByRole('link', { name: 'Guests', exact: true }).click()
    await page.getByRole('heading', { name: 'Guests', level: 1, exact: true }).waitFor()
    await page.getByRole('link', { name: 'Add guest' }).click()
    await page.getByLabel('The guest in a line').fill(`${name} 2cpu 4G 40G on skua net office`)
    await page.getByRole('button', { name: 'Add to plan “A host more”' }).click()
    await expect(
      page.getByRole('region', { name: /^skua/ }).getByRole('button', { name: new RegExp(`^${name}, .*new, not in the record$`) }),
    ).toBeVisible()
  }
  expect((await demo.list('hosts')).some(({ name }) => name === 'skua')).toBe(false)
  const panel = page.getByRole('complementary', { name: 'Plan' })
  await panel.getByRole('button', { name: 'Carry out all…' }).click()
  await panel.getByRole('button', { name: 'Carry out 3 items' }).click()
  await expect(panel).toBeHidden()
  const [skua] = await demo.list('hosts?name=skua')
  expect((await demo.list('guests')).filter(({ hostId }) => hostId === skua?.id).map(({ name }) => name)).toEqual(['web-7', 'web-8'])
})

test('two people carry out one item at the same moment: one does it, the other is told who did', async ({ demo, browser }) => {
  const { page } = demo
  const plan = await demo.idOf('plan', 'Memory for puffin')
  await demo.go(`plans/${plan}`)
  const other = await browser.newPage()
  await remember(other, demo.id, await demo.idOf('person', 'Ola Berg'))
  await other.goto(page.url())
  const title = 'Tell the newsroom: no metrics on Saturday from 20:00'
  await itemOf(other, title).waitFor()
  // Neither is sent before both have pressed: otherwise the quicker one takes the button from the other.
  let [waiting, go] = [0, () => {}]
  const both = new Promise<void>((resolve) => (go = resolve))
  for (const one of [page, other])
    await one.route('**/commands*', async (route) => {
      waiting++
      if (waiting === 2) go()
      await both
      await route.continue()
    })
  await Promise.all([press(itemOf(page, title), /^Done/), press(itemOf(other, title), /^Done/)])
  await expect(itemOf(page, title).getByText(/done by (Maren Holm|Ola Berg)/)).toBeVisible()
  const told = async () => (await Promise.all([page, other].map((one) => one.getByRole('alert').allTextContents()))).flat()
  await expect.poll(told).toEqual([expect.stringMatching(/is done already, by (Maren Holm|Ola Berg)/)])
})

test('a stale item of the demo says what changed and is kept', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('plans')
  await page.getByRole('link', { name: 'Room for the trials' }).click()
  const item = itemOf(page, 'More processors for trial-b')
  await expect(item.getByText('Processors of guest trial-b: 1 vCPU when the item was written, 2 vCPU now.')).toBeVisible()
  await expect(item.getByRole('button', { name: /^Carry out/ })).toBeDisabled()
  await press(item, /^Keep as it is now/)
  await press(item, /^Carry out/)
  await expect(item.getByText(/done by Maren Holm/)).toBeVisible()
  expect((await demo.list('guests')).find(({ name }) => name === 'trial-b')?.['vcpu']).toBe(4)
})

test('any page is shown as it would be after an item; a slider goes from item to item', async ({ demo }) => {
  const { page } = demo
  await demo.go('plans')
  await page.getByRole('link', { name: 'Memory for puffin' }).click()
  const modules = itemOf(page, 'Put the modules into puffin')
  await modules.getByRole('button', { name: 'Put the modules into puffin', exact: true }).click()
  await press(modules, /^Show the estate after it/)
  await expect(page.getByText('After “Put the modules into puffin” of plan')).toBeVisible()
  await page.getByRole('link', { name: 'Board', exact: true }).click()
  await expect(page.getByText('31.3 GiB free')).toBeVisible()
  const slider = page.getByRole('slider', { name: /After item/ })
  await slider.focus()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByText('After “Bring metrics back” of plan')).toBeVisible()
  await expect(page.getByText('23.2 GiB free')).toBeVisible()
  await page.getByRole('button', { name: 'Show the record' }).click()
  await expect(page.getByText('4 GiB into the reserve')).toBeVisible()
})

test(
  'what differs from the record is marked, and blocks glide to their lanes unless motion is unwanted',
  { tag: LONG },
  async ({ demo }) => {
    const { page } = demo
    await page.emulateMedia({ reducedMotion: 'no-preference' })
    const [plan] = await demo.list('plans?name=Memory for puffin')
    const ahead = (await demo.list(`items?planId=${String(plan?.['id'])}`)).filter(({ state }) => state === 'open')
    const [first] = ahead.sort((a, b) => (String(a['order']) < String(b['order']) ? -1 : 1))
    await demo.go(`board?basis=${String(plan?.['id'])}~${String(first?.['id'])}`)
    const slider = page.getByRole('slider', { name: /After item/ })
    // The layer in which blocks glide comes and goes too quickly to be waited for: what is added to the page is kept.
    const glides = () => page.evaluate(() => (window as unknown as { glides: number[] }).glides)
    await page.evaluate(() => {
      const kept: number[] = []
      Object.assign(window, { glides: kept })
      new MutationObserver((changes) => {
        for (const { addedNodes } of changes)
          for (const node of addedNodes)
            if (node instanceof HTMLElement && node.dataset['glide'] !== undefined)
              kept.push(
                ...[...node.children].flatMap((child) => child.getAnimations().map((one) => Number(one.effect?.getTiming().duration))),
              )
      }).observe(document.body, { subtree: true, childList: true })
    })
    await slider.focus()
    await page.keyboard.press('ArrowRight')
    await expect(page.getByRole('button', { name: /^metrics, .*, differs from the record$/ })).toBeVisible()
    await expect.poll(async () => (await glides()).length).toBeGreaterThan(0)
    expect(Math.max(...(await glides()))).toBeLessThan(150)
    await expect(page.locator('[data-glide]')).toHaveCount(0)
    const before = (await glides()).length
    await page.emulateMedia({ reducedMotion: 'reduce' })
    await page.keyboard.press('ArrowLeft')
    await page.keyboard.press('ArrowRight')
    await expect(page.getByRole('button', { name: /^metrics, .*, differs from the record$/ })).toBeVisible()
    expect((await glides()).length).toBe(before)

    await page.getByRole('link', { name: 'Guests', exact: true }).click()
    await page.getByRole('heading', { name: 'Guests', level: 1, exact: true }).waitFor()
    await page.locator('[data-filter]').fill('metrics')
    await page.getByRole('link', { name: 'metrics', exact: true }).click()
    await page.getByText('Differs from the record').click()
    await expect(page.locator('#page').getByText(/^Host:/)).toBeVisible()
    // The pages about it are of the same basis.
    await page.getByRole('navigation', { name: 'Pages of metrics' }).getByRole('link').nth(1).click()
    await expect(page.getByRole('heading', { name: /^metrics/ })).toBeVisible()
    await expect(page).toHaveURL(/guests\/[0-9a-f-]+\/\w+\?basis=/)
  },
)

test('all findings are accepted at once, and the one that gets worse comes back', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('findings')
  await page.getByRole('button', { name: /^Choose all \d+ shown/ }).click()
  await page.getByLabel('Why they may stay as they are').fill('looked at with the team')
  await page.getByLabel('until').fill('2099-12-31')
  await page.getByRole('button', { name: /^Accept \d+ findings/ }).click()
  await expect(page.getByText(/^No finding is open; \d+ accepted\.$/)).toBeVisible()
  await demo.send([{ type: 'guest.resize', guestId: await demo.idOf('guest', 'lab-outer'), memoryMiB: 18_432 }])
  await expect(page.getByText(/^Memory over budget\. puffin is/)).toBeVisible()
  await expect(page.getByRole('heading', { name: /^Warnings, \d/ })).toBeVisible()
  await expect(page.getByText(/^0 errors, \d+ warnings?/)).toBeVisible()
  await page.getByRole('button', { name: /^Reopen ?: build is running/ }).click()
  await expect(page.getByRole('heading', { name: 'Notices, 1', exact: true })).toBeVisible()
})
