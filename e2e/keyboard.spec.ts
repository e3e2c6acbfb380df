import jsQR from 'jsqr'
import { PNG } from 'pngjs'
import type { Page } from '@playwright/test'
import { expect, test } from './insel.js'
import { LONG } from './tier.js'

/** The package gives the function itself where its types say a module. */
const readCode = jsQR as unknown as typeof jsQR.default

/** What has the focus, as one hears it; nothing when nobody has it. */
const focused = (page: Page) =>
  page.evaluate(() => {
    const active = document.activeElement
    if (!active || active === document.body) return 'nothing'
    return active.id === 'page' ? 'the page' : (active.getAttribute('aria-label') ?? active.textContent).trim()
  })

/** Whether what has the focus shows it. */
const isFocusSeen = (page: Page) =>
  page.evaluate(() => {
    const { outlineStyle, outlineWidth } = getComputedStyle(document.activeElement ?? document.body)
    return outlineStyle !== 'none' && parseFloat(outlineWidth) >= 2
  })

test('a guest is added, changed and left again without a mouse, and the focus is never lost', async ({ demo }) => {
  const { page } = demo
  await demo.go('guests')
  await page.getByRole('heading', { name: 'Guests', level: 1, exact: true }).waitFor()
  await page.keyboard.press('n')
  await page.getByLabel('The guest in a line').waitFor()
  await page.getByLabel('The guest in a line').focus()
  await page.keyboard.type('by-hand-1 2cpu 4G 40G on gannet net office')
  await page.keyboard.press('Control+Enter')
  await page.getByRole('heading', { name: 'by-hand-1', level: 1, exact: true }).waitFor()

  // Its address is released: the button goes, the focus stays in its part of the page.
  const release = page.getByRole('button', { name: /^Release 10\.61\.40/ })
  await release.focus()
  expect(await isFocusSeen(page)).toBe(true)
  await page.keyboard.press('Enter')
  await expect(release).toBeHidden()
  await expect.poll(() => focused(page)).not.toBe('nothing')
  expect(await focused(page)).toMatch(/Address for adapter 1|Assign|office|#1/)

  // Undone by its key, and the next page by two.
  await page.keyboard.press('Escape')
  await page.getByRole('heading', { name: 'by-hand-1', level: 1, exact: true }).click()
  await page.keyboard.press('u')
  await expect(release).toBeVisible()
  await page.keyboard.press('g')
  await page.keyboard.press('f')
  await expect(page.getByRole('heading', { name: 'Findings', level: 1, exact: true })).toBeVisible()
})

test('a link followed by key leads into the page it opens', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await demo.go('hosts')
  await page.getByRole('link', { name: 'gannet', exact: true }).focus()
  await page.keyboard.press('ArrowDown')
  const next = await focused(page)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: next, level: 1, exact: true })).toBeVisible()
  await expect.poll(() => focused(page)).not.toBe('nothing')
})

test('the keys of the page are listed at “?”', async ({ demo }) => {
  const { page } = demo
  await demo.go(`networks/${await demo.idOf('network', 'office')}`)
  await page.getByRole('grid').first().waitFor()
  await page.keyboard.press('?')
  const keys = page.getByRole('dialog', { name: 'Keys' })
  await expect(keys.getByRole('heading', { name: 'On this page', exact: true })).toBeVisible()
  await expect(keys.getByText('Select a run of addresses')).toBeVisible()
})

test('on a wide screen the list stays beside the thing, arrows walk it and Escape closes the thing', { tag: LONG }, async ({ demo }) => {
  const { page } = demo
  await page.setViewportSize({ width: 1920, height: 1000 })
  await demo.go('guests?sort=-memory&filter=play')
  await page.getByRole('link', { name: 'playout-1', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'playout-1', level: 1, exact: true })).toBeVisible()
  const list = page.getByRole('table', { name: 'Guests' })
  await expect(list.getByRole('link', { name: 'playout-1' })).toHaveAttribute('aria-current', 'true')
  expect(page.url()).toContain('sort=-memory&filter=play')
  await page.keyboard.press('ArrowDown')
  await expect(page.getByRole('heading', { name: 'playout-2', level: 1, exact: true })).toBeVisible()
  // Its list still has the focus, in the row of what is shown.
  expect(await focused(page)).toBe('playout-2')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('heading', { name: 'playout-2', level: 1, exact: true })).toBeHidden()
  await expect(page.getByRole('heading', { name: 'Guests', level: 1, exact: true })).toBeVisible()
  expect(await focused(page)).toBe('playout-2')
  expect(page.url()).toContain('sort=-memory&filter=play')
})

test(
  'a list and a thing are printed whole, with what they are, as of which change, and a code that opens them',
  { tag: LONG },
  async ({ demo }) => {
    const { page } = demo
    await demo.go('guests')
    await page.getByRole('heading', { name: 'Guests', level: 1, exact: true }).waitFor()
    await page.setViewportSize({ width: 1280, height: 500 })
    await page.emulateMedia({ media: 'print' })
    const head = page.locator('[data-print-head]')
    await expect(head).toContainText('Skerry Sound')
    await expect(head).toContainText(/The record at change \d+/)
    const code = head.locator('svg')
    await expect(code.locator('title')).toHaveText('Opens Guests on a phone')
    // Larger than on paper: the screen has fewer dots. Read by a reader that is not the writer (ISO/IEC 18004).
    await code.evaluate((svg) => svg.setAttribute('style', 'width: 400px; height: 400px'))
    const { data, width, height } = PNG.sync.read(await code.screenshot())
    expect(readCode(new Uint8ClampedArray(data), width, height)?.data).toBe(page.url())
    await expect(page.getByRole('table', { name: 'Guests' }).locator('tbody tr')).toHaveCount((await demo.list('guests')).length)
    await expect(page.getByRole('button', { name: 'Columns' })).toBeHidden()
    await page.emulateMedia({ media: 'screen' })
    await expect(head).toBeHidden()
  },
)
