import { test as base, expect, type Page } from '@playwright/test'
import type { Command, Kind } from '@insel/core'
import { createEstate, loadDemo, sendCommands } from '../workbench/demo/load.js'
import { newDatabaseOn, openWorkbench, type Workbench } from '../workbench/workbench.js'
import { clusterOfRun, TEMPLATE } from './global-setup.js'

/** What a journey runs on: a server of this worker's own, and helpers to look behind the page. */
interface Fixtures {
  /** A fresh demo estate, opened as Maren Holm: its records, in one change. */
  readonly demo: Estate
  /** The same with the changes that led to it, by those who made them. */
  readonly demoWithHistory: Estate
  /** A fresh, empty estate, opened as Ola Berg. */
  readonly empty: Estate
}
export interface Estate {
  readonly page: Page
  readonly id: string
  readonly server: string
  /** Where the stand-in for a management controller answers. */
  readonly controller: string
  /** Where the stand-in for a transfer answers. */
  readonly transfers: string
  go(path: string): Promise<void>
  /** Goes to a page as a link does, without reading the program again, and waits until all of it is there. */
  visit(path: string): Promise<void>
  /** Records of a kind, as the API lists them. */
  list(collection: string): Promise<Record<string, unknown>[]>
  idOf(kind: Kind, name: string): Promise<string>
  send(commands: readonly Command[]): Promise<void>
  /** The same estate on another page, opened by the same person. */
  on(page: Page): Promise<Estate>
}

/** A page of no guest. */
const NOWHERE = 'guests/01890000-0000-7000-8000-000000000000'

const plural: Partial<Record<Kind, string>> = {
  image: 'images',
  host: 'hosts',
  guest: 'guests',
  network: 'networks',
  store: 'stores',
  person: 'people',
  plan: 'plans',
  batch: 'batches',
  platform: 'platforms',
}

function estateOn(
  page: Page,
  { url: server, controllerUrl, transferUrl }: Pick<Workbench, 'url' | 'controllerUrl' | 'transferUrl'>,
  id: string,
  personId: string,
): Estate {
  const list = async (collection: string) =>
    (
      (await (await fetch(`${server}/api/v1/estates/${id}/${collection}${collection.includes('?') ? '&' : '?'}limit=1000`)).json()) as {
        items: Record<string, unknown>[]
      }
    ).items
  return {
    page,
    id,
    server,
    controller: controllerUrl,
    transfers: transferUrl,
    list,
    async go(path) {
      const wanted = `${server}/estates/${id}/${path}`
      try {
        await page.goto(wanted)
      } catch (error) {
        // Where the page itself was about to go elsewhere, the browser gives one of the two up.
        if (!(error instanceof Error) || !error.message.includes('ERR_ABORTED')) throw error
        await page.goto(wanted)
      }
    },
    async visit(path) {
      const follow = (to: string) =>
        page.evaluate((href) => {
          history.pushState(null, '', href)
          dispatchEvent(new PopStateEvent('popstate'))
        }, `/estates/${id}/${to}`)
      const heading = page.getByRole('heading', { level: 1 })
      const gone = page.getByRole('heading', { level: 1, name: 'There is no such guest', exact: true })
      if (!page.url().startsWith(`${server}/estates/${id}/`)) await page.goto(`${server}/estates/${id}/${NOWHERE}`)
      // By way of a page that is not there: nothing of the page before is taken for the next one.
      else await follow(NOWHERE)
      await gone.waitFor({ state: 'attached' })
      await follow(path)
      await gone.waitFor({ state: 'detached' })
      await heading.waitFor({ state: 'attached' })
      await expect(page.locator('[role=status][aria-label^=Loading]')).toHaveCount(0)
    },
    async idOf(kind, name) {
      // A move has no name: it is called by the machine that is moved.
      if (kind === 'migration') {
        const guest = (await list('guests')).find((record) => record['name'] === name)
        const move = (await list('migrations')).findLast((record) => record['guestId'] === guest?.['id'])
        if (!move) throw new Error(`no migration of ${name}`)
        return String(move['id'])
      }
      const found = (await list(plural[kind] ?? kind)).find((record) => record['name'] === name)
      if (!found) throw new Error(`no ${kind} ${name}`)
      return String(found['id'])
    },
    async on(other) {
      await remember(other, id, personId)
      return estateOn(other, { url: server, controllerUrl, transferUrl }, id, personId)
    },
    async send(commands) {
      await sendCommands(server, id, personId, commands)
    },
  }
}

export const remember = (page: Page, estateId: string, personId: string) =>
  page.addInitScript(
    ([estate, person]) => localStorage.setItem(`insel.person.${estate ?? ''}`, JSON.stringify(person)),
    [estateId, personId],
  )

/** The demo as a file: read in, it is there in a tenth of the time that its story takes. */
async function demoFile(server: string): Promise<string> {
  const [demo] = (await (await fetch(`${server}/api/v1/estates`)).json()) as { id: string }[]
  return (await fetch(`${server}/api/v1/estates/${demo?.id ?? ''}/exports/estate.json`)).text()
}

async function importEstate(server: string, file: string): Promise<string> {
  const response = await fetch(`${server}/api/v1/estates/import`, {
    method: 'POST',
    headers: { 'content-type': 'application/vnd.insel.estate+json' },
    body: file,
  })
  if (!response.ok) throw new Error(`the demo was not read in: ${response.status} ${await response.text()}`)
  return ((await response.json()) as { id: string }).id
}

async function openedBy(page: Page, workbench: Workbench, id: string, name: string): Promise<Estate> {
  const person = await estateOn(page, workbench, id, '').idOf('person', name)
  await remember(page, id, person)
  return estateOn(page, workbench, id, person)
}

export const test = base.extend<Fixtures, { workbench: Workbench; file: string }>({
  file: [async ({ workbench }, use) => use(await demoFile(workbench.url)), { scope: 'worker', timeout: 60_000 }],
  workbench: [
    // oxlint-disable-next-line no-empty-pattern -- Playwright reads the pattern to know what a fixture needs
    async ({}, use, info) => {
      const database = await newDatabaseOn(clusterOfRun(), `worker_${info.workerIndex}`, TEMPLATE)
      const workbench = await openWorkbench(`e2e-${info.workerIndex}`, database)
      await use(workbench)
      await workbench.stop()
    },
    { scope: 'worker', timeout: 60_000 },
  ],
  demo: async ({ page, workbench, file }, use) =>
    use(await openedBy(page, workbench, await importEstate(workbench.url, file), 'Maren Holm')),
  demoWithHistory: async ({ page, workbench }, use) => use(await openedBy(page, workbench, await loadDemo(workbench.url), 'Maren Holm')),
  empty: async ({ page, workbench }, use) => {
    const { id, personId } = await createEstate(workbench.url, { name: 'Bare Rock', recordedAs: 'Ola Berg', timeZone: 'UTC' })
    await remember(page, id, personId)
    await use(estateOn(page, workbench, id, personId))
  },
})
export { expect }
