import { axeFinds } from './axe.js'
import { expect, test } from './insel.js'

test('dialogs pass axe and give the focus back', async ({ demo }) => {
  const { page } = demo
  await demo.go('board')
  await page.getByRole('region', { name: /^gannet/ }).waitFor()
  for (const key of ['?', 'Control+k']) {
    await page.keyboard.press(key)
    await page.getByRole('dialog').waitFor()
    expect(await axeFinds(page, key, { within: '[role=dialog]' })).toEqual([])
    await page.keyboard.press('Escape')
    await expect(page.getByRole('dialog')).toBeHidden()
  }
})

test('long names stay inside the page', async ({ demo }) => {
  const { page } = demo
  const long = `a${'very-'.repeat(11)}long`
  await demo.send([
    {
      type: 'host.update',
      id: await demo.idOf('host', 'gannet'),
      changes: { name: long, site: 'the-outermost-mast-of-the-northern-archipelago' },
    },
    {
      type: 'guest.update',
      id: await demo.idOf('guest', 'vault'),
      changes: { name: `${long}-2`, purpose: 'keeping every night of every machine', note: 'x'.repeat(400) },
    },
    { type: 'network.update', id: await demo.idOf('network', 'office'), changes: { name: `${long}-3` } },
  ])
  const vault = `guests/${await demo.idOf('guest', `${long}-2`)}`
  const host = `hosts/${await demo.idOf('host', long)}`
  const hostPages = ['', '/hardware', '/drives', '/ports', '/build', '/found'].map((page) => host + page)
  for (const view of [
    'board',
    'hosts',
    ...hostPages,
    'hosts/capacity',
    'hosts/releases',
    'guests',
    'guests/order',
    'guests/stores',
    'guests/images',
    'guests/exchange',
    'networks',
    'networks/carried',
    'networks/reach?groups=role',
    'networks/plan',
    'networks/names',
    'networks/macs',
    'findings',
    'logbook',
    ...['', '/install', '/observed'].map((page) => `${vault}${page}`),
  ]) {
    await page.setViewportSize({ width: 1280, height: 800 })
    await demo.visit(view)
    for (const width of [1280, 390]) {
      await page.setViewportSize({ width, height: 800 })
      // What is drawn to scale follows the screen with the next picture.
      await expect
        .poll(() => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth), {
          message: `${view} at ${width}`,
        })
        .toBeLessThanOrEqual(0)
    }
  }
})
