import { chromium } from '@playwright/test'
import { openWorkbench } from '../workbench.js'
import { loadDemo, loadObservations } from '../demo/load.js'
import { browserArguments } from '../../e2e/playwright.config.js'
import { CHROMIUM } from '../packages.js'
const w = await openWorkbench('look')
const id = await loadDemo(w.url)
await loadObservations(w.url, id)
const list = async (c: string) => (await (await fetch(`${w.url}/api/v1/estates/${id}/${c}${c.includes('?')?'&':'?'}limit=1000`)).json()).items as any[]
const idOf = async (c: string, name: string) => (await list(c)).find((r) => r.name === name).id as string
const person = await idOf('people', 'Maren Holm')
const tove = await idOf('people', 'Tove Lind')
const browser = await chromium.launch({ executablePath: CHROMIUM, args: browserArguments })
const open = async (who: string, dark = false) => {
  const c = await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: dark ? 'dark' : 'light', locale: 'en-GB' })
  const p = await c.newPage()
  await p.addInitScript(([e, q]) => localStorage.setItem(`insel.person.${e}`, JSON.stringify(q)), [id, who])
  return p
}
export { w, id, list, idOf, person, tove, browser, open }
export const go = (p: any, path: string) => p.goto(`${w.url}/estates/${id}/${path}`)
export const done = async () => { await browser.close(); await w.stop() }
