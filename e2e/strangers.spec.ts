import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { chromium, type Browser, type Page } from '@playwright/test'
import { CHROMIUM } from '../scripts/packages.js'
import { expect, test } from './insel.js'
import { browserArguments } from '../scripts/browser.js'

/** A page of somebody else's, on another name and port. */
async function elsewhere(): Promise<{ readonly port: number; readonly server: Server }> {
  const server = createServer((_, response) => {
    response.setHeader('content-type', 'text/html').end('<!doctype html><title>elsewhere</title><h1>A page elsewhere</h1>')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return { port: (server.address() as AddressInfo).port, server }
}

/** A browser in which two names of others lead to this machine, as a name server of theirs can make them. */
const misledBrowser = (): Promise<Browser> =>
  chromium.launch({
    executablePath: CHROMIUM,
    args: [...browserArguments, '--host-resolver-rules=MAP rebind.example 127.0.0.1, MAP elsewhere.example 127.0.0.1'],
  })

/** What a page can try on a server of another origin; each way says what came of it. */
const attempt = (page: Page, server: string, estateId: string) =>
  page.evaluate(
    async ([base, id]) => {
      const body = JSON.stringify({ name: 'Foreign', recordedAs: 'Nobody', timeZone: 'UTC' })
      const file = JSON.stringify({ format: 'insel-estate', version: 1, records: { estate: [] } })
      const tried: Record<string, string> = {}
      const ask = async (name: string, path: string, init: RequestInit) => {
        try {
          const answer = await fetch(`${base}${path}`, init)
          tried[name] = answer.type === 'opaque' ? 'opaque' : `${answer.status} ${(await answer.text()).slice(0, 200)}`
        } catch (error) {
          tried[name] = `refused: ${String(error)}`
        }
      }
      await ask('read', `/api/v1/estates/${id}/records`, {})
      await ask('read without asking', `/api/v1/estates/${id}/records`, { mode: 'no-cors' })
      await ask('make as text', '/api/v1/estates', { method: 'POST', body, mode: 'no-cors' })
      await ask('make as json', '/api/v1/estates', { method: 'POST', body, headers: { 'content-type': 'application/json' } })
      await ask('import as text', '/api/v1/estates/import', { method: 'POST', body: file, mode: 'no-cors' })
      await ask('import as form', '/api/v1/estates/import', { method: 'POST', body: new URLSearchParams({ file }), mode: 'no-cors' })
      await ask('beacon', '/api/v1/estates/import', { method: 'POST', body: new Blob([file]), mode: 'no-cors', keepalive: true })
      tried['events'] = await new Promise((resolve) => {
        const source = new EventSource(`${base}/api/v1/estates/${id}/events`)
        source.onopen = () => resolve('open')
        source.onerror = () => {
          source.close()
          resolve('refused')
        }
      })
      // A form that is sent leaves the page; into a frame it does not.
      const frame = document.createElement('iframe')
      frame.name = 'target'
      const form = document.createElement('form')
      Object.assign(form, { method: 'post', enctype: 'text/plain', action: `${base}/api/v1/estates/import`, target: 'target' })
      const field = document.createElement('input')
      Object.assign(field, { name: file.slice(0, -1), value: '}' })
      form.append(field)
      document.body.append(frame, form)
      const sent = new Promise((resolve) => frame.addEventListener('load', resolve, { once: true }))
      form.submit()
      await Promise.race([sent, new Promise((resolve) => setTimeout(resolve, 3000))])
      return tried
    },
    [server, estateId] as const,
  )

test('a page elsewhere reads nothing and changes nothing', async ({ demo }) => {
  const { port, server } = await elsewhere()
  const browser = await misledBrowser()
  try {
    const before = (await (await fetch(`${demo.server}/api/v1/estates`)).json()) as unknown[]
    // Of another site, and of another port of this one.
    for (const address of [`http://elsewhere.example:${port}/`, `http://127.0.0.1:${port}/`]) {
      const page = await browser.newPage()
      await page.goto(address)
      const tried = await attempt(page, demo.server, demo.id)
      expect(tried['read']).toMatch(/^refused/)
      expect(tried['make as json']).toMatch(/^refused/)
      expect(tried['events']).toBe('refused')
      // What is opaque to the page was refused by the server, too: see below.
      expect(JSON.stringify(tried)).not.toContain('Skerry')
      expect(await (await fetch(`${demo.server}/api/v1/estates`)).json()).toEqual(before)
      await page.close()
    }
  } finally {
    await browser.close()
    server.close()
  }
})

test('a name that somebody else points at this machine is not answered', async ({ demo }) => {
  const browser = await misledBrowser()
  try {
    const page = await browser.newPage()
    const address = demo.server.replace('127.0.0.1', 'rebind.example')
    const answer = await page.goto(address)
    expect(answer?.status()).toBe(421)
    await expect(page.locator('body')).toContainText('is not known as')
    // From its own page everything is of one origin to the browser, so that only the name gives it away.
    const statuses = await page.evaluate(
      async (id) =>
        Promise.all(['/api/v1/estates', `/api/v1/estates/${id}/records`, '/healthz'].map(async (path) => (await fetch(path)).status)),
      demo.id,
    )
    expect(statuses).toEqual([421, 421, 421])
    // Its own name is answered in the same browser.
    expect((await page.goto(demo.server))?.status()).toBe(200)
  } finally {
    await browser.close()
  }
})

test('a server that is open to the network says so on every page', async ({ demo }) => {
  const { page } = demo
  const banner = page.getByRole('note').filter({ hasText: 'Everybody who reaches this server can read and change everything' })
  await demo.go('board')
  await expect(page.getByRole('link', { name: 'Board', exact: true })).toBeVisible()
  await expect(banner).toBeHidden()
  await page.route('**/api/v1/server', (route) => route.fulfill({ json: { isOpenToNetwork: true } }))
  for (const path of ['board', 'setup', 'no-such-page', 'hosts/new']) {
    await demo.go(path)
    await expect(banner).toBeVisible()
  }
  await page.goto(`${demo.server}/?new`)
  await expect(banner).toBeVisible()
})
