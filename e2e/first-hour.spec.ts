import { expect, test } from './insel.js'

test('the whole path by mouse: record a host and a guest, address it, copy it, move it, see what is wrong, find it in the logbook', async ({
  empty,
}) => {
  const { page } = empty
  await empty.send([
    { type: 'network.add', record: { id: '01890000-0000-7000-8000-000000000101', name: 'office', vlanId: 40 } },
    { type: 'subnet.add', record: { networkId: '01890000-0000-7000-8000-000000000101', prefix: '10.61.40.0/24', gateway: '10.61.40.1' } },
  ])
  await empty.go('board')
  await expect(page.getByText('Nothing is recorded yet')).toBeVisible()
  await page.getByRole('link', { name: 'Add platform' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Brackwater 5')
  await page.getByRole('button', { name: 'Add platform' }).click()
  await expect(page.getByRole('link', { name: 'Add host' })).toBeVisible()

  await page.getByRole('link', { name: 'Add host' }).click()
  await page.getByLabel('The host in a line').fill('gannet 2x8 32G +2T at studio net office')
  await expect(page.getByText('Memory for guests, with Brackwater 5')).toBeVisible()
  await page.getByRole('button', { name: 'Add host' }).click()
  await expect(page.getByRole('heading', { name: 'gannet', level: 1, exact: true })).toBeVisible()
  await expect(page.getByRole('link', { name: 'gannet-1' })).toBeVisible()

  await page.getByRole('link', { name: 'Hosts' }).click()
  await page.getByRole('link', { name: 'Add host' }).click()
  await page.getByLabel('The host in a line').fill('fulmar 2x8 16G +2T at studio')
  await page.getByRole('button', { name: 'Add host' }).click()
  await expect(page.getByRole('heading', { name: 'fulmar', level: 1, exact: true })).toBeVisible()

  await page.getByRole('link', { name: 'Guests', exact: true }).click()
  // The page before has “Add guest here”, until this one is there.
  await expect(page.getByRole('heading', { name: 'Guests', level: 1, exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Add guest' }).click()
  await page.getByLabel('The guest in a line').fill('playout-1 4cpu 8G 40G+200G on gannet')
  await page.getByRole('button', { name: 'Add adapter' }).click()
  await page.getByLabel('Network of adapter 1').selectOption('office')
  await page.getByLabel('Addressing of adapter 1').selectOption('none')
  await page.getByRole('button', { name: 'Add guest' }).click()
  await expect(page.getByRole('heading', { name: 'playout-1', level: 1, exact: true })).toBeVisible()

  await page.getByRole('button', { name: 'Assign' }).click()
  await expect(page.getByRole('link', { name: '10.61.40.2' })).toBeVisible()
  await page.getByRole('button', { name: 'Record as running' }).click()
  await expect(page.getByText('Guest, running')).toBeVisible()

  await page.getByRole('link', { name: 'Clone', exact: true }).click()
  await expect(page.getByLabel('Names')).toHaveValue('playout-2')
  await expect(page.getByText('guest playout-2').first()).toBeVisible()
  await page.getByRole('button', { name: 'Clone playout-1' }).click()
  await expect(page.getByRole('heading', { name: 'playout-2', level: 1, exact: true })).toBeVisible()
  const [first, second] = await empty.list('adapters?sort=id')
  expect(first?.['mac']).not.toBe(second?.['mac'])
  expect(await empty.list('addresses')).toHaveLength(1)

  await page.getByRole('link', { name: 'Migrate', exact: true }).click()
  await page.getByRole('radio').first().check()
  await expect(page.getByText('Host: host gannet → host fulmar')).toBeVisible()
  await expect(page.getByText('Adapter 1 of playout-2 is plugged into office, which is not attached to fulmar.')).toBeVisible()
  await page.getByRole('button', { name: 'Record as done' }).click()
  await expect(page.getByText('Guest, stopped on fulmar')).toBeVisible()

  await page.getByRole('link', { name: /^Findings/ }).click()
  // The page before has the same finding, until this one is there.
  await page.getByRole('heading', { name: 'Findings', level: 1, exact: true }).waitFor()
  const finding = page.getByRole('article').filter({ hasText: 'Network not attached' })
  await finding.getByRole('button', { name: 'Show the fix' }).click()
  await expect(finding.getByText('office on fulmar')).toBeVisible()
  await finding.getByRole('button', { name: 'Apply fix' }).click()
  await expect(finding).toBeHidden()

  await page.getByRole('link', { name: 'Logbook' }).click()
  const entries = page.getByRole('main').getByRole('listitem')
  for (const sentence of [
    'Migrate playout-2 to fulmar',
    'Clone playout-1 as playout-2',
    'Assign the next free address to adapter 1 of playout-1',
    'Add guest playout-1',
    'Add host gannet',
  ])
    await expect(entries.filter({ hasText: sentence })).toHaveCount(1)
})

test('the same by keyboard alone', async ({ demo }) => {
  const { page } = demo
  const type = (text: string) => page.keyboard.type(text)
  const press = (...keys: string[]) => keys.reduce((before, key) => before.then(() => page.keyboard.press(key)), Promise.resolve())
  await demo.go('board')
  await expect(page.getByRole('region', { name: /^gannet/ })).toBeVisible()

  await press('g', 'h')
  await expect(page.getByRole('heading', { name: 'Hosts', level: 1, exact: true })).toBeVisible()
  await press('n')
  await expect(page.getByLabel('The host in a line')).toBeFocused()
  await type('razorbill 1x16 96G +4T at studio runs brackwater net mgmt,office,studio,storage')
  await press('Control+Enter')
  await expect(page.getByRole('heading', { name: 'razorbill', level: 1, exact: true })).toBeVisible()

  await press('g', 'g')
  await expect(page.getByRole('heading', { name: 'Guests', level: 1, exact: true })).toBeVisible()
  await press('n')
  await expect(page.getByLabel('The guest in a line')).toBeFocused()
  await type('mixer-1 2cpu 4G 40G on razorbil net office')
  await expect(page.getByText('Did you mean')).toBeVisible()
  await press('Tab')
  await expect(page.getByLabel('The guest in a line')).toHaveValue('mixer-1 2cpu 4G 40G on razorbill net office')
  await press('Control+Enter')
  await expect(page.getByRole('heading', { name: 'mixer-1', level: 1, exact: true })).toBeVisible()
  await expect(page.getByRole('link', { name: /^10\.61\.40\./ })).toBeVisible()

  await page.getByRole('link', { name: 'Clone', exact: true }).focus()
  await press('Enter')
  await expect(page.getByLabel('Names')).toBeFocused()
  await expect(page.getByText('guest mixer-2').first()).toBeVisible()
  await press('Control+Enter')
  await expect(page.getByRole('heading', { name: 'mixer-2', level: 1, exact: true })).toBeVisible()

  // On the board: find the block, carry it to another lane, put it down, plan it, carry that out.
  await press('g', 'b')
  const block = page.getByRole('button', { name: /^mixer-2, stopped/ })
  await page.locator('[data-filter]').waitFor()
  await press('/')
  await type('razorbill')
  await expect(page.getByRole('region', { name: /^gannet/ })).toBeHidden()
  await page.locator('[data-filter]').fill('')
  await block.focus()
  await press('ArrowLeft')
  await expect(page.getByRole('button', { name: /^mixer-1, planned/ })).toBeFocused()
  await press('ArrowRight', 'm')
  await expect(page.getByText('It is on this host already.')).toBeVisible()
  await press('ArrowUp')
  await expect(page.getByRole('heading', { name: /^mixer-2 to / })).toBeVisible()
  await press('Escape')
  await expect(page.getByRole('complementary', { name: 'Plan' })).toBeHidden()
  await press('m', 'ArrowUp', 'ArrowUp')
  const target = (await page.getByRole('heading', { name: /^mixer-2 to / }).textContent())?.replace('mixer-2 to ', '') ?? ''
  await press('Enter')
  await expect(page.getByRole('button', { name: 'Add to plan' })).toBeFocused()
  await press('Enter')
  await expect(page.getByText(`Migrate mixer-2 to ${target}`)).toBeVisible()
  await page.getByRole('button', { name: 'Carry out all…' }).focus()
  await press('Enter')
  await page.getByRole('button', { name: 'Carry out 1 item' }).focus()
  await press('Enter')
  await expect(page.getByRole('complementary', { name: 'Plan' })).toBeHidden()
  expect((await demo.list('migrations')).length).toBe(9)

  await press('Control+k')
  await page.getByPlaceholder('A name, an address').waitFor()
  await type('mixer-2')
  await press('Enter')
  await expect(page.getByText(`Guest, stopped on ${target}`)).toBeVisible()

  await press('g', 'f')
  await expect(page.getByRole('heading', { name: 'Findings', level: 1, exact: true })).toBeVisible()
  await press('g', 'l')
  await expect(page.getByRole('listitem').filter({ hasText: 'Migrate mixer-2' })).toHaveCount(1)
})
