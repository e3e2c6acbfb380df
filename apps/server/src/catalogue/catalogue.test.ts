import { execFileSync } from 'node:child_process'
import type { CatalogueResponse } from '@insel/contract'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
beforeAll(async () => {
  server = await startServer()
})
afterAll(() => server.stop())

const find = async (query: string) => (await request(server.url).get(`/api/v1/catalogue/systems?${query}`)).body as CatalogueResponse

/** The dataset read by Python's own XML reader: for each system on a 64-bit PC, its least memory in bytes and storage. */
const independent = `
import json, glob, xml.etree.ElementTree as T
found = {}
for path in sorted(glob.glob('/usr/share/osinfo/os/**/*.xml', recursive=True)):
    for os in T.parse(path).getroot().findall('os'):
        short = os.findtext('short-id')
        entry = found.setdefault(os.get('id'), {'short': short, 'eol': None, 'lists': []})
        entry['eol'] = entry['eol'] or os.findtext('eol-date')
        entry['lists'] += os.findall('resources')
out = {}
for entry in found.values():
    least = None
    for arch in ('x86_64', 'all'):
        for r in entry['lists']:
            if r.get('arch') == arch and r.find('minimum') is not None and least is None: least = r.find('minimum')
    out[entry['short']] = [
        None if least is None or least.findtext('ram') is None else int(least.findtext('ram')),
        None if least is None or least.findtext('storage') is None else int(least.findtext('storage')),
        entry['eol']]
print(json.dumps(out))
`

describe('the catalogue of systems', () => {
  // Source: Debian osinfo-db, /usr/share/osinfo/os/**; compared with the dataset as Python's xml.etree reads it.
  it('says of every system what the dataset says', async () => {
    const { dataset, items, total } = await find('limit=1000')
    const other = JSON.parse(execFileSync('python3', ['-c', independent], { encoding: 'utf8', maxBuffer: 1 << 24 })) as Record<
      string,
      [number | null, number | null, string | null]
    >
    expect(dataset?.systems).toBe(Object.keys(other).length)
    expect(total).toBe(items.length)
    expect(items.length).toBeGreaterThan(700)
    for (const { shortId, values } of items)
      expect([shortId, values.minMemoryMiB, values.minStorageBytes, values.supportedUntil]).toEqual([
        shortId,
        other[shortId]?.[0] ? Math.ceil(other[shortId][0] / 2 ** 20) : null,
        other[shortId]?.[1] || null,
        other[shortId]?.[2] ?? null,
      ])
  })

  it('finds by any words, newest first, and says which dataset it is', async () => {
    const { items, dataset } = await find('q=debian%20bullseye')
    expect(items[0]).toMatchObject({ shortId: 'debian11', values: { minMemoryMiB: 1024, paravirtualDisk: 'built in' } })
    expect(dataset?.version).toMatch(/^\d{8}$/)
    expect((await find('q=no-such-system')).items).toEqual([])
    const { items: windows } = await find('q=win10')
    expect(windows[0]?.values).toMatchObject({ paravirtualDisk: 'with a driver image', paravirtualNet: 'with a driver image' })
    expect((await request(server.url).get('/api/v1/catalogue/systems?limit=x')).status).toBe(400)
  })

  it('a system is taken as a record of the estate', async () => {
    const { items } = await find('q=debian11')
    expect((await server.send([{ type: 'system.add', record: items[0]?.values }])).status).toBe(200)
    expect((await server.get('/systems')).body).toMatchObject({ total: 1, items: [{ datasetId: 'debian11' }] })
  })
})
