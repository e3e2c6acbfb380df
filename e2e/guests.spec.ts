import { readFileSync } from 'node:fs'
import { loadObservations } from '../workbench/demo/load.js'
import { expect, test } from './insel.js'
import { LONG } from './tier.js'

test('a guest goes from a spec line to verified, via its install sheet', async ({ demo }) => {
  test.setTimeout(90_000)
  const { page } = demo
  await demo.go('guests/new')
  await page.getByLabel('The guest in a line').fill('listener 1cpu 1G 20G on gannet net office=10.61.40.77')
  await page.locator('#guest-systemId').click()
  await page.getByPlaceholder('Name, release or maker').fill('text-only')
  await page.getByRole('option', { name: /Text-only server/ }).click()
  await page.getByLabel('What it is for', { exact: true }).selectOption('web')
  await page.getByRole('radio', { name: 'for the peak' }).check()
  await page.getByRole('button', { name: 'Use this size' }).click()
  await expect(page.getByLabel('Memory', { exact: true })).toHaveValue('2.5 GiB')
  await page.getByText('Processor mode, firmware, install medium, group').click()
  await page.getByLabel('Language and keyboard').fill('en_GB, gb')
  await page.getByRole('button', { name: /^Add guest/ }).click()
  await expect(page.getByRole('heading', { name: 'listener', exact: true })).toBeVisible()

  await page.getByRole('link', { name: 'Install sheet' }).click()
  const sheet = page.getByRole('list', { name: 'Install sheet of listener' })
  await expect(sheet.getByText('No install image is chosen.')).toBeVisible()
  await page.getByRole('button', { name: 'Start the install' }).click()
  await page.getByLabel('Image to install from').selectOption({ label: 'text-server-12.iso' })
  await expect(sheet.getByText('No install image is chosen.')).toBeHidden()
  await expect(sheet.getByText(/Address 10\.61\.40\.77\/23, fixed/)).toBeVisible()
  const open = () => sheet.getByRole('button', { name: /^Done/ })
  // The eject is recorded where it bites; then every step is ticked, the verification last.
  for (let left = await open().count(); left > 0; left--) {
    if (left === 11) await page.getByRole('button', { name: 'Record it as ejected, disk first' }).click()
    await expect(open()).toHaveCount(left)
    await open().first().click()
    await expect(open()).toHaveCount(left - 1)
  }
  await expect(page.getByRole('heading', { name: 'Installed and verified', exact: true })).toBeVisible()
  const listener = (await demo.list('guests')).find(({ name }) => name === 'listener')
  expect(listener).toMatchObject({ state: 'running', mediumId: null, bootFirst: 'disk' })
  expect(listener?.['verifiedAt']).not.toBeNull()
})

test('a driver trap is caught while composing, and mended by the working devices', async ({ demo }) => {
  const { page } = demo
  await demo.go('guests/new')
  await page.getByLabel('The guest in a line').fill('till 1cpu 1G 20G on fulmar net office')
  await page.locator('#guest-systemId').click()
  await page.getByPlaceholder('Name, release or maker').fill('old desktop')
  await page.getByRole('option', { name: /Old desktop/ }).click()
  await expect(page.getByText(/has no driver for it: the installer sees no disk/).first()).toBeVisible()
  const take = page.getByRole('button', { name: /^Apply/ })
  for (let left = await take.count(); left > 0; left = await take.count()) await take.first().click()
  await expect(page.getByLabel('Bus of disk 1')).not.toHaveValue('paravirtual')
  await expect(page.getByLabel('Model of adapter 1')).toHaveValue('emulated old')
  await expect(page.getByLabel('Firmware', { exact: true })).toHaveValue('BIOS')
  await page.getByRole('button', { name: /^Add guest/ }).click()
  await expect(page.getByRole('heading', { name: 'till', exact: true })).toBeVisible()
  const id = await demo.idOf('guest', 'till')
  const found = (await demo.list('findings')).filter(({ subject }) => (subject as { id: string }).id === id).map(({ ruleId }) => ruleId)
  expect(found).not.toContain('guest.no-driver')

  // On a recorded guest the same trap is a finding with a fix.
  await demo.send([{ type: 'guest.update', id, changes: { firmware: 'UEFI' } }])
  await demo.go(`guests/${id}`)
  await expect(page.getByText(/boots under BIOS only/)).toBeVisible()
})

