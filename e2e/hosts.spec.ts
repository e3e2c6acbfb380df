import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import type { Command } from '@insel/core'
import { expect, test } from './insel.js'
import { LONG } from './tier.js'

const V2 = 'fpu cx8 cmov fxsr mmx syscall sse sse2 cx16 lahf_lm popcnt pni sse4_1 sse4_2 ssse3 svm'

test('a machine is surveyed to a verdict: flags, memory, drive, port, materials', async ({ demo }) => {
  const { page } = demo
  await demo.go('hosts/new')
  await page.getByLabel('The host in a line').fill('razorbill 1x8 32G at mast runs Brackwater-5 ordered')
  await page.getByLabel('Processor flags (optional)').fill(V2.replace('sse4_2 ', ''))
  await expect(page.getByText('Brackwater 5 needs x86-64-v2; this processor lacks SSE4.2.').first()).toBeVisible()
  await page.getByRole('button', { name: 'Add host' }).click()
  await page.getByRole('link', { name: 'Hardware' }).click()
  const verdict = page.locator('[role=status]', { hasText: 'supported' })
  await expect(verdict).toHaveText('not supported')

  await page.getByRole('button', { name: 'Paste flags' }).click()
  await page.getByLabel(/^Flags, as/).fill(`processor : 0\nflags\t\t: ${V2}\nbugs : none`)
  await expect(page.getByText('Reads as x86-64-v2.')).toBeVisible()
  await page.getByRole('button', { name: 'Record flags' }).click()
  await expect(verdict).toHaveText('supported with remarks')
  await expect(page.getByText('The processor is x86-64-v2; Brackwater 5 needs x86-64-v2.')).toBeVisible()

  await page.getByRole('link', { name: 'Add module' }).click()
  await page.getByLabel('Slot').fill('1')
  await page.getByLabel('Size').fill('16 GB')
  await page.getByRole('button', { name: 'Add memory module' }).click()
  await expect(page.getByText(/32 GiB usable is more than the 16 GiB fitted/).first()).toBeVisible()

  await page.getByRole('link', { name: 'Drives' }).click()
  await page.getByRole('link', { name: 'Add drive' }).click()
  await page.getByLabel('Bay').fill('0')
  await page.getByLabel('Label capacity').fill('240 GB')
  await page.getByLabel('Use').selectOption('install')
  await page.getByLabel('Controller (optional)').fill('megaraid_sas')
  await page.getByRole('button', { name: 'Add drive' }).click()
  await page.getByRole('link', { name: 'Hardware' }).click()
  await expect(verdict).toHaveText('not supported')
  await expect(
    page.getByText('Controller megaraid_sas is not supported by Brackwater 5, which knows ahci, mpt3sas, nvme, virtio_scsi.'),
  ).toBeVisible()

  await page.getByLabel('Platform to check').selectOption('Brackwater 6')
  await expect(page.getByText(/Brackwater 6 needs x86-64-v3; this processor lacks AVX, AVX2/)).toBeVisible()

  await expect(page.getByText('7 to get')).toBeHidden()
  const before = await page.getByText(/^\d+ to get$/).textContent()
  await page.getByLabel(/Rails, with their screws/).check()
  await expect(page.getByText(`${Number(before?.split(' ')[0]) - 1} to get`)).toBeVisible()
})

