import { FIRST_VIEW_MAX, firstViewBytes } from '../scripts/first-view.js'
import type { Page } from '@playwright/test'
import { CHROMIUM } from '../scripts/packages.js'
import { axeFinds } from './axe.js'
import { expect, test } from './insel.js'
import { isLong, LONG } from './tier.js'
import { browserArguments } from '../scripts/browser.js'
import { viewsOf } from './views.js'

/** A desk at 400 % zoom, a phone, a tablet, the desk this is drawn for, a wide screen; height as such screens have it. */
const screens = [
  { width: 320, height: 640 },
  { width: 390, height: 844 },
  { width: 768, height: 1024 },
  { width: 1280, height: 800 },
  { width: 2560, height: 1300 },
] as const
const desk = screens[3]

/** WCAG 2.2, 2.5.8 Target Size (Minimum): 24 by 24 CSS pixels; a link in a sentence and a drawing to scale are its exceptions. */
const TARGET_PX = 24

/** The faults of a page that are still there when what is drawn to scale has followed the size of the screen. */
async function faultsThatStay(page: Page, where: string): Promise<readonly string[]> {
  const found = await faults(page, where)
  if (found.length === 0) return found
  await page.evaluate(async () => {
    for (let frame = 0; frame < 3; frame++) await new Promise(requestAnimationFrame)
  })
  return faults(page, where)
}

/**
 * What is wrong with the page at the size it has now, as lines that name the element: it is wider than the screen, a target is
 * too small, something is on a control.
 */
const faults = (page: Page, where: string): Promise<readonly string[]> =>
  page.evaluate(
    ({ where, least }) => {
      const found: string[] = []
      const root = document.documentElement
      const named = (element: Element) =>
        `<${element.tagName.toLowerCase()}> “${(element.getAttribute('aria-label') ?? element.textContent).trim().slice(0, 40)}” (${(element.getAttribute('class') ?? '').slice(0, 50)})`
      const scrolls = (element: Element | null): boolean =>
        element !== null && element !== root && element !== document.body
          ? /auto|scroll|hidden|clip/.test(getComputedStyle(element).overflowX) || scrolls(element.parentElement)
          : false
      if (root.scrollWidth > root.clientWidth) {
        const wide = [...document.querySelectorAll('body *')].filter(
          (element) => element.getBoundingClientRect().right > root.clientWidth + 1 && !scrolls(element.parentElement),
        )
        found.push(`${where}: ${root.scrollWidth - root.clientWidth} px too wide, by ${wide.slice(0, 3).map(named).join(', ')}`)
      }
      const controls = [
        ...document.querySelectorAll<HTMLElement>(
          'a[href], button, input:not([type=hidden]), select, textarea, summary, [role=button], [role=link]',
        ),
      ].filter((element) => element.checkVisibility({ visibilityProperty: true, opacityProperty: true }) && !element.closest('.sr-only'))
      for (const control of controls) {
        const { width, height, left, top } = (control.closest('label') ?? control).getBoundingClientRect()
        if (width === 0 || height === 0) continue
        const isInSentence =
          getComputedStyle(control).display === 'inline' &&
          (control.parentElement?.textContent.trim().length ?? 0) > control.textContent.trim().length
        const isToScale = control.closest('[data-to-scale]') !== null
        if (!isInSentence && !isToScale && (width < least - 0.5 || height < least - 0.5))
          found.push(`${where}: a target of ${Math.round(width)} x ${Math.round(height)}: ${named(control)}`)
        const [x, y] = [left + width / 2, top + height / 2]
        if (x < 0 || y < 0 || x > innerWidth || y > innerHeight || (control as HTMLButtonElement).disabled) continue
        const on = document.elementFromPoint(x, y)
        const isSame = on && (control.contains(on) || on.contains(control) || on.closest('label')?.contains(control))
        // What scrolls inside itself, and what is under a bar that stays, is reached by scrolling.
        if (on && !isSame && !scrolls(control.parentElement) && !on.closest('header'))
          found.push(`${where}: ${named(on)} lies on ${named(control)}`)
      }
      return found
    },
    { where, least: TARGET_PX },
  )

/** In the long run every view is looked at by axe on every screen, by day and by night; else once, on one of them. */
const themes = ['light', 'dark'] as const

for (const half of [0, 1])
  test(`every place fits every screen, and axe finds nothing, ${half === 0 ? 'first' : 'second'} half`, async ({ demo }) => {
    test.setTimeout(isLong ? 900_000 : 240_000)
    const { page } = demo
    const found: string[] = []
    for (const [index, view] of (await viewsOf(demo)).entries()) {
      if (index % 2 !== half) continue
      await page.setViewportSize(desk)
      await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' })
      await demo.visit(view)
      for (const [at, screen] of screens.entries()) {
        await page.setViewportSize(screen)
        found.push(...(await faultsThatStay(page, `${view} at ${screen.width}`)))
        for (const [night, theme] of themes.entries()) {
          if (!isLong && (at !== (index >> 1) % screens.length || night !== (index >> 1) % 2)) continue
          await page.emulateMedia({ colorScheme: theme, reducedMotion: 'reduce' })
          await expect(page.locator(`[data-theme=${theme}]`)).toHaveCount(1)
          found.push(...(await axeFinds(page, `${view} at ${screen.width}, ${theme}`)))
        }
      }
    }
    expect(found).toEqual([])
  })

test('every place fits at twice the text size', { tag: LONG }, async ({ demo, playwright }) => {
  test.setTimeout(240_000)
  const browser = await playwright.chromium.launch({
    executablePath: CHROMIUM,
    args: [...browserArguments, '--blink-settings=defaultFontSize=32'],
  })
  const context = await browser.newContext({ viewport: desk, reducedMotion: 'reduce' })
  const page = await context.newPage()
  const large = await demo.on(page)
  const found: string[] = []
  for (const view of await viewsOf(demo)) {
    await large.visit(view)
    // Twice the 14 px that text has at a browser's usual 16.
    expect(await page.evaluate(() => getComputedStyle(document.body).fontSize)).toBe('28px')
    found.push(...(await faultsThatStay(page, `${view} at twice the text size`)))
  }
  await browser.close()
  expect(found).toEqual([])
})

test('on a phone: by the menu to a guest, a change and its undoing, with nothing in the way', async ({ demo }) => {
  const { page } = demo
  await page.setViewportSize(screens[1])
  await demo.go('board')
  await page.getByRole('region', { name: /^gannet/ }).waitFor()
  await page.getByRole('button', { name: /^Menu/ }).click()
  await page.getByRole('menuitem', { name: 'Guests' }).click()
  await page.getByLabel('Filter guests').fill('vault')
  await page.getByRole('link', { name: 'vault', exact: true }).click()
  await page.getByRole('button', { name: 'Record as stopped' }).click()
  await expect(page.locator('[data-message-line]')).toContainText('vault')
  expect(await faultsThatStay(page, 'a guest with a message')).toEqual([])
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('button', { name: 'Record as stopped' })).toBeVisible()
})

test('the program of the first view is within its budget', () => {
  expect(firstViewBytes()).toBeLessThanOrEqual(FIRST_VIEW_MAX)
})