test('a guest goes out as an OVF descriptor and comes in as another, and a table changes several', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  const archive = await demo.idOf('guest', 'archive-db')
  await demo.go(`guests/exchange?guest=${archive}`)
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'OVF descriptor 2.x' }).click()
  const path = await (await download).path()
  expect(readFileSync(path, 'utf8')).toContain('http://schemas.dmtf.org/ovf/envelope/2')
  await page
    .getByLabel('Choose a descriptor or package')
    .setInputFiles({ name: 'archive-db.ovf', mimeType: 'application/xml', buffer: readFileSync(path) })
  await expect(page.getByText('archive-db.ovf: OVF 2.x, 1 system.')).toBeVisible()
  await page.getByLabel('Name', { exact: true }).fill('archive-copy')
  await page.getByLabel('Host', { exact: true }).selectOption({ label: 'fulmar' })
  await expect(page.getByLabel('Network storage')).toHaveValue(await demo.idOf('network', 'storage'))
  await page.getByRole('button', { name: 'Add the guest' }).click()
  await expect(page.getByRole('heading', { name: 'archive-copy', exact: true })).toBeVisible()
  const copy = (await demo.list('guests')).find(({ name }) => name === 'archive-copy')
  const disks = (await demo.list('disks')).filter(({ guestId }) => guestId === copy?.['id'])
  const originals = (await demo.list('disks')).filter(({ guestId }) => guestId === archive)
  const plain = (list: Record<string, unknown>[]) => list.map(({ position, use, sizeBytes }) => [position, use, sizeBytes]).sort()
  expect(copy).toMatchObject({ vcpu: 8, sockets: 2, memoryMiB: 24576, state: 'planned', workload: 'small database' })
  expect(plain(disks)).toEqual(plain(originals))

  await demo.go('guests/exchange')
  await page.getByLabel('Choose a descriptor or package').setInputFiles({
    name: 'harm.ovf',
    mimeType: 'application/xml',
    buffer: Buffer.from('<!DOCTYPE a [<!ENTITY b "c">]><Envelope>&b;</Envelope>'),
  })
  await expect(page.getByRole('alert')).toContainText('declares a type or entities of its own')
  await page.getByLabel('Table', { exact: true }).fill('name;memory;group\nmail;10G;desk\nfiles;16G;desk\nnobody;x;')
  await expect(page.getByText('2 guests changed; 1 row refused.', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Record them' }).click()
  await expect(page.getByText('Recorded: 2 guests changed; 1 row refused.', { exact: true })).toBeVisible()
  expect((await demo.list('guests')).find(({ name }) => name === 'mail')).toMatchObject({ memoryMiB: 10_240, group: 'desk' })

  // The heading’s unit counts; a number that may be read two ways is asked about, and nothing is taken before.
  await demo.go('guests/exchange')
  await page.getByLabel('Table', { exact: true }).fill('name;Memory (GB);group\nmail;8,192;desk\nfiles;16;desk')
  await expect(page.getByLabel('Unit of Memory (GB)')).toHaveValue('GiB')
  await expect(page.getByText(/“8,192”/).first()).toBeVisible()
  await page.getByLabel(/In this file 8,192 is/).selectOption({ label: '8.192' })
  await expect(page.getByText(/8\.19 GiB/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Record them' }).click()
  await expect(page.getByText('Recorded: 1 guest changed, 1 as recorded.', { exact: true })).toBeVisible()
  expect((await demo.list('guests')).find(({ name }) => name === 'files')).toMatchObject({ memoryMiB: 16_384 })

  // Several at once, chosen in the list.
  await demo.go('guests?group=host')
  await page.getByLabel('Filter guests').fill('desk')
  await page.getByRole('button', { name: /^Choose all \d+ shown/ }).click()
  await page.getByLabel('these', { exact: true }).fill('checked')
  await page.getByRole('button', { name: 'Show what it does' }).click()
  await page.getByRole('button', { name: /^Change \d/ }).click()
  await expect(page.getByText('None chosen.')).toBeVisible()
  expect((await demo.list('guests')).find(({ name }) => name === 'mail')).toMatchObject({ tags: ['checked'] })
})

test('observations are imported, and the size that follows is recorded', async ({ demo }) => {
  const { page } = demo
  const intranet = await demo.idOf('guest', 'intranet')
  await demo.go(`guests/${intranet}/observed`)
  await expect(page.getByText('No observations yet.').first()).toBeVisible()
  const rows = Array.from({ length: 24 * 8 }, (_, hour) => {
    const at = new Date(Date.now() - (24 * 8 - hour) * 3_600_000).toISOString()
    return `${at};intranet;${10 + (hour % 24)};${1.5 + (hour % 24) / 24};${80 + hour / 100}`
  })
  await page
    .getByLabel('Table of observations')
    .fill(['when;server;cpu load;used memory GiB;disk GiB', 'noon;intranet;1;1;1', ...rows].join('\n'))
  await expect(page.getByText(/192 of 193 rows can be imported, of 1 guest or store/)).toBeVisible()
  await expect(page.getByText('Line 2: “noon” is not a time such as 2027-01-18 08:00.')).toBeVisible()
  await page.getByRole('button', { name: 'Import 192 observations' }).click()
  await expect(page.getByText('192 kept.')).toBeVisible()
  await expect(page.getByRole('img', { name: /^Memory, highest 2\.5 GiB/ })).toBeVisible()
  await page.getByRole('button', { name: 'Record this size' }).click()
  // 32 % of 2 vCPU with a quarter is 1; 2.46 GiB with a quarter is 3.07, in steps of 256 MiB 3.25.
  await expect(page.getByText('Its size fits its use.')).toBeVisible()
  expect((await demo.list('guests')).find(({ name }) => name === 'intranet')).toMatchObject({ vcpu: 1, memoryMiB: 3328 })
})

test('the overfill of a store is foreseen from what was observed, and stands among the findings', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await loadObservations(demo.server, demo.id)
  await demo.go('guests/stores')
  await page.getByRole('link', { name: 'ssd-4' }).click()
  await expect(page.getByText(/Full in 5\d days/)).toBeVisible()
  await expect(page.getByRole('listitem').filter({ hasText: 'cam-store' }).first()).toBeVisible()
  await page.getByLabel('If every thin disk filled up').check()
  await expect(page.getByText('All filled: short of 240.2 GiB.')).toBeVisible()

  await demo.go('guests/sizes')
  await page.getByRole('button', { name: /^Record \d+$/ }).click()
  // A guest with two thin disks has nobody who knows which of them grew: its growth is put onto the disk by hand.
  const cam = await demo.idOf('guest', 'cam-store')
  const disk = (await demo.list('disks')).find(({ guestId, position }) => guestId === cam && position === 2)
  await demo.send([{ type: 'disk.update', id: String(disk?.['id']), changes: { growthBytesPerMonth: 180 * 2 ** 30 } }])
  await demo.go('findings')
  await expect(page.getByText(/ssd-4 has .* free and grows by .* a month: full in \d+ days/)).toBeVisible()
})