test('an empty estate takes a platform that ships with Insel, and holds its first host against it', async ({ empty }) => {
  const { page } = empty
  await empty.go('hosts/new')
  await page.getByRole('button', { name: 'Use profile Marram 2' }).click()
  await page.getByLabel('The host in a line').fill('rock 1x4 8G at skerry')
  await expect(page.getByText('The processor’s flags are not recorded; Marram 2 needs x86-64-v2.')).toBeVisible()
  await page.getByRole('button', { name: 'Add host' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('rock')
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('A name, an address').fill('release')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Compatibility with Marram 2')
  await empty.go('setup')
  await page.getByRole('button', { name: 'Use profile Brackwater 5' }).click()
  await expect(page.getByRole('link', { name: 'Brackwater 5' })).toBeVisible()
})

test('which hosts can take a release, over all hosts', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('hosts')
  await page.getByRole('link', { name: 'Release compatibility' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Compatibility with Brackwater 6')
  await expect(page.getByText('0 supported, 1 with remarks, 5 not.')).toBeVisible()
  await expect(page.getByRole('row', { name: /^gannet/ })).toContainText('Controller mpt3sas is not supported by Brackwater 6')
  await page.getByLabel('Release').selectOption('Marram 2')
  await expect(page).toHaveURL(/platform=/)
  await expect(page.getByRole('row', { name: /^tern/ })).toContainText('supported with remarks')
})

test('drives become an array and a store, ports get their roles', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go(`hosts/${await demo.idOf('host', 'kittiwake')}/drives`)
  await page.getByLabel('bay 1, 480 GB solid state').uncheck()
  const level = (name: string) => page.getByRole('row').filter({ has: page.getByRole('rowheader', { name, exact: true }) })
  await expect(level('5')).toContainText('14.6 TiB')
  await expect(level('5')).toContainText('a second failure meanwhile loses the array')
  await expect(level('6')).toContainText('Level 6 needs at least 4 members; there are 3.')
  await page.getByLabel('Or on paper, in label sizes').fill('6x4T')
  await expect(level('6')).toContainText('14.6 TiB')
  await expect(level('6')).toContainText('2 may fail')
  await page.getByLabel('Or on paper, in label sizes').fill('')
  await page.getByLabel('Hot spares').fill('1')
  await expect(level('5')).toContainText('Level 5 needs at least 3 members; there are 2.')
  await page.getByLabel('Name of the array').fill('bulk')
  await level('1')
    .getByRole('button', { name: /^Create RAID/ })
    .click()
  await expect(page.getByText('7.3 TiB usable')).toBeVisible()
  await expect(page.getByText('bays 8, 9, 10 (spare)')).toBeVisible()
  await page.getByLabel('Name of a new store in bulk').fill('bulk-5')
  await page.getByRole('button', { name: 'Add store' }).click()
  await expect(page.getByRole('link', { name: /^bulk-5 7.3 TiB/ })).toBeVisible()

  await page.getByRole('link', { name: 'Ports', exact: true }).click()
  await expect(page.getByText('One uplink for storage')).toBeVisible()
  await page.getByLabel('What ens1f1 carries').selectOption('storage')
  await expect(page.getByText('One uplink for storage')).toBeHidden()
  await expect(page.getByText('No port is planned for guests.')).toBeVisible()
  await page.getByRole('link', { name: 'Add port' }).click()
  await page.getByLabel('Name', { exact: true }).fill('ens2f0')
  await page.getByLabel('Speed').fill('10000')
  await page.getByRole('button', { name: 'Add port' }).click()
  await page.getByRole('button', { name: 'Propose roles for 1 port' }).click()
  await page.getByRole('button', { name: 'Record these roles' }).click()
  await expect(page.getByLabel('What ens2f0 carries')).toHaveValue('guests')
  await page.getByLabel('missing in ens2f0').check()
  await expect(page.getByRole('img', { name: /ens2f0 carries guests, cable present/ })).toBeVisible()
})

test('a build sheet is run to the end, with a failed and a skipped step, a pause, and the wipe confirmed by serial', async ({ demo }) => {
  const { page } = demo
  const host = await demo.idOf('host', 'kittiwake')
  await demo.go(`hosts/${host}/build`)
  const step = (title: string) => page.getByRole('listitem', { name: new RegExp(`, ${title}`) })
  await expect(page.getByText('3 of 19 steps completed: 2 done, 0 skipped, 1 failed.')).toBeVisible()
  await page.getByRole('button', { name: 'Resume' }).click()
  await page.getByRole('button', { name: 'Pause' }).click()
  await expect(page.getByText('Paused.')).toBeVisible()
  await page.getByRole('button', { name: 'Resume' }).click()

  await step('Mount').getByRole('button', { name: /Skip/ }).click()
  await expect(step('Mount').getByRole('button', { name: 'Record as skipped' })).toBeDisabled()
  await page.getByLabel('Why Mount, cable, power is skipped').fill('already in the rack')
  await step('Mount').getByRole('button', { name: 'Record as skipped' }).click()
  await expect(step('Mount')).toContainText('already in the rack')

  await step('Install stick').getByLabel('I checked the stick’s content; it may be erased').check()
  await expect(step('Install stick')).not.toContainText('Nobody has said')
  await step('Install stick').getByLabel('Minutes for Install stick').fill('7')
  await step('Install stick').getByRole('button', { name: /Done/ }).click()
  await expect(step('Install stick')).toContainText('done by Maren Holm')
  await expect(step('Install stick')).toContainText('7 min')

  // The step that failed earlier is opened again and done.
  await step('Firmware')
    .getByRole('button', { name: /Reopen/ })
    .click()
  await step('Firmware').getByRole('button', { name: /Done/ }).click()

  const wipe = step('Target disk')
  await expect(wipe).toContainText('The install wipes the chosen disk')
  await expect(wipe.getByRole('button', { name: /Done/ })).toBeDisabled()
  await wipe.getByLabel(/Serial on the screen/).fill('K480-9999')
  await expect(wipe).toContainText('not the planned one: stop')
  await wipe.getByLabel(/Serial on the screen/).fill('k480-2201')
  await wipe.getByRole('button', { name: /Done/ }).click()

  await step('Install Brackwater 5')
    .getByRole('button', { name: /Failed/ })
    .click()
  await page.getByLabel('What went wrong with Install Brackwater 5').fill('the stick was not listed')
  await step('Install Brackwater 5').getByRole('button', { name: 'Record as failed' }).click()
  await expect(page.getByText('1 failed.')).toBeVisible()

  await step('Management network')
    .getByLabel(/Type or paste/)
    .fill('Address 10.61.10.15/24\nGateway 10.61.10.1\nDNS 10.61.10.53\nHostname kittiwake.skerry.example\nVLAN 10')
  await expect(step('Management network')).toContainText('eno1 carries management and has no cable recorded')
  await step('Certificate fingerprint').getByLabel('Certificate fingerprint', { exact: true }).fill('SHA256 12:34:56')
  await step('Certificate fingerprint').getByRole('button', { name: 'Record it' }).click()
  await expect(step('Certificate fingerprint')).not.toContainText('No fingerprint is noted yet')
  await step('Licence').getByRole('button', { name: 'Record it' }).click()
  await expect(step('Licence')).not.toContainText('is not recorded')
  for (const title of [
    'Management network',
    'Ping the gateway',
    'Ping the name server',
    'Resolve its own name',
    'Open the management page',
    'Switches and networks',
    'Arrays',
    'Updates',
    'Licence',
    'Certificate',
    'Old media',
    'Boot order',
  ])
    await step(title).getByRole('button', { name: /Done/ }).click()
  await expect(page.getByText('19 of 19 steps completed: 17 done, 1 skipped, 1 failed.')).toBeVisible()
  await page.getByRole('button', { name: 'Put kittiwake in service' }).click()
  await expect(page.getByText(/Host at studio, in service/)).toBeVisible()
  const [record] = (await demo.list('hosts')).filter(({ name }) => name === 'kittiwake')
  expect(record?.['fingerprint']).toBe('SHA256 12:34:56')
  await demo.go('findings?rule=sheet.step-failed')
  await expect(page.getByText(/The step install of building kittiwake failed: the stick was not listed/)).toBeVisible()
})

test('the times of one build are what the next one expects; the sheet prints on two pages at most', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  const gannet = await demo.idOf('host', 'gannet')
  await demo.go(`hosts/${gannet}/build`)
  await expect(page.getByRole('listitem', { name: /Materials/ })).toContainText('about 12 min, one earlier build')
  await page.emulateMedia({ media: 'print', colorScheme: 'dark' })
  await expect(page.getByRole('heading', { name: 'Build sheet, gannet', exact: true })).toBeVisible()
  await expect(page.locator('[data-print-head]')).toContainText('printed')
  await expect(page.getByRole('navigation', { name: 'Sections' })).toBeHidden()
  expect(await page.evaluate(() => getComputedStyle(document.body).backgroundColor)).toBe('rgb(255, 255, 255)')
  const pdf = await page.pdf({ format: 'A4', margin: { top: '12mm', bottom: '12mm', left: '12mm', right: '12mm' } })
  expect([...pdf.toString('latin1').matchAll(/\/Type\s*\/Page[^s]/g)].length).toBeLessThanOrEqual(2)
})

test('an image is hashed in the browser, and nothing of it is sent', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.send([{ type: 'step.remove', id: String((await demo.list('steps')).find(({ step }) => step === 'image')?.['id']) }])
  await demo.go(`hosts/${await demo.idOf('host', 'kittiwake')}/build`)
  const bytes = Buffer.alloc(9_000_000, 'kelp')
  const sent: number[] = []
  page.on('request', (request) => sent.push(request.postDataBuffer()?.length ?? 0))
  await page.locator('input[type=file]').setInputFiles({ name: 'brackwater-5.4.iso', mimeType: 'application/octet-stream', buffer: bytes })
  const digest = createHash('sha256').update(bytes).digest('hex')
  await expect(page.getByText(digest)).toBeVisible()
  await page.getByRole('button', { name: 'Record it for brackwater-5.4.iso' }).click()
  await expect(page.getByText('It matches the recorded checksum.')).toBeVisible()
  expect(Math.max(...sent)).toBeLessThan(5000)
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'other.iso', mimeType: 'application/octet-stream', buffer: Buffer.from('other') })
  await expect(page.getByText('This is not the recorded checksum')).toBeVisible()
})

