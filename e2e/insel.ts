import { test as base, expect, type Page } from '@playwright/test'
import type { Command, Kind } from '@insel/core'
import { createEstate, loadDemo, sendCommands } from '../scripts/demo/load.js'
import { openWorkbench, type Workbench } from '../scripts/workbench.js'

/** What a journey stands on: a server of this worker's own, and helpers to look behind the page. */
interface Fixtures {
  /** A fresh demo estate, opened as Maren Holm. */
  readonly demo: Estate
  /** A fresh, empty estate, opened as Ola Berg. */
  readonly empty: Estate
}
export interface Estate {
  readonly page: Page
  readonly id: string
  readonly server: string
  /** Where the stand-in for a management controller answers. */
  readonly controller: string
  go(path: string): Promise<void>
  /** Records of a kind, as the API lists them. */
  list(collection: string): Promise<Record<string, unknown>[]>
  idOf(kind: Kind, name: string): Promise<string>
  send(commands: readonly Command[]): Promise<void>
}

const plural: Partial<Record<Kind, string>> = {
  image: 'images',
  host: 'hosts',
  guest: 'guests',
  network: 'networks',
  store: 'stores',
  person: 'people',
  platform: 'platforms',
}

function estateOn(page: Page, { url: server, controllerUrl }: Workbench, id: string, personId: string): Estate {
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
    list,
    async go(path) {
      await page.goto(`${server}/estates/${id}/${path}`)
    },
    async idOf(kind, name) {
      const found = (await list(plural[kind] ?? kind)).find((record) => record['name'] === name)
      if (!found) throw new Error(`no ${kind} ${name}`)
      return String(found['id'])
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

export const test = base.extend<Fixtures, { workbench: Workbench }>({
  workbench: [
    // eslint-disable-next-line no-empty-pattern -- Playwright reads the pattern to know what a fixture needs
    async ({}, use, info) => {
      const workbench = await openWorkbench(`e2e-${info.workerIndex}`)
      await use(workbench)
      await workbench.stop()
    },
    { scope: 'worker', timeout: 60_000 },
  ],
  demo: async ({ page, workbench }, use) => {
    const id = await loadDemo(workbench.url)
    const estate = estateOn(page, workbench, id, '')
    const person = await estate.idOf('person', 'Maren Holm')
    await remember(page, id, person)
    await use(estateOn(page, workbench, id, person))
  },
  empty: async ({ page, workbench }, use) => {
    const { id, personId } = await createEstate(workbench.url, { name: 'Bare Rock', recordedAs: 'Ola Berg', timeZone: 'UTC' })
    await remember(page, id, personId)
    await use(estateOn(page, workbench, id, personId))
  },
})
export { expect }
