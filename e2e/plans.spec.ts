import { expect, remember, test } from './insel.js'
import type { Locator, Page } from '@playwright/test'

const itemOf = (page: Page, title: string): Locator => page.getByRole('listitem', { name: title, exact: true })
const press = (item: Locator, name: RegExp) => item.getByRole('button', { name }).click()

test('an evening’s work from a proposal to a plan, carried out on a phone with one failure, reverted', async ({ demo, browser }) => {
  const { page } = demo
  await demo.go('guests')
  await page.getByRole('link', { name: 'mail', exact: true }).click()
  await page.getByRole('link', { name: 'Migrate' }).click()
  await page.getByRole('radio', { name: /gannet/ }).check()
  await page.getByLabel('Plan it is added to').selectOption({ label: 'new plan' })
  await page.getByLabel('Name of the new plan').fill('Empty fulmar')
  await page.getByRole('button', { name: 'Add to plan' }).click()
  const panel = page.getByRole('complementary', { name: 'Plan' })
  await panel.getByRole('link', { name: 'Empty fulmar' }).click()
  await expect(page.getByRole('heading', { name: 'Empty fulmar', level: 1 })).toBeVisible()
  await page.getByRole('button', { name: 'Show the record' }).click()
  await expect(panel).toBeHidden()
  await page.getByLabel('Title of the task').fill('Tell everybody about the mail')
  await page.getByRole('button', { name: 'Add task' }).click()
  const move = page.getByRole('listitem', { name: /^Migrate mail to gannet/ })
  const tell = itemOf(page, 'Tell everybody about the mail')
  await tell.getByRole('button', { name: 'Tell everybody about the mail', exact: true }).click()
  await press(tell, /^Move “Tell everybody/)
  await expect(page.getByRole('listitem').first()).toHaveAttribute('aria-label', 'Tell everybody about the mail')
  await page.getByRole('button', { name: 'Agree to plan' }).click()
  await expect(page.getByText('Plan, agreed')).toBeVisible()

  // A colleague in another browser gives the guest more memory: nothing the move is about.
  const colleague = await browser.newPage({ viewport: { width: 390, height: 844 } })
  await remember(colleague, demo.id, await demo.idOf('person', 'Ola Berg'))
  await colleague.goto(page.url())
  const mail = await demo.idOf('guest', 'mail')
  await demo.send([{ type: 'guest.resize', guestId: mail, memoryMiB: 14_336 }])
  await expect(page.getByText('stale')).toBeHidden()

  // On the phone, with one thumb.
  const onPhone = colleague.getByRole('listitem', { name: 'Tell everybody about the mail' })
  await press(onPhone, /^Failed/)
  await onPhone.getByLabel(/^What went wrong/).fill('the list server is down')
  await press(onPhone, /^Record as failed/)
  await expect(onPhone.getByText('Reason: the list server is down')).toBeVisible()
  await press(onPhone, /^Reopen/)
  await onPhone.getByLabel(/^Minutes for/).fill('4')
  await press(onPhone, /^Done/)
  await expect(onPhone.getByText(/done by Ola Berg/)).toBeVisible()
  const moveOnPhone = colleague.getByRole('listitem', { name: /^Migrate mail/ })
  if (!(await moveOnPhone.getByRole('button', { name: /^Carry out/ }).isVisible()))
    await moveOnPhone.getByRole('button', { name: /^Migrate mail/ }).click()
  await press(moveOnPhone, /^Carry out/)
  await expect(colleague.getByText('2 of 2 items done')).toBeVisible()

  // The first browser has followed.
  await expect(page.getByText('Plan, done')).toBeVisible()
  const gannet = await demo.idOf('host', 'gannet')
  expect((await demo.list('guests')).find(({ name }) => name === 'mail')?.['hostId']).toBe(gannet)
  await press(move, /^Revert/)
  await expect(move.getByText('reverted', { exact: true })).toBeVisible()
  expect((await demo.list('guests')).find(({ name }) => name === 'mail')?.['hostId']).not.toBe(gannet)
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

test('a stale item of the demo says what changed and is kept', async ({ demo }) => {
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

test('what differs from the record is marked, and blocks glide to their lanes unless motion is unwanted', async ({ demo }) => {
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
  await page.getByRole('heading', { name: 'Guests', level: 1 }).waitFor()
  await page.locator('[data-filter]').fill('metrics')
  await page.getByRole('link', { name: 'metrics', exact: true }).click()
  await page.getByText('Differs from the record').click()
  await expect(page.locator('#page').getByText(/^Host:/)).toBeVisible()
  // The pages about it are of the same basis.
  await page.getByRole('navigation', { name: 'Pages of metrics' }).getByRole('link').nth(1).click()
  await expect(page.getByRole('heading', { name: /^metrics/ })).toBeVisible()
  await expect(page).toHaveURL(/guests\/[0-9a-f-]+\/\w+\?basis=/)
})

test('all findings are accepted at once, and the one that gets worse comes back', async ({ demo }) => {
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
  await expect(page.getByRole('heading', { name: 'Notices, 1' })).toBeVisible()
})