test('a fallback network is pasted, and each sign is named', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go(`hosts/${await demo.idOf('host', 'kittiwake')}/ports`)
  const shown = page.getByLabel(/Type or paste/)
  await shown.fill('IPv4 address 169.254.33.7\nNetmask 255.255.0.0\nGateway 0.0.0.0\nDNS 127.0.0.1\nHostname localhost\nlease none')
  for (const sign of [
    '169.254.33.7 is self-assigned',
    'The gateway is 0.0.0.0',
    'The name server is 127.0.0.1, the host itself',
    'The host name is localhost.',
    'Line 6, “lease none”',
  ])
    await expect(page.getByText(sign)).toBeVisible()
  await shown.fill('Address 10.61.10.15/16\nGateway 10.61.10.1\nDNS 10.61.10.53\nHostname kittiwake')
  await expect(page.getByText('The mask is /16, recorded is /24')).toBeVisible()
  await expect(page.getByText('“kittiwake” is not fully qualified.')).toBeVisible()
  // What was typed is still there after a look elsewhere.
  await page.getByRole('link', { name: 'Drives' }).click()
  await expect(page.getByRole('heading', { name: 'Plan an array', exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Ports', exact: true }).click()
  await expect(page.getByLabel(/Type or paste/)).toHaveValue(/\/16/)
})

test('the controller is asked, differences are accepted, and one is kept as a finding', async ({ demo }) => {
  const { page } = demo
  const host = await demo.idOf('host', 'kittiwake')
  await demo.go(`hosts/${host}/found`)
  await page.getByLabel('Address').fill(demo.controller)
  await page.getByRole('button', { name: 'Read controller' }).click()
  await expect(page.getByText('The controller refuses this user or password.')).toBeVisible()
  await page.getByLabel('User').fill('reader')
  await page.getByLabel('Password').fill('stand-in')
  await page.getByRole('button', { name: 'Read controller' }).click()
  await expect(page.getByLabel('Which of its systems is kittiwake?')).toHaveValue('/redfish/v1/Systems/bay-1')
  const row = (about: string) => page.getByRole('row').filter({ hasText: about })
  await expect(row('memory in slot 7')).toContainText('not seen')
  await expect(row('drive in bay 10')).toContainText('not seen')
  await page.getByRole('button', { name: /Choose all/ }).click()
  await page.getByLabel('Choose memory in slot 7').uncheck()
  await page.getByRole('button', { name: /^Update record/ }).click()
  await expect(page.getByRole('heading', { name: 'Different, 1', exact: true })).toBeVisible()
  await page.getByLabel('Choose memory in slot 7').check()
  await page.getByRole('button', { name: 'Keep as findings' }).click()
  await demo.go('findings?rule=host.not-as-planned')
  await expect(page.getByText('kittiwake: memory in slot 7 is not seen, planned is 32 GiB at 3200 MT/s.')).toBeVisible()
  const ports = (await demo.list('ports')).filter(({ hostId }) => hostId === host)
  expect(ports.filter(({ cable }) => cable === 'present')).toHaveLength(3)
  expect((await demo.list('drives')).some(({ serial }) => serial === 'T8T-0599')).toBe(true)
})

test('the collector’s line is run, and what it sends appears by itself', async ({ demo }) => {
  const { page } = demo
  await demo.go(`hosts/${await demo.idOf('host', 'tern')}/found`)
  await page.getByRole('button', { name: 'Create collector command' }).click()
  const command = (await page.getByLabel('Command to run on the machine').textContent()) ?? ''
  expect(command).toMatch(/^curl -fsS -H 'insel-code: \S+' 'http:.*collect\.sh' \| sh$/)
  execFileSync('sh', ['-c', `${command} -s -- --send`], { stdio: 'pipe' })
  await page.getByRole('list', { name: 'Collected texts' }).getByRole('button', { name: 'Compare' }).click()
  await expect(page.getByText(/^Read: .*lscpu --json/)).toBeVisible()
  await expect(page.getByRole('row').filter({ hasText: 'cores per socket' })).toBeVisible()
})

test('what cannot be read is said by line, and nothing is lost', async ({ demo }) => {
  const { page } = demo
  await demo.go(`hosts/${await demo.idOf('host', 'tern')}/found`)
  const field = page.getByLabel(/Paste or drop the output/)
  await field.fill(`{"lscpu":[{"field":"Socket(s):","data":"2"}]}\nsomething else\n{"lsblk": broken}`)
  await expect(page.getByText(/^Line 2, something else/)).toBeVisible()
  await expect(page.getByText(/^Line 3, /)).toBeVisible()
  await expect(page.getByRole('row').filter({ hasText: 'sockets' })).toContainText('2')
  await expect(field).toHaveValue(/something else/)
  await field.fill('<?xml version="1.0"?><a/>')
  await expect(page.getByText('This is XML. Use the tool’s JSON output, such as lshw -json.')).toBeVisible()
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'huge.json', mimeType: 'application/json', buffer: Buffer.alloc(5_200_000, 'x') })
  await expect(page.getByText('huge.json has 5.2 MB; at most 5 MB are read. Nothing was changed.')).toBeVisible()
})

