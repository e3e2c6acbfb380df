import { ESTATE_TYPE, type EstateSummary, type Problem, type RecordsResponse } from '@insel/contract'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
beforeAll(async () => {
  server = await startServer()
  expect((await server.send(firstCommands)).status).toBe(200)
})
afterAll(() => server.stop())

const list = async () => (await request(server.url).get('/api/v1/estates')).body as EstateSummary[]
const file = async () => (await server.get('/exports/estate.json')).text
const bring = (text: string, name?: string) =>
  request(server.url)
    .post(`/api/v1/estates/import${name === undefined ? '' : `?${new URLSearchParams({ name })}`}`)
    .set('content-type', ESTATE_TYPE)
    .send(text)
const remove = (id: string, name: string) => request(server.url).delete(`/api/v1/estates/${id}?${new URLSearchParams({ name })}`)
const sentence = (body: unknown) => (body as Problem).detail

describe('an estate', () => {
  it('is imported under another name, and is not archived there', async () => {
    const [described] = ((await server.get('/records')).body as RecordsResponse).records.estate
    const archived = JSON.parse(await file()) as { records: { estate: { archivedAt: string | null }[] } }
    for (const one of archived.records.estate) one.archivedAt = '2027-01-01T00:00:00.000Z'
    const { body } = await bring(JSON.stringify(archived), 'Northern annex')
    const made = body as EstateSummary
    expect(made.name).toBe('Northern annex')
    expect((await list()).find(({ id }) => id === made.id)).toMatchObject({ name: 'Northern annex', archivedAt: null })
    expect((await list()).find(({ id }) => id === described?.id)?.name).toBe(described?.name)
    expect(((await bring(await file())).body as EstateSummary).name).toBe(described?.name)
    expect((await bring(await file(), 'two\nlines')).status).toBe(400)
  })

  it('that is archived is read, and nothing in it changes until it is taken out', async () => {
    const change = [{ type: 'guest.update', id: known.guest, changes: { note: 'later' } }] as const
    const archive = (at: string | null) => server.send([{ type: 'estate.update', id: server.estateId, changes: { archivedAt: at } }])
    expect((await archive('2027-01-01T00:00:00.000Z')).status).toBe(200)
    expect((await list()).find(({ id }) => id === server.estateId)?.archivedAt).toBe('2027-01-01T00:00:00.000Z')
    const refused = await server.send(change)
    expect([refused.status, sentence(refused.body)]).toEqual([422, expect.stringContaining('is archived: take it out of the archive')])
    expect((await server.get('/guests?limit=1')).status).toBe(200)
    // Not by the way: what takes it out does nothing else. Its name may be corrected.
    expect((await server.send([{ type: 'estate.update', id: server.estateId, changes: { note: 'kept for the auditors' } }])).status).toBe(
      200,
    )
    expect((await archive(null)).status).toBe(200)
    expect((await server.send(change)).status).toBe(200)
  })

  it('goes with everything of it, once its name is typed, and leaves the others alone', async () => {
    const { id } = (await bring(await file(), 'Short lived')).body as EstateSummary
    const wrong = await remove(id, 'short lived')
    expect([wrong.status, sentence(wrong.body)]).toEqual([
      422,
      'The estate is called Short lived, not short lived; type its name to remove it.',
    ])
    expect((await request(server.url).delete(`/api/v1/estates/${id}`)).status).toBe(400)
    expect((await request(server.url).get(`/api/v1/estates/${id}/records`)).status).toBe(200)
    const gone = await remove(id, 'Short lived')
    expect([gone.status, gone.body]).toEqual([200, { id, name: 'Short lived' }])
    for (const path of ['records', 'guests', 'findings', 'changes', 'exports/estate.json'])
      expect([path, (await request(server.url).get(`/api/v1/estates/${id}/${path}`)).status]).toEqual([path, 404])
    expect((await request(server.url).get(`/api/v1/estates/${id}/collections?hostId=${known.host}`)).status).toBe(404)
    expect((await remove(id, 'Short lived')).status).toBe(404)
    // Nothing is left of it in any table.
    const tables = await server.sql<{ name: string }>(
      `select table_name as name from information_schema.columns where column_name = 'estate_id' and table_schema = 'public'`,
    )
    expect(tables.length).toBeGreaterThan(45)
    for (const { name } of tables)
      expect([name, await server.sql(`select 1 as left from "${name}" where estate_id = $1 limit 1`, [id])]).toEqual([name, []])
    expect((await list()).some((one) => one.id === id)).toBe(false)
    expect(((await server.get('/records')).body as RecordsResponse).records.guest.length).toBeGreaterThan(0)
  })
})

describe('all records', () => {
  it('are not sent again to whoever has them, until something changes', async () => {
    const first = await server.get('/records').expect(200)
    const tag = String(first.headers['etag'])
    const again = await server.get('/records').set('if-none-match', tag).expect(304)
    expect([again.text, again.headers['etag']]).toEqual(['', tag])
    await server.send([{ type: 'network.add', record: { name: 'tagged' } }]).expect(200)
    const next = await server.get('/records').set('if-none-match', tag).expect(200)
    expect(next.headers['etag']).not.toBe(tag)
    expect((next.body as RecordsResponse).records.network.map(({ name }) => name)).toContain('tagged')
    // What changed since a revision is another answer.
    const { revision } = first.body as RecordsResponse
    await server.get(`/records?since=${revision}`).set('if-none-match', String(next.headers['etag'])).expect(200)
  })
})
