import { checkStep, derivedId, openErrors, Estate as Records, type Command } from '@insel/core'
import type { RecordsResponse } from '@insel/contract'
import type { Page } from '@playwright/test'
import { expect, test, type Estate } from './insel.js'
import { LONG } from './tier.js'

const GiB = 2 ** 30

/** The records as the server has them. */
async function recordsOf(demo: Estate): Promise<Records> {
  const { records } = (await (await fetch(`${demo.server}/api/v1/estates/${demo.id}/records`)).json()) as RecordsResponse
  return Records.fromRecords(records)
}

/** The id of the move that the page shows. */
const moveOn = (page: Page): string => /migrations\/([0-9a-f-]{36})/.exec(page.url())?.[1] ?? ''

/** Settles every check of a move that is an error, as somebody did who looked at each. */
async function settleChecks(demo: Estate, page: Page): Promise<void> {
  const id = moveOn(page)
  const estate = await recordsOf(demo)
  const move = estate.find('migration', id)
  const person = estate.byKey('person', { name: 'Maren Holm' })[0]
  if (!move || !person) throw new Error('no move, or nobody')
  const at = new Date().toISOString()
  await demo.send(
    openErrors(estate, move, at.slice(0, 10)).map(({ step }): Command => ({
      type: 'step.add',
      record: { sheetId: derivedId(id, 'sheet'), step, state: 'skipped', note: 'Looked at.', personId: person.id, at },
    })),
  )
}

const state = (page: Page, name: string) =>
  expect(page.locator('[aria-label="States of the move"] [aria-current=step]')).toContainText(name)