test('capacity: what still fits, which host could fail and why, what the circuits carry', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('hosts/capacity')
  await page.getByLabel('A guest of this size').fill('2cpu 4G 40G net office')
  await expect(page.getByRole('row', { name: /^gannet/ }).first()).toContainText('memory: 18.9 GiB left')
  await expect(page.getByRole('row', { name: /^tern/ }).first()).toContainText('office is not attached')
  await page.getByLabel('A guest of this size').fill('64cpu 1G')
  await expect(page.getByRole('row', { name: /^fulmar/ }).first()).toContainText('processors')
  await expect(page.getByText('no other host in service has mast').first()).toBeVisible()
  await expect(page.getByText(/^Of 5 hosts in service, 0 could fail alone without a loss: \d with room elsewhere/)).toBeVisible()
  await expect(page.getByRole('row', { name: /^A1 studio/ })).toContainText('1\u2009234 W'.replace('\u2009', ''))
  await expect(page.getByText(/The local code and a licensed electrician decide/)).toBeVisible()
})

test('the list of 200 hosts: sorted, filtered, grouped, columns chosen, out as CSV', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  const platformId = await demo.idOf('platform', 'Marram 2')
  await demo.send(
    Array.from({ length: 194 }, (_, index): Command => ({
      type: 'host.add',
      record: { name: `rock-${index + 1}`, platformId, site: index % 2 ? 'north' : 'south', coresPerSocket: 8, memoryMiB: 16384 + index },
    })),
  )
  await demo.go('hosts')
  await expect(page.getByText('200 recorded.')).toBeVisible()
  expect(await page.getByRole('row').count()).toBeLessThan(70)
  await page.getByRole('button', { name: 'Usable memory' }).click()
  await page.getByRole('button', { name: 'Usable memory' }).click()
  await expect(page.getByRole('row').nth(1)).toContainText('126.6 GiB')
  await page.getByLabel('Group by').selectOption('by site')
  await expect(page.getByRole('rowheader', { name: 'mast 1' })).toBeVisible()
  await expect(page.getByRole('rowheader', { name: 'north 97' })).toBeVisible()
  await page.getByRole('button', { name: 'Columns' }).click()
  await page.getByLabel('Core load').uncheck()
  await page.getByLabel('Processor level').check()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('columnheader', { name: 'Core load' })).toBeHidden()
  await page.getByLabel('Filter hosts').fill('rock-1')
  await expect(page.getByText('106 of 200 shown.')).toBeVisible()
  await page.reload()
  await expect(page.getByRole('columnheader', { name: 'Processor level' })).toBeVisible()
  const downloading = page.waitForEvent('download')
  await page.getByRole('button', { name: 'CSV' }).click()
  const stream = await (await downloading).createReadStream()
  let csv = ''
  for await (const chunk of stream) csv += String(chunk)
  const lines = csv.trimEnd().split('\r\n')
  expect(lines).toHaveLength(107)
  expect(lines[0]).toBe('Name,Site,State,Platform,Guests,Usable memory (MiB),Memory left (MiB),Compatibility,Processor level')
})

