import { AxeBuilder } from '@axe-core/playwright'
import { expect, test } from './insel.js'

const views = [
  'board',
  'hosts',
  'hosts/new',
  'networks',
  'guests',
  'guests/new?line=playout-3%204cpu%208G%2040G%20on%20gannet%20net%20office',
  'clones',
  'migrations',
  'findings',
  'logbook',
  'setup',
  'records/network/new',
  'hosts?group=site&columns=name,level,circuit',
  'hosts/capacity',
  'hosts/releases',
]

/** Violations as lines that say where to look. */
const described = (violations: readonly { readonly id: string; readonly nodes: readonly { readonly html: string }[] }[], where: string) =>
  violations.map(
    ({ id, nodes }) =>
      `${where}: ${id} at ${nodes
        .map((node) => node.html.slice(0, 120))
        .slice(0, 3)
        .join(' | ')}`,
  )

for (const [theme, half] of [
  ['light', 0],
  ['light', 1],
  ['dark', 0],
  ['dark', 1],
] as const)
  test(`axe finds nothing on any view, ${theme}, ${half === 0 ? 'first' : 'second'} half`, async ({ demo }) => {
    test.setTimeout(240_000)
    const { page } = demo
    await page.emulateMedia({ colorScheme: theme, reducedMotion: 'reduce' })
    const guest = await demo.idOf('guest', 'sound-gate')
    const kittiwake = await demo.idOf('host', 'kittiwake')
    const more = [
      `guests/${guest}`,
      `guests/${guest}/clone`,
      `guests/${guest}/migrate`,
      `hosts/${await demo.idOf('host', 'puffin')}`,
      ...['hardware', 'drives', 'ports', 'build', 'found'].map((page) => `hosts/${kittiwake}/${page}`),
      `hosts/${await demo.idOf('host', 'gannet')}/drives`,
      `networks/${await demo.idOf('network', 'office')}`,
    ]
    for (const view of [...views, ...more].filter((_, index) => index % 2 === half)) {
      await demo.go(view)
      await expect(page.getByRole('heading', { level: 1 })).toBeAttached()
      await expect(page.locator('[role=status][aria-label^=Loading]')).toHaveCount(0)
      await expect(page.getByRole('link', { name: /^Findings/ })).toContainText(/\d/)
      // In the dark only the colours differ: the other rules have looked at the same page in the light.
      const axe = new AxeBuilder({ page })
      const { violations } = await (theme === 'dark' ? axe.withRules(['color-contrast']) : axe).analyze()
      expect(described(violations, view)).toEqual([])
    }
  })

test('dialogs pass axe and give the focus back', async ({ demo }) => {
  const { page } = demo
  await demo.go('board')
  await page.getByRole('region', { name: /^gannet/ }).waitFor()
  for (const key of ['?', 'Control+k']) {
    await page.keyboard.press(key)
    await page.getByRole('dialog').waitFor()
    expect(described((await new AxeBuilder({ page }).include('[role=dialog]').analyze()).violations, key)).toEqual([])
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
  const host = `hosts/${await demo.idOf('host', long)}`
  const hostPages = ['', '/hardware', '/drives', '/ports', '/build', '/found'].map((page) => host + page)
  for (const view of [
    'board',
    'hosts',
    ...hostPages,
    'hosts/capacity',
    'hosts/releases',
    'guests',
    'networks',
    'findings',
    'logbook',
    `guests/${await demo.idOf('guest', `${long}-2`)}`,
  ]) {
    await demo.go(view)
    await expect(page.getByRole('heading', { level: 1 })).toBeAttached()
    await expect(page.locator('[role=status][aria-label^=Loading]')).toHaveCount(0)
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth),
      view,
    ).toBeLessThanOrEqual(0)
  }
})
