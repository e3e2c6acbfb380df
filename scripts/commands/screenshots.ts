import { chromium as browserType, type Page } from '@playwright/test'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import type { ListPage } from '@insel/contract'
import { browserArguments } from '../browser.js'
import type { PictureName } from '../../apps/web/src/lib/place-views.js'
import { build } from '../build.js'
import { loadDemo, loadObservations, loadReadings } from '../../workbench/demo/load.js'
import { chromium, CHROMIUM, ensurePackages, postgresql } from '../packages.js'
import { root } from '../../workbench/places.js'
import { openWorkbench } from '../../workbench/workbench.js'

/** One picture: the page, and what is done on the page before it is taken. */
interface Shot {
  readonly path: (idOf: (name: string) => string) => string
  readonly theme?: 'dark'
  readonly act?: (page: Page) => Promise<void>
}

/** Takes a guest from its lane to another, lets go there, and puts that into a new plan. */
async function carry(page: Page, guest: string, host: string): Promise<void> {
  const from = await page.getByRole('button', { name: new RegExp(`^${guest},`) }).boundingBox()
  const to = await page.getByRole('region', { name: new RegExp(`^${host},`) }).boundingBox()
  if (!from || !to) throw new Error(`the board shows no ${guest} or no ${host}`)
  await page.mouse.move(from.x + 20, from.y + 10)
  await page.mouse.down()
  await page.mouse.move(from.x + 50, from.y + 30, { steps: 4 })
  await page.mouse.move(to.x + 480, to.y + 30, { steps: 8 })
  await page.getByRole('heading', { name: `${guest} to ${host}` }).waitFor()
  await page.mouse.up()
  await page.getByLabel('Plan it is added to').selectOption({ label: 'new plan' })
  await page.getByRole('button', { name: 'Add to plan' }).click()
}

/** How each picture that the list of places names is come by: one that is missing does not compile. */
const shots: { readonly [P in PictureName]: Shot } = {
  board: { path: () => 'board' },
  hosts: { path: () => 'hosts' },
  plan: { path: (id) => `plans/${id('Memory for puffin')}` },
  'plan-run': {
    path: (id) => `plans/${id('Memory for puffin')}/run`,
    act: (page) => page.getByRole('button', { name: /^Take first ?: Put the modules into puffin/ }).click(),
  },
  host: { path: (id) => `hosts/${id('puffin')}` },
  'host-build': { path: (id) => `hosts/${id('kittiwake')}/build` },
  capacity: { path: () => 'hosts/capacity', act: (page) => page.getByText(/could fail alone without a loss/).waitFor() },
  network: { path: (id) => `networks/${id('office')}?at=10.61.40.120` },
  'networks-reach': {
    path: () => 'networks/reach?from=newsroom&to=192.0.2.2&groups=role',
    act: (page) => page.getByText('Does not reach.').waitFor(),
  },
  guest: { path: (id) => `guests/${id('sound-gate')}` },
  'compose-guest': {
    path: () => 'guests/new',
    act: async (page) => {
      await page.getByLabel('The guest in a line').fill('till-desk 2cpu 4G 40G on fulmar net office steddy')
      await page.locator('#guest-systemId').click()
      await page.getByPlaceholder('Name, release or maker').fill('old desktop')
      await page.getByRole('option', { name: /Old desktop/ }).click()
      await page.getByLabel('What it is for', { exact: true }).selectOption('desktop')
      await page
        .getByText(/the installer sees no disk/)
        .first()
        .waitFor()
    },
  },
  clone: {
    path: (id) => `guests/${id('tpl-server-2027-01')}/clone`,
    act: async (page) => {
      await page.getByLabel('Names').fill('desk-{01..05}')
      await page.getByLabel('Addresses', { exact: true }).selectOption('next free, fixed')
      await page.getByLabel('Name of copy 5').waitFor()
    },
  },
  batch: { path: (id) => `clones/${id('Mail relays')}` },
  migrations: {
    path: () => 'migrations',
    act: (page) =>
      page
        .getByText(/%, ends/)
        .first()
        .waitFor(),
  },
  migration: {
    path: (id) => `migrations/${id('migration of auk')}`,
    act: (page) =>
      page
        .getByText(/reading/)
        .first()
        .waitFor(),
  },
  'guests-sizes': { path: () => 'guests/sizes', act: (page) => page.getByText(/^In all:/).waitFor() },
  findings: { path: () => 'findings' },
  logbook: { path: () => 'logbook' },
  // Last: it leaves a plan behind.
  'board-plan-dark': {
    path: () => 'board',
    theme: 'dark',
    act: async (page) => {
      await carry(page, 'transcode-2', 'kittiwake')
      await page.getByRole('complementary', { name: 'Plan' }).getByText('which is not attached to kittiwake').waitFor()
    },
  },
}

/** Makes the pictures of the main views from the demo estate. */
export async function screenshots(): Promise<number> {
  ensurePackages([postgresql, chromium])
  build()
  const folder = join(root, 'docs/screenshots')
  mkdirSync(folder, { recursive: true })
  const workbench = await openWorkbench('screenshots')
  try {
    const estateId = await loadDemo(workbench.url)
    await loadObservations(workbench.url, estateId)
    await loadReadings(workbench.url, estateId)
    const records = async (list: string) =>
      (
        (await (await fetch(`${workbench.url}/api/v1/estates/${estateId}/${list}?limit=1000`)).json()) as ListPage<{
          id: string
          name: string
        }>
      ).items
    const named = new Map(
      (await Promise.all(['hosts', 'guests', 'networks', 'stores', 'people', 'plans', 'batches'].map(records)))
        .flat()
        .map(({ id, name }) => [name, id]),
    )
    for (const { id, guestId } of (await records('migrations')) as unknown as { id: string; guestId: string }[]) {
      const guest = [...named].find(([, one]) => one === guestId)?.[0]
      if (guest) named.set(`migration of ${guest}`, id)
    }
    const idOf = (name: string) => {
      const id = named.get(name)
      if (!id) throw new Error(`the demo has nothing called ${name}`)
      return id
    }
    const browser = await browserType.launch({ executablePath: CHROMIUM, args: browserArguments })
    try {
      for (const [file, { path, theme, act }] of Object.entries<Shot>(shots)) {
        const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: theme ?? 'light', locale: 'en-GB' })
        await page.addInitScript(
          ([estate, person]) => localStorage.setItem(`insel.person.${estate ?? ''}`, JSON.stringify(person)),
          [estateId, idOf('Maren Holm')],
        )
        await page.goto(`${workbench.url}/estates/${estateId}/${path(idOf)}`)
        await page.getByRole('heading', { level: 1 }).first().waitFor({ state: 'attached' })
        await page
          .getByRole('link', { name: /^Findings/ })
          .filter({ hasText: /\d/ })
          .waitFor()
        await act?.(page)
        await page.screenshot({ path: join(folder, `${file}.png`), animations: 'disabled', caret: 'hide' })
        await page.close()
        process.stdout.write(`insel: docs/screenshots/${file}.png\n`)
      }
    } finally {
      await browser.close()
    }
  } finally {
    await workbench.stop()
  }
  return 0
}