test('on a long board the keys go to lanes that were out of sight', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  const platformId = await demo.idOf('platform', 'Marram 2')
  const id = (kind: string, index: number) => `01890000-0000-7000-8000-${kind}${index.toString(16).padStart(8, '0')}`
  await demo.send(
    Array.from({ length: 40 }, (_, index): Command[] => [
      { type: 'host.add', record: { id: id('aaaa', index), name: `rock-${index + 1}`, platformId, coresPerSocket: 8, memoryMiB: 8192 } },
      { type: 'guest.add', record: { name: `seal-${index + 1}`, hostId: id('aaaa', index), vcpu: 1, memoryMiB: 1024 } },
    ]).flat(),
  )
  await demo.go('board')
  await page.locator('[data-block][tabindex="0"]').focus()
  for (let press = 0; press < 30; press++) await page.keyboard.press('ArrowDown')
  await expect(page.locator('[data-block]:focus')).toHaveAttribute('aria-label', /^seal-/)
})

test('the build sheet makes the system’s array before the install, and names both ends of each cable', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  const hostId = await demo.idOf('host', 'kittiwake')
  const [drive] = (await demo.list(`drives?hostId=${hostId}`)).filter(({ use }) => use === 'install')
  const [port] = await demo.list(`ports?hostId=${hostId}`)
  const arrayId = '01890000-0000-7000-8000-00000000a001'
  await demo.send([
    { type: 'array.add', record: { id: arrayId, hostId, name: 'system', level: '1' } },
    { type: 'drive.update', id: String(drive?.['id']), changes: { arrayId } },
    { type: 'drive.add', record: { hostId, position: 90, labelBytes: 480e9, serial: 'K480-9090', use: 'install', arrayId } },
    { type: 'port.update', id: String(port?.['id']), changes: { farEnd: 'kelp-1, port 17', role: 'management' } },
  ])
  await demo.go(`hosts/${hostId}/build`)
  await expect(page.getByRole('listitem', { name: /, Array for the system/ })).toContainText('level 1')
  const titles = await page
    .getByRole('list', { name: 'Build sheet of kittiwake' })
    .getByRole('listitem')
    .evaluateAll((items) => items.map((item) => item.getAttribute('aria-label') ?? ''))
  const at = (title: string) => titles.findIndex((one) => one.includes(title))
  expect(at('Array for the system')).toBeGreaterThan(0)
  expect(at('Array for the system')).toBeLessThan(at('Target disk'))
  expect(at('Target disk')).toBeLessThan(at('Install Brackwater'))
  expect(at('Install Brackwater')).toBeLessThan(at('Arrays and stores'))
  await expect(page.getByRole('listitem', { name: /, Arrays and stores/ })).toContainText('leave them alone')
  await expect(page.getByRole('listitem', { name: /, Mount/ })).toContainText('to kelp-1, port 17')
  // 0 minutes is recorded as not measured, and nonsense gets a sentence.
  await page.getByRole('button', { name: 'Resume' }).click()
  const stick = page.getByRole('listitem', { name: /, Install stick/ })
  await stick.getByLabel('Minutes for Install stick').fill('soon')
  await expect(stick.getByRole('alert')).toContainText('Write minutes')
  await stick.getByLabel('Minutes for Install stick').fill('0')
  await stick.getByRole('button', { name: /Done/ }).click()
  await expect(stick).toContainText('done by Maren Holm')
  expect((await demo.list('steps')).filter(({ step }) => step === 'stick').at(-1)).toMatchObject({ minutes: null })
})

