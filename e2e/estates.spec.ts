import { expect, test } from './insel.js'

test('an estate from its name to its end: renamed, opened again as the last one, archived, taken out, removed', async ({ empty }) => {
  const { page } = empty
  const name = 'Bare Rock, north'
  await empty.go('setup')
  await page.getByRole('link', { name: 'Rename or change' }).click()
  await page.getByLabel('Name', { exact: true }).fill(name)
  await page.getByRole('button', { name: /^Save changes/ }).click()
  await expect(page.getByRole('button', { name, exact: true })).toBeVisible()

  // The way in leads to the estate that was looked at last.
  const way = new URL(page.url())
  await page.goto(way.origin)
  await expect(page).toHaveURL(new RegExp(`/estates/${empty.id}/board`))

  await empty.go('setup')
  await page.getByRole('button', { name: 'Archive', exact: true }).click()
  await expect(page.getByText('This estate is archived: it can be read, and nothing in it is changed.')).toBeVisible()
  await page.goto(`${way.origin}/estates`)
  await expect(page.getByRole('heading', { name: /^Archived, / })).toBeVisible()
  await page
    .getByRole('listitem')
    .filter({ hasText: `${name} shown last` })
    .filter({ hasText: 'archived' })
    .getByRole('link', { name: 'Setup' })
    .click()
  await page.getByRole('button', { name: 'Take it out of the archive' }).click()
  await expect(page.getByRole('button', { name: 'Archive', exact: true })).toBeVisible()

  await page.getByRole('button', { name: 'Remove the estate…' }).click()
  await page.getByLabel('Its name, to remove it').fill(name)
  await page.getByRole('button', { name: 'Remove the estate', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Estates', exact: true })).toBeVisible()
  await expect(page.getByText(name)).toHaveCount(0)
})

test('from one estate to another and back, what is worked out is of the one that is shown', async ({ demo, empty }) => {
  const { page } = demo
  /** As a link does, without reading the program again. */
  const follow = (id: string) =>
    page.evaluate((href) => {
      history.pushState(null, '', href)
      dispatchEvent(new PopStateEvent('popstate'))
    }, `/estates/${id}/findings`)
  const errors = page.getByText(/^[1-9]\d* errors,/)
  await demo.go('findings')
  await expect(errors).toBeVisible()
  const said = /^\d+ errors/.exec((await errors.textContent()) ?? '')?.[0] ?? ''
  for (const name of ['first-more', 'second-more']) {
    await follow(empty.id)
    await expect(page.getByRole('button', { name: 'Bare Rock', exact: true })).toBeVisible()
    await expect(page.getByText(/checked every record and found nothing/)).toBeVisible()
    await follow(demo.id)
    await expect(page.getByRole('button', { name: 'Skerry Sound', exact: true })).toBeVisible()
    await expect(errors).toContainText(said)
    // At another revision it is worked out again.
    await demo.send([{ type: 'guest.add', record: { name, vcpu: 1, memoryMiB: 512 } }])
    await follow(empty.id)
    await follow(demo.id)
    await expect(page.getByRole('link', { name: /^Findings \d/ })).toBeVisible()
    await expect(errors).toContainText(said)
  }
})
