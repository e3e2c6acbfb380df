import { expect, test } from './insel.js'
import { LONG } from './tier.js'

test('a network from nothing: segment, subnet, pool, a reservation, carried to a host', async ({ demo }) => {
  const { page } = demo
  await demo.go('networks')
  await page.getByRole('link', { name: 'Add network' }).click()
  await page.getByLabel('Name', { exact: true }).fill('ring')
  await page.getByLabel('Role').selectOption('live migration')
  await page.getByLabel('VLAN ID (optional)').fill('90')
  await page.getByRole('button', { name: 'Add network' }).click()
  await page.getByRole('link', { name: 'ring', exact: true }).click()
  await expect(page.getByText('Network for live migration, VLAN 90, MTU 1500')).toBeVisible()

  await page.getByRole('link', { name: 'Add subnet' }).click()
  await page.getByLabel('Prefix').fill('10.61.90.0/28')
  await page.getByLabel('Gateway (optional)').fill('10.61.90.1')
  await page.getByRole('button', { name: 'Add subnet' }).click()
  await expect(page.getByText('14 usable, 0 recorded, next free from the low end, gateway 10.61.90.1')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Next free: 10.61.90.2' })).toBeVisible()

  await page.getByRole('link', { name: 'Add DHCP range' }).click()
  await page.getByLabel('First').fill('10.61.90.2')
  await page.getByLabel('Last').fill('10.61.90.30')
  await page.getByRole('button', { name: 'Add DHCP range' }).click()
  await expect(page.getByText('10.61.90.30 is not in 10.61.90.0/28; a DHCP range must be inside its subnet.').first()).toBeVisible()
  await page.getByLabel('Last').fill('10.61.90.9')
  await page.getByRole('button', { name: 'Add DHCP range' }).click()
  await expect(page.getByRole('button', { name: 'Next free: 10.61.90.10' })).toBeVisible()

  await page.getByRole('link', { name: 'Reserve an address' }).click()
  await expect(page.getByLabel('Address', { exact: true })).toHaveValue('10.61.90.10')
  await page.getByRole('button', { name: 'Add address' }).click()
  await expect(page.getByRole('button', { name: 'Next free: 10.61.90.11' })).toBeVisible()
  await page.getByText('1 address as a list').click()
  await page.getByRole('button', { name: 'Release 10.61.90.10 from the list' }).click()
  await expect(page.getByRole('button', { name: 'Next free: 10.61.90.10' })).toBeVisible()

  await demo.go(`hosts/${await demo.idOf('host', 'tern')}`)
  await page.getByLabel('Attach network').selectOption('ring')
  await expect(page.getByRole('link', { name: 'ring', exact: true })).toBeVisible()
  await page.getByLabel('Subnet for a management address').selectOption('10.61.90.0/28 ring')
  await page.getByRole('button', { name: 'Assign next free' }).click()
  await expect(page.getByText('10.61.90.10')).toBeVisible()
})

test('a guest is changed, grows a disk and an adapter, and is removed and brought back', async ({ demo }) => {
  const { page } = demo
  const guest = await demo.idOf('guest', 'intranet')
  await demo.go(`guests/${guest}`)
  await page.getByRole('link', { name: 'Change', exact: true }).click()
  await page.getByLabel('Memory', { exact: true }).fill('200 GiB')
  await expect(page.getByText('reads as 200 GiB')).toBeVisible()
  await expect(page.getByText(/intranet asks 200 GiB of memory/)).toBeVisible()
  await page.getByLabel('Memory', { exact: true }).fill('12G')
  await expect(page.getByText('Memory: 8 GiB → 12 GiB')).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('intranet 2cpu 12G')).toBeVisible()

  await page.getByRole('link', { name: 'Add disk' }).click()
  await expect(page.getByLabel('Number')).toHaveValue('3')
  await page.getByLabel('Size').fill('80 gigs')
  await page.getByLabel('Store (optional)').selectOption('bulk-2')
  await page.getByRole('button', { name: 'Add disk' }).click()
  await expect(page.getByRole('row').filter({ hasText: '80 GiB' })).toContainText('bulk-2')

  await page.getByRole('link', { name: 'Add adapter' }).click()
  await page.getByLabel('MAC (optional)', { exact: true }).fill('02-1A-4B-AA-BB-CC')
  await page.getByLabel('Network (optional)').selectOption('backup')
  await page.getByRole('button', { name: 'Add adapter' }).click()
  await expect(page.getByText('02:1a:4b:aa:bb:cc')).toBeVisible()
  await page.getByRole('button', { name: 'Assign' }).last().click()
  await expect(page.getByRole('link', { name: /^10\.61\.60\./ })).toBeVisible()

  await page.getByRole('link', { name: 'Change', exact: true }).click()
  await page.getByRole('button', { name: 'Remove…' }).click()
  await expect(page.getByRole('group', { name: 'Remove' }).getByRole('listitem')).toHaveCount(9)
  await page.getByRole('group', { name: 'Remove' }).getByRole('button', { name: 'Remove' }).click()
  await expect(page.getByRole('heading', { name: 'There is no such guest', exact: true })).toBeVisible()
  await expect(page.getByRole('status').filter({ hasText: 'Remove' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'intranet', level: 1, exact: true })).toBeVisible()
  expect(await demo.list(`disks?guestId=${guest}`)).toHaveLength(3)
})