test('a host with modules, drives, ports and two uplinks is recorded in fewer than ten saves', async ({ demo }) => {
  const { page } = demo
  const saves = async () => {
    const answer = await page.request.get(`${new URL(page.url()).origin}/api/v1/estates/${demo.id}/changes?limit=1`)
    return ((await answer.json()) as { changes: { revision: number }[] }).changes[0]?.revision ?? 0
  }
  await demo.go('hosts/new')
  const before = await saves()
  await page
    .getByLabel('The host in a line')
    .fill('shag 2x16 4x32G drives 6x3.84T:nvme ports 4x10G:eno1 at studio runs Brackwater-5 net mgmt,office')
  await page.getByRole('button', { name: 'Add host' }).click()
  await expect(page.getByRole('heading', { name: 'shag', level: 1, exact: true })).toBeVisible()
  const hostId = await demo.idOf('host', 'shag')

  await demo.go(`records/switch/new?hostId=${hostId}`)
  await page.getByLabel('Name', { exact: true }).fill('br0')
  await page.getByLabel('Bond').selectOption('LACP')
  await page.getByRole('button', { name: /^Add switch/ }).click()
  await expect(page).not.toHaveURL(/records\/switch/)
  for (const port of ['eno1', 'eno2']) {
    await demo.go(`hosts/${hostId}/ports`)
    await page.getByRole('link', { name: port, exact: true }).first().click()
    const uplinkOf = page.getByLabel('Uplink of (optional)')
    await uplinkOf.selectOption(await uplinkOf.getByRole('option', { name: /br0/ }).getAttribute('value'))
    await page.getByRole('button', { name: /^Save changes/ }).click()
    await expect(page).not.toHaveURL(/records\/port/)
    await expect
      .poll(async () => (await demo.list('ports')).find((one) => one['hostId'] === hostId && one.name === port)?.['switchId'])
      .not.toBeNull()
  }
  const of = async (kind: string) => (await demo.list(kind)).filter((one) => one['hostId'] === hostId).length
  expect([await of('modules'), await of('drives'), await of('ports')]).toEqual([4, 6, 4])
  expect((await saves()) - before).toBeLessThan(10)
})
