import { ESTATE_TYPE, type EstateSummary, type Problem, type RecordsResponse } from '@insel/contract'
import { readOvf, type EstateFile, type ImportSummary, type TablesImport } from '@insel/core'
import { unpackTar } from 'modern-tar'
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Preview } from '../heavy-work/tasks.js'
import { seedImage } from './seed-image.js'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
beforeAll(async () => {
  server = await startServer()
  expect((await server.send(firstCommands)).status).toBe(200)
})
afterAll(() => server.stop())

const bytesOf = (response: request.Response, done: (error: Error | null, body: Buffer) => void) => {
  const pieces: Buffer[] = []
  response.on('data', (piece: Buffer) => pieces.push(piece))
  response.on('end', () => done(null, Buffer.concat(pieces)))
}
const importFile = (text: string) => request(server.url).post('/api/v1/estates/import').set('content-type', ESTATE_TYPE).send(text)

describe('guests in open formats', () => {
  it('as CSV, as OVF in both versions, and as Markdown', async () => {
    const csv = await server.get('/exports/guests.csv')
    expect(csv.headers['content-type']).toContain('text/csv')
    expect(csv.text).toContain('playout-1,gannet,running,4,8 GiB,60 GiB,office,10.61.30.2')
    for (const [table, name] of [
      ['hosts', 'gannet'],
      ['networks', 'office'],
      ['stores', 'nvme-1'],
    ] as const) {
      const answer = await server.get(`/exports/${table}.csv`)
      expect([answer.status, answer.headers['content-type']]).toEqual([200, expect.stringContaining('text/csv')])
      expect(answer.text.split('\r\n').some((line) => line.startsWith(`${name},`))).toBe(true)
    }
    for (const version of ['1.1', '2.x']) {
      const { text } = await server
        .get(`/exports/guests/${known.guest}.ovf?version=${version}`)
        .buffer(true)
        .parse((response, done) => {
          let all = ''
          response.setEncoding('utf8')
          response.on('data', (piece: string) => (all += piece))
          response.on('end', () => done(null, all))
        })
        .then(({ body }) => ({ text: String(body) }))
      const reading = readOvf(text)
      expect('systems' in reading && reading.systems[0]).toMatchObject({ name: 'playout-1', vcpu: 4, memoryMiB: 8192 })
    }
    expect((await server.get(`/exports/guests/${known.guest}.ovf?version=9`)).status).toBe(400)
    expect((await server.get(`/exports/guests/${known.host}.ovf`)).status).toBe(404)
    expect((await server.get(`/exports/guests/${known.guest}.md`)).text).toContain('# playout-1')
  })

  it('what a guest is told at its first boot as a small image, which a reader of images reads back', async () => {
    const answer = await server.get(`/exports/guests/${known.guest}/seed`).buffer(true).parse(bytesOf)
    expect([answer.status, answer.headers['content-type'], answer.headers['content-disposition']]).toEqual([
      200,
      'application/x-iso9660-image',
      'attachment; filename="playout-1-seed.iso"',
    ])
    const folder = mkdtempSync(join(tmpdir(), 'insel-seed-test-'))
    try {
      const image = join(folder, 'seed.iso')
      writeFileSync(image, answer.body as Buffer)
      // Debian's xorriso.
      const look = (...args: string[]) => spawnSync('xorriso', ['-indev', image, ...args], { encoding: 'utf8' })
      expect(look('-find').stdout.split('\n').filter(Boolean).sort()).toEqual([
        "'.'",
        "'./meta-data'",
        "'./network-config'",
        "'./user-data'",
      ])
      expect(look('-pvd_info').stdout).toContain('Volume Id    : cidata')
      look('-osirrox', 'on', '-extract', '/meta-data', join(folder, 'meta-data'))
      expect(readFileSync(join(folder, 'meta-data'), 'utf8')).toContain('local-hostname: "playout-1"')
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
    expect((await server.get(`/exports/guests/${known.host}/seed`)).status).toBe(404)
  })

  it('where no maker of images is installed, as an archive; another fault of it is no archive', async () => {
    const { extension, bytes } = await seedImage([{ path: 'meta-data', text: 'größe: 1\n' }], 'no-such-maker-of-images')
    const [entry] = await unpackTar(bytes)
    expect([extension, entry?.header.name, Buffer.from(entry?.data ?? []).toString('utf8')]).toEqual(['tar', 'meta-data', 'größe: 1\n'])
    await expect(seedImage([{ path: 'meta-data', text: 'x' }], 'false')).rejects.toThrow(/Command failed/)
  })

  it('a table is previewed: nothing is applied', async () => {
    const post = (text: string) => request(server.url).post(`/api/v1/estates/${server.estateId}/imports`).send({ kind: 'guests', text })
    const preview = (await post('name,host,vcpu,memory\nweb-1,gannet,2,4G\nplayout-1,gannet,6,8G\nx,nowhere,1,1G')).body as TablesImport &
      ImportSummary
    expect([preview.added, preview.changed, preview.rejected.map(({ line }) => line)]).toEqual([['web-1'], ['playout-1'], [4]])
    expect((await server.get('/guests')).body).toMatchObject({ total: 1 })
    expect((await server.send(preview.commands)).status).toBe(200)
    expect((await server.get('/guests')).body).toMatchObject({ total: 2 })
    expect((await post('nothing')).status).toBe(400)
  })

  const ROWS = inject('isLong') ? 5000 : 1500
  it(`${ROWS} rows are recorded as the one change that was previewed, and not on another revision`, async () => {
    const own = await startServer()
    try {
      await own.send(firstCommands)
      const base = `/api/v1/estates/${own.estateId}/imports`
      const ask = (path: string, body: object) => request(own.url).post(`${base}${path}`).set('insel-person', own.personId).send(body)
      const rows = Array.from({ length: ROWS }, (_, at) => `web-${at},gannet,1,64M,1G`)
      const asked = { kind: 'guests', text: ['host name,where,vcpu,memory,disks', ...rows].join('\n') }
      const columns = { columns: ['name', 'host', 'vCPU', 'memory', 'disks'], units: [null, null, null, null, null], style: null }
      const preview = (await ask('', { ...asked, columns })).body as TablesImport & ImportSummary & Pick<Preview, 'notListed' | 'revision'>
      // The first of each list, and how many more there are: an answer has an end, whatever it is of.
      expect([preview.added.length, preview.rejected.length, preview.commands.length]).toEqual([500, 0, 2000])
      expect(preview.notListed).toEqual({ commands: 2 * ROWS - 2000, rows: ROWS - 500, added: ROWS - 500 })
      const apply = (expectedRevision: number, more: object = { columns }) => ask('/apply', { ...asked, ...more, expectedRevision })
      expect((await apply(preview.revision - 1)).body).toMatchObject({ status: 409, code: 'changed-since' })
      const done = await apply(preview.revision)
      expect(done.body).toMatchObject({ revision: preview.revision + 1 })
      expect((await own.get('/guests?limit=1')).body).toMatchObject({ total: ROWS + 1 })
      const again = await apply(preview.revision + 1)
      expect([again.status, (again.body as Problem).detail]).toEqual([400, expect.stringContaining('nothing to record')])
      const wrong = await apply(preview.revision + 1, { columns: { ...columns, columns: ['name', 'colour'], units: [null, 'furlong'] } })
      expect((wrong.body as Problem).errors.map(({ path }) => path)).toEqual(['columns.columns', 'columns.units'])
      for (const no of [[], 'name', 7, true])
        expect((await ask('', { ...asked, columns: no })).body).toMatchObject({ status: 400, errors: [{ path: 'columns' }] })
      expect((await ask('/apply', asked)).body).toMatchObject({ status: 400, errors: [{ path: 'expectedRevision' }] })
    } finally {
      await own.stop()
    }
  })
})

describe('a whole estate as a file', () => {
  it('goes out, and comes in as another estate with the same records', async () => {
    const file = (await server.get('/exports/estate.json')).body as EstateFile
    const answer = await importFile(JSON.stringify(file))
    expect(answer.status).toBe(201)
    const made = answer.body as EstateSummary
    const { records } = (await request(server.url).get(`/api/v1/estates/${made.id}/records`)).body as RecordsResponse
    expect({ ...records, estate: [] }).toEqual({ ...file.records, estate: [] })
    const list = (await request(server.url).get('/api/v1/estates')).body as EstateSummary[]
    expect(list.filter(({ name }) => name === 'Skerry Sound')).toHaveLength(2)
    // It lives on as any estate does.
    const person = file.records.person[0]?.id ?? ''
    const changed = await request(server.url)
      .post(`/api/v1/estates/${made.id}/commands`)
      .set('insel-person', person)
      .send({ commands: [{ type: 'guest.power', guestId: known.guest, state: 'stopped' }] })
    expect(changed.body).toMatchObject({ revision: 2 })
  })

  it('a file that is wrong is refused whole, with every place', async () => {
    const file = (await server.get('/exports/estate.json')).body as EstateFile
    const before = ((await request(server.url).get('/api/v1/estates')).body as unknown[]).length
    const wrong = await importFile(JSON.stringify({ ...file, records: { ...file.records, host: [], guest: [{ id: 'x' }] } }))
    expect(wrong.status).toBe(422)
    expect((wrong.body as Problem).errors.length).toBeGreaterThan(0)
    expect((await importFile('{')).status).toBe(422)
    expect((await request(server.url).post('/api/v1/estates/import').send({})).status).toBe(400)
    expect((await request(server.url).get('/api/v1/estates')).body).toHaveLength(before)
  })

  it('its schema is published', async () =>
    expect((await request(server.url).get('/api/v1/estates/schema')).body).toMatchObject({
      $schema: expect.stringContaining('2020-12') as string,
    }))
})