const press = (page: Page, name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' }).click()

/** Chooses one of a group by its name; beside the name each says more. */
const choose = (page: Page, group: string, name: string) =>
  page
    .getByRole('group', { name: group })
    .locator('label')
    .filter({ has: page.locator('.font-medium').getByText(name, { exact: true }) })
    .getByRole('radio')
    .check()

/** Opens the page on which a guest or machine is migrated, and chooses where to. */
async function migrateTo(demo: Estate, page: Page, guest: string, host: string): Promise<void> {
  await demo.go(`guests/${await demo.idOf('guest', guest)}/migrate`)
  await choose(page, 'Target host', host)
  await page.getByRole('group', { name: 'Method' }).getByRole('radio').first().waitFor()
}
const method = (page: Page, name: string) => choose(page, 'Method', name)

test('a guest moves live: its checks are settled one by one, it is cut over while it runs, and closed', async ({ demo, page }) => {
  await migrateTo(demo, page, 'weather-desk', 'fulmar')
  await method(page, 'live')
  await expect(page.getByText(/Its memory is sent in \d rounds?/)).toBeVisible()
  await press(page, /^Begin migration/)
  await expect(page.getByRole('heading', { level: 1, name: 'weather-desk to fulmar', exact: true })).toBeVisible()
  await press(page, 'Start copying')
  await expect(page.getByRole('alert').filter({ hasText: 'Settle it, or accept it with a reason' })).toBeVisible()
  await press(page, /^Done ?: Source works/)
  await expect(page.getByRole('listitem', { name: /^Source works/ })).toHaveCount(0)
  await press(page, /^Done on… ?: Backup/)
  await page.getByLabel(/^When the last backup ran/).fill(new Date().toISOString().slice(0, 10))
  await press(page, 'Record as done')
  await expect(page.getByRole('listitem', { name: /^Backup: error/ })).toHaveCount(0)
  await press(page, 'Start copying')
  await state(page, 'copying')
  await press(page, 'Cut over')
  await state(page, 'cut over')
  // A live move leaves it running.
  await press(page, 'Verified')
  await state(page, 'verified')
  await press(page, 'Close…')
  await page.getByLabel(/^Type weather-desk/).fill('weather-desk')
  await press(page, 'Removed, close')
  await expect(page.getByRole('heading', { name: 'Outcome', exact: true })).toBeVisible()
  await page.getByLabel('Next time (optional)').fill('As before.')
  await press(page, /^Save outcome/)
  await demo.visit('migrations/history')
  await expect(page.getByRole('row', { name: /weather-desk/ }).filter({ hasText: 'As before.' })).toBeVisible()
})

test(
  'a guest goes off to another platform: its devices get other names, and the sheet says them',
  { tag: LONG },
  async ({ demo, page }) => {
    const metrics = await demo.idOf('guest', 'metrics')
    const adapter = (await recordsOf(demo)).referring('adapter', 'guestId', metrics)[0]
    await demo.send([
      { type: 'adapter.update', id: adapter?.id ?? '', changes: { deviceName: 'ens18' } },
      { type: 'guest.power', guestId: metrics, state: 'stopped' },
    ])
    await migrateTo(demo, page, 'metrics', 'gannet')
    await page.getByText(/^Why \d others? cannot be used/).click()
    await expect(page.getByText(/cold copy:.*different platforms/)).toBeVisible()
    await method(page, 'export and import')
    await expect(page.getByText(/ens18 becomes enp1s0/)).toBeVisible()
    await press(page, /^Begin migration/)
    await page.getByRole('heading', { level: 1, name: 'metrics to gannet', exact: true }).waitFor()
    await settleChecks(demo, page)
    await press(page, 'Start copying')
    await state(page, 'copying')
    await page.getByLabel('How far it is now').fill('62 GiB')
    await press(page, 'Add reading')
    await expect(page.getByText('1 reading taken.')).toBeVisible()
    await press(page, 'Cut over')
    await state(page, 'cut over')
    const rename = page.getByRole('listitem', { name: /Rename devices/ })
    await expect(rename).toContainText('Adapter 1: ens18 becomes enp1s0.')
    await rename.getByRole('link', { name: 'Network files with the new names and MACs' }).click()
    // The page before is called “metrics to gannet”.
    await expect(page.getByRole('heading', { level: 1, name: 'metrics', exact: true })).toBeVisible()
    await page.goBack()
    await rename.getByRole('button', { name: /^Done/ }).click()
    await expect(rename).toContainText('done by Maren Holm')
    await press(page, /^Record metrics as running/)
    await press(page, 'Verified')
    await state(page, 'verified')
  },
)

test('a physical file server is taken over by an agent: volumes chosen, three days of readings, the same address afterwards', async ({
  demo,
  page,
}) => {
  await demo.go('migrations/machine')
  await page
    .getByLabel(/^Paste the output/)
    .fill(
      [
        'Architecture: x86_64',
        'CPU(s): 4',
        'Thread(s) per core: 1',
        'Core(s) per socket: 4',
        'Socket(s): 1',
        'Model name: Holm 4-core, 3.1 GHz',
      ].join('\n'),
    )
  await page.getByLabel('Name', { exact: true }).fill('skua')
  await page.getByLabel('Processors').fill('4')
  await page.getByLabel('Memory', { exact: true }).fill('8 GiB')
  await page.locator('select[name=systemId]').selectOption({ label: 'Text-only server, generic' })
  await page.getByLabel(/^Disks, a size each/).fill('2 TB')
  await page.getByLabel(/^Volumes, as df/).fill('1 / ext4 60G 14G\n1 /srv ext4 900G 620G\n1 /scratch ext4 700G 300G leave')
  await page.getByLabel('Services bound to its address (optional)').fill('shares of the newsroom')
  await press(page, /^Add physical machine/)
  await expect(page.getByRole('heading', { level: 1, name: 'skua', exact: true })).toBeVisible()
  const skua = await demo.idOf('guest', 'skua')
  const office = await demo.idOf('network', 'office')
  await demo.send([{ type: 'adapter.add', record: { guestId: skua, networkId: office, mac: '00:00:5e:00:53:b1', deviceName: 'eth0' } }])
  const nic = (await recordsOf(demo)).referring('adapter', 'guestId', skua)[0]?.id ?? ''
  await demo.send([{ type: 'address.assign', adapterId: nic }])
  const ip = (await recordsOf(demo)).referring('address', 'adapterId', nic)[0]?.ip ?? ''
  await migrateTo(demo, page, 'skua', 'gannet')
  await method(page, 'agent conversion')
  // 14 + 620 GiB of the chosen volumes, not the 2 TB of the disk, and not what is left.
  await expect(page.getByText('634 GiB').first()).toBeVisible()
  await press(page, /^Begin migration/)
  await page.getByRole('heading', { level: 1, name: 'skua to skua-new', exact: true }).waitFor()
  await settleChecks(demo, page)
  await press(page, 'Start copying')
  await state(page, 'copying')
  const begun = Date.now() - 72 * 3_600_000
  const lines = Array.from({ length: 73 }, (_, hour) => `${new Date(begun + hour * 3_600_000).toISOString()} ${(hour * 1.35).toFixed(2)} %`)
  await page.getByText('Paste what the tool prints').click()
  await page.getByLabel('What the tool prints').fill(lines.join('\n'))
  await press(page, 'Read lines')
  await expect(page.getByText('73 readings taken.')).toBeVisible()
  await expect(page.getByText(/^97 %, ends /).first()).toBeVisible()
  await press(page, 'Cut over')
  await expect(page.getByText(/skua is recorded as running; stop it first/)).toBeVisible()
  await press(page, /^Record skua as stopped/)
  await press(page, 'Cut over')
  await state(page, 'cut over')
  await press(page, /^Record skua as running/)
  await press(page, 'Verified')
  await state(page, 'verified')
  const estate = await recordsOf(demo)
  const taken = estate.byKey('guest', { name: 'skua' })[0]
  const addresses = estate
    .referring('adapter', 'guestId', taken?.id ?? '')
    .flatMap((one) => estate.referring('address', 'adapterId', one.id))
  expect([taken?.kind, addresses.map((one) => one.ip)]).toEqual(['machine', [ip]])
  expect(estate.byKey('guest', { name: 'skua-old' })[0]).toMatchObject({ kind: 'external', state: 'stopped' })
})

test(
  'a guest goes to a laptop by an image on a removable drive: drivers first, the disk typed by its serial, boot fixed',
  { tag: LONG },
  async ({ demo, page }) => {
    const mix = await demo.idOf('guest', 'mail')
    const laptop = '01990000-0000-7000-8000-0000000000a1'
    const system = '01990000-0000-7000-8000-0000000000a2'
    await demo.send([
      { type: 'system.add', record: { id: system, name: 'Desk system 10', family: 'winnt' } },
      { type: 'guest.update', id: mix, changes: { systemId: system } },
      { type: 'guest.add', record: { id: laptop, name: 'petrel-laptop', kind: 'external', state: 'stopped', vcpu: 8, memoryMiB: 16_384 } },
      { type: 'hardware.add', record: { guestId: laptop, serial: 'LT-4711', controller: 'AHCI' } },
      { type: 'disk.add', record: { guestId: laptop, position: 1, sizeBytes: 1024 * GiB } },
      { type: 'disk.add', record: { guestId: laptop, position: 2, sizeBytes: 1024 * GiB } },
      { type: 'adapter.add', record: { guestId: laptop, networkId: await demo.idOf('network', 'office') } },
    ])
    await demo.go(`guests/${mix}/migrate`)
    await page.getByRole('combobox', { name: /^To/ }).selectOption('another machine, physical or guest')
    await page.getByRole('combobox', { name: /^What it becomes/ }).selectOption({ label: 'petrel-laptop, physical, stopped' })
    await method(page, 'image and restore')
    await expect(page.getByText(/A removable drive or share with/)).toBeVisible()
    await press(page, /^Begin migration/)
    await page.getByRole('heading', { level: 1, name: 'mail to petrel-laptop', exact: true }).waitFor()
    await expect(page.getByRole('listitem', { name: /^Network driver: error/ })).toBeVisible()
    const drivers = page.getByRole('listitem', { name: /Stage drivers on the source/ })
    await drivers.getByRole('button', { name: /^Done/ }).click()
    await expect(drivers).toContainText('done by Maren Holm')
    await settleChecks(demo, page)
    await press(page, /^Record mail as stopped/)
    await press(page, 'Start copying')
    await state(page, 'copying')
    const restore = page.getByRole('listitem', { name: /Restore the image/ })
    await expect(restore).toContainText('This wipes the disk it writes to')
    await expect(restore.getByRole('button', { name: /^Done/ })).toBeDisabled()
    await restore.getByLabel(/^Serial of the target/).fill('lt-4711')
    await restore.getByRole('button', { name: /^Done/ }).click()
    await expect(restore).toContainText('done by Maren Holm')
    await press(page, 'Cut over')
    await state(page, 'cut over')
    const fixes = page.getByRole('listitem', { name: /Before it boots/ })
    await expect(fixes).toContainText('Boot loader or boot entry')
    await fixes.getByRole('button', { name: /^Done/ }).click()
    await expect(page.getByRole('listitem', { name: /Extend the partition/ }).first()).toContainText('seen of 1 TiB')
    await press(page, 'Verified')
    await state(page, 'verified')
    expect((await recordsOf(demo)).find('guest', laptop)?.name).toBe('mail')
  },
)

test('a move is rolled back after its cut-over: the record is as before, and what is lost is said', async ({ demo, page }) => {
  await migrateTo(demo, page, 'intranet', 'gannet')
  await page.getByLabel('Size of disk 2').fill('232 GiB')
  await method(page, 'cold copy')
  await press(page, /^Begin migration/)
  await page.getByRole('heading', { level: 1, name: 'intranet to gannet', exact: true }).waitFor()
  await settleChecks(demo, page)
  await press(page, /^Record intranet as stopped/)
  await press(page, 'Start copying')
  await state(page, 'copying')
  await press(page, 'Cut over')
  await state(page, 'cut over')
  const extend = page.getByRole('listitem', { name: /Extend the partition/ })
  await expect(extend).toContainText('200 GiB seen of 232 GiB')
  await extend.getByRole('button', { name: /^Done/ }).click()
  await expect(extend).toContainText('done by Maren Holm')
  await press(page, 'Roll back…')
  await expect(page.getByText('Everything written to the target since the cut-over')).toBeVisible()
  await page.getByLabel('Why', { exact: true }).fill('Its calendar lost a day.')
  await press(page, 'Roll back')
  await expect(page.getByText(/^Rolled back/)).toBeVisible()
  const estate = await recordsOf(demo)
  const intranet = estate.byKey('guest', { name: 'intranet' })[0]
  expect(estate.find('host', intranet?.hostId)?.name).toBe('fulmar')
  expect(estate.referring('disk', 'guestId', intranet?.id ?? '').map(({ sizeBytes }) => sizeBytes)).toEqual([60 * GiB, 200 * GiB])
})

test('a move is cancelled, and tried again by another method from the stand-in’s readings: one history', async ({ demo, page }) => {
  await migrateTo(demo, page, 'dns-1', 'gannet')
  await method(page, 'live')
  await press(page, /^Begin migration/)
  await page.getByRole('heading', { level: 1, name: 'dns-1 to gannet', exact: true }).waitFor()
  await press(page, 'Cancel…')
  await page.getByLabel('Why', { exact: true }).fill('The processors were thought alike.')
  await press(page, 'Cancel')
  await expect(page.getByText('Cancelled', { exact: false }).first()).toBeVisible()
  await migrateTo(demo, page, 'dns-1', 'gannet')
  await expect(page.getByText('tried by live and cancelled')).toBeVisible()
  await method(page, 'cold copy')
  await press(page, /^Begin migration/)
  await expect(page.getByRole('heading', { name: 'Tried before', exact: true })).toBeVisible()
  await settleChecks(demo, page)
  await press(page, /^Record dns-1 as stopped/)
  await press(page, 'Start copying')
  const said = await (await fetch(`${demo.transfers}/transfers/new?bytes=5000000000&rate=40000000&setup=5&speed=40`)).text()
  await page.getByText('Ask an address').click()
  await page.getByLabel('Address', { exact: true }).fill(/http:\S+\/transfers\/\d+/.exec(said)?.[0] ?? '')
  await press(page, 'Ask it every 5 s')
  await expect(page.getByText(/\d+ %/).first()).toBeVisible()
  await expect(page.getByText(/readings?$/).first()).toBeVisible()
})

test(
  'two moves at once over one link, on a phone: each says its share, and both are on one page',
  { tag: LONG },
  async ({ demo, page }) => {
    await page.setViewportSize({ width: 390, height: 844 })
    // auk is being copied to fulmar, too.
    const policy = (await recordsOf(demo)).all('policy')[0]?.id ?? ''
    await demo.send([{ type: 'policy.update', id: policy, changes: { transfersPerHost: 4 } }])
    for (const guest of ['weather-desk', 'playout-1']) {
      await migrateTo(demo, page, guest, 'fulmar')
      await method(page, 'cold copy')
      if (guest === 'playout-1') await expect(page.getByText(/links and stores, shared fairly with 2 other transfers/)).toBeVisible()
      await press(page, /^Begin migration/)
      await page.getByRole('heading', { level: 1, name: `${guest} to fulmar` }).waitFor()
      await settleChecks(demo, page)
      await press(page, new RegExp(`^Record ${guest} as stopped`))
      await press(page, 'Start copying')
      await state(page, 'copying')
      await page.getByLabel('How far it is now').fill('20 %')
      await press(page, 'Add reading')
      await expect(page.getByText('1 reading taken.')).toBeVisible()
    }
    await demo.visit('migrations')
    for (const guest of ['weather-desk', 'playout-1']) await expect(page.getByRole('link', { name: `${guest} to fulmar` })).toBeVisible()
    const wide = await page.evaluate(() => document.documentElement.scrollWidth)
    expect(wide).toBeLessThanOrEqual(390)
    expect((await recordsOf(demo)).all('step').some(({ step }) => step === checkStep('backup'))).toBe(true)
  },
)