test('the crossed router is found, its fix shown and applied', async ({ demo }) => {
  const { page } = demo
  await demo.go(`guests/${await demo.idOf('guest', 'sound-gate')}`)
  await expect(page.getByText('The adapters 1 and 2 of')).toBeVisible()
  await page.getByRole('button', { name: 'Show the fix' }).click()
  await expect(page.getByText('Network: network office → network public')).toBeVisible()
  await page.getByRole('button', { name: 'Cancel' }).click()
  await page.getByRole('button', { name: 'Show the fix' }).click()
  await page.getByRole('button', { name: 'Apply fix' }).click()
  await expect(page.getByText('The adapters 1 and 2 of')).toBeHidden()
  await expect(page.getByRole('row').filter({ hasText: '192.0.2.2' })).toContainText('public')
})

test('a migration maps a network, and the addresses of the one it leaves are released', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go(`guests/${await demo.idOf('guest', 'dns-1')}/migrate`)
  await page.getByRole('radio', { name: /gannet/ }).check()
  await page.getByLabel('Network of adapter 1').selectOption('mgmt, its addresses are released')
  await expect(page.getByText('Network: network office → network mgmt')).toBeVisible()
  await page
    .getByRole('group', { name: 'Method' })
    .getByRole('radio', { name: /\blive\b/ })
    .check()
  await page.getByRole('button', { name: 'Record as done' }).click()
  await expect(page.getByText('Guest, running on gannet')).toBeVisible()
  await page.getByRole('link', { name: 'Migrations', exact: true }).click()
  await page.getByRole('link', { name: 'History', exact: true }).click()
  await expect(page.getByRole('row').filter({ hasText: 'dns-1' }).filter({ hasText: 'live' })).toHaveCount(1)
  await expect(page.getByRole('row').filter({ hasText: 'auk' })).toContainText('agent conversion')
})

test('a clone of what was never generalised is warned about, before and after', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go(`guests/${await demo.idOf('guest', 'stream-edge-2')}/clone`)
  await expect(page.getByText(/stream-edge-2 is not recorded as free of its machine name/)).toBeVisible()
  await expect(page.getByLabel('Names')).toHaveValue('stream-edge-3')
  await page.getByLabel('Names').fill('stream!edge')
  await expect(page.getByText(/can only have letters, digits/)).toBeVisible()
  await expect(page.getByRole('button', { name: /^Clone stream-edge-2/ })).toBeDisabled()
  await page.getByLabel('Names').fill('stream-edge-3')
  await page.getByRole('button', { name: /^Clone stream-edge-2/ }).click()
  await expect(page.getByRole('article').filter({ hasText: 'copied from stream-edge-2' })).toBeVisible()
  await page.getByRole('link', { name: 'Clones', exact: true }).click()
  await expect(page.getByText(/identity copied from stream-edge/)).toHaveCount(2)
})

test('a message lies over nothing: what is under the pointer stays under it', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go(`hosts/${await demo.idOf('host', 'kittiwake')}/build`)
  await page.getByRole('button', { name: 'Resume' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'recorded as change' })).toBeVisible()
  // A button at the lower edge of the window, and its place on the screen before a message comes.
  const note = page.getByRole('listitem', { name: /, Certificate fingerprint/ }).getByRole('button', { name: 'Record it' })
  await page.getByLabel('Certificate fingerprint', { exact: true }).fill('SHA256 AB:CD')
  await note.evaluate((button) => button.scrollIntoView({ block: 'end' }))
  const box = await note.boundingBox()
  if (!box) throw new Error('the button is not on the page')
  expect(box.y).toBeGreaterThan(600)
  await page.getByRole('button', { name: 'Pause' }).evaluate((button) => (button as HTMLButtonElement).click())
  await expect(page.getByRole('status').filter({ hasText: 'Build of kittiwake paused' })).toBeVisible()
  expect(await note.boundingBox()).toEqual(box)
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2)
  await expect.poll(async () => (await demo.list('hosts')).find(({ name }) => name === 'kittiwake')?.['fingerprint']).toBe('SHA256 AB:CD')

  // On every section: with the message shown, it covers no control that is in sight.
  for (const section of ['Hosts', 'Guests', 'Networks', 'Findings', 'Logbook', 'Board']) {
    await page.getByRole('navigation', { name: 'Sections' }).getByRole('link', { name: section }).click()
    await expect(page.getByRole('status').filter({ hasText: 'recorded as change' })).toBeVisible()
    const controls = await page.evaluate(() => {
      const line = document.querySelector('[data-message-line]')
      return [...document.querySelectorAll('button, a, input, select')].flatMap((control) => {
        const { x, y, width, height } = control.getBoundingClientRect()
        const top = document.elementFromPoint(x + width / 2, y + height / 2)
        if (width === 0 || !top || line?.contains(control)) return []
        return [{ name: control.textContent, isCovered: line?.contains(top) ?? true }]
      })
    })
    expect(controls.length).toBeGreaterThan(5)
    expect(controls.filter(({ isCovered }) => isCovered)).toEqual([])
  }
})
