import { execFileSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { MacRegistryResponse, Problem } from '@insel/contract'
import type { Command, LookUp, NamesImport, PingAnswer, ReachAnswer } from '@insel/core'
import Papa from 'papaparse'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { skerrySound } from '../../../../workbench/demo/skerry-sound.js'
import { startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
const id = (name: string) => ids.get(name) ?? ''
const ids = new Map<string, string>()
beforeAll(async () => {
  server = await startServer()
  for (const { commands } of skerrySound(server.estateId, server.personId)) await server.send(commands)
  for (const kind of ['guests', 'hosts', 'networks']) {
    const { body } = await server.get(`/${kind}?limit=1000`)
    for (const { name, id: of } of (body as { items: { name: string; id: string }[] }).items) ids.set(name, of)
  }
})
afterAll(() => server.stop())
const ask = (path: string, body: object) => request(server.url).post(`/api/v1/estates/${server.estateId}/${path}`).send(body)

describe('who reaches whom, over HTTP', () => {
  it('answers with the path and the first place where it fails', async () => {
    const answer = (await ask('reachability', { from: id('playout-1'), to: id('playout-2') })).body as ReachAnswer
    expect([answer.reaches, answer.there.map(({ machine }) => machine.name)]).toEqual([true, ['playout-1', 'playout-2']])
    const none = (await ask('reachability', { from: id('office'), to: id('vault'), protocol: 'tcp', port: 22 })).body as ReachAnswer
    expect(none.failure?.mend.length).toBeGreaterThan(10)
  })
  it('pings and looks names up as a machine would', async () => {
    const ping = (await ask('reachability/ping', { from: id('newsroom'), target: 'files' })).body as PingAnswer
    expect(ping.outcome).toBe('reply')
    const found = (await ask('reachability/look-up', { from: id('newsroom'), name: 'nobody' })).body as LookUp
    expect(found.outcome).toBe('unknown name')
  })
  it.each<[path: string, body: object, status: number, path_: string]>([
    ['reachability', { from: 'nobody', to: '10.61.40.1' }, 422, 'from'],
    ['reachability', { to: '10.61.40.1' }, 400, 'from'],
    ['reachability', { from: 'outside', to: '10.61.40.1', protocol: 'tcp' }, 422, 'port'],
    ['reachability', { from: 'outside', to: '10.61.40.1', protocol: 'gre' }, 400, 'protocol'],
    ['reachability/ping', { from: 'outside', target: 'x', count: 3 }, 400, 'count'],
    ['imports', { kind: 'letters', text: '' }, 400, 'kind'],
  ])('%s with %o is refused with a sentence', async (path, body, status, field) => {
    const response = await ask(path, body)
    expect([response.status, (response.body as Problem).errors[0]?.path]).toEqual([status, field])
    expect((response.body as Problem).detail.length).toBeGreaterThan(15)
  })
})

describe('names out and in, over HTTP', () => {
  interface Zone {
    readonly name: string
    readonly serial: number
  }
  const zones = async () => (await server.get('/exports/zones')).body as Zone[]
  // BIND 9’s named-checkzone is the judge of the demo’s zones.
  it('every zone of the demo is accepted by named-checkzone', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'insel-zones-'))
    try {
      const all = await zones()
      expect(all.length).toBeGreaterThan(5)
      for (const { name, serial } of all) {
        writeFileSync(join(folder, 'zone'), (await server.get(`/exports/zones/${encodeURIComponent(name)}`)).text)
        const said = execFileSync('named-checkzone', ['-k', 'fail', '-M', 'fail', name, join(folder, 'zone')], { encoding: 'utf8' })
        expect(said).toContain(`loaded serial ${serial}`)
        expect(said).not.toContain('ignoring')
      }
    } finally {
      rmSync(folder, { recursive: true })
    }
  })
  it('the serial is of today and grows with a change', async () => {
    const [before] = await zones()
    expect(String(before?.serial).slice(0, 8)).toBe(new Date().toISOString().slice(0, 10).replaceAll('-', ''))
    await server.send([{ type: 'guest.update', id: id('newsroom'), changes: { note: 'moved to the back room' } }] as Command[])
    expect((await zones())[0]?.serial).toBeGreaterThan(before?.serial ?? 0)
  })
  it('the address plan, hosts lines and reservations are served; an unknown zone is told', async () => {
    const csv = await server.get('/exports/addresses.csv')
    expect(csv.headers['content-type']).toContain('text/csv')
    expect(Papa.parse<Record<string, string>>(csv.text, { header: true }).data.find(({ ip }) => ip === '10.61.10.11')).toMatchObject({
      network: 'mgmt',
      machine: 'host gannet',
    })
    expect((await server.get('/exports/hosts.txt')).text).toMatch(/10\.61\.10\.11\s+gannet\.skerry\.example gannet/)
    expect((await server.get('/exports/dhcp.json')).body).toHaveProperty('reservations')
    expect((await server.get('/exports/dhcp.csv')).status).toBe(200)
    expect((await server.get('/exports/zones/nowhere.example')).status).toBe(404)
  })
  it('a pasted text gives commands, which can be sent, and rejected lines', async () => {
    const text = '10.61.40.90 scanner.skerry.example scanner\n10.99.0.1 lost\n'
    const preview = (await ask('imports', { kind: 'names', text })).body as NamesImport
    expect(preview.rejected).toEqual([
      { line: 2, text: '10.99.0.1 lost', reason: '10.99.0.1 is in no recorded subnet; add the subnet first.' },
    ])
    expect((await server.send(preview.commands)).status).toBe(200)
    expect(((await ask('imports', { kind: 'names', text })).body as NamesImport).known).toBe(1)
  })
})

describe('the registry of MAC prefixes', () => {
  // Debian ieee-data: the IEEE’s public listing. Held against the file itself, read by a CSV parser.
  it('names organisations as the file does, where it is installed', async () => {
    const registry = '/usr/share/ieee-data/oui.csv'
    expect(existsSync(registry)).toBe(true)
    const rows = Papa.parse<string[]>(readFileSync(registry, 'utf8'))
      .data.slice(1)
      .filter((row) => row[0] === 'MA-L')
    const picked = rows.filter((_, index) => index % 301 === 0)
    const { body } = await request(server.url).get(`/api/v1/mac-registry?prefixes=${picked.map((row) => row[1]?.toLowerCase()).join(',')}`)
    const { source, organisations } = body as MacRegistryResponse
    expect(source).toContain('ieee-data')
    for (const row of picked) expect(organisations[row[1]?.toLowerCase() ?? '']).toBe(row[2]?.trim())
    expect((await request(server.url).get('/api/v1/mac-registry?prefixes=zz')).status).toBe(400)
  })
})
