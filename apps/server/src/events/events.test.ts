import type { CommandsResponse, Problem, RecordsResponse } from '@insel/contract'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
beforeAll(async () => {
  server = await startServer()
  await server.send(firstCommands)
})
afterAll(() => server.stop())

/** An open event stream, read until a text comes. */
async function listen(url: string) {
  const aborter = new AbortController()
  const response = await fetch(url, { signal: aborter.signal })
  const reader = response.body?.getReader()
  let text = ''
  return {
    response,
    text: () => text,
    async until(wanted: string) {
      while (!text.includes(wanted)) {
        const chunk = await reader?.read()
        if (!chunk || chunk.done) throw new Error(`the stream ended before ${wanted}: ${text}`)
        text += new TextDecoder().decode(chunk.value)
      }
    },
    close: () => aborter.abort(),
  }
}

describe('events', () => {
  it('tell the revision at once, and each change after that', async () => {
    const events = await listen(`${server.url}/api/v1/estates/${server.estateId}/events`)
    expect(events.response.headers.get('content-type')).toContain('text/event-stream')
    await events.until(`event: revision\nid: 2\ndata: {"estateId":"${server.estateId}","revision":2,"epoch":"`)
    const { revision } = (await server.send([{ type: 'host.update', id: known.host, changes: { note: 'one' } }])).body as CommandsResponse
    await events.until(`"revision":${revision}`)
    events.close()
  })

  it('come back after the connection to the database was lost, with what was missed', async () => {
    const events = await listen(`${server.url}/api/v1/estates/${server.estateId}/events`)
    await events.until('"revision":')
    await server.sql(
      "select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'insel events' and datname = current_database()",
    )
    const { revision } = (await server.send([{ type: 'host.update', id: known.host, changes: { note: 'two' } }])).body as CommandsResponse
    await events.until(`"revision":${revision}`)
    const next = (await server.send([{ type: 'host.update', id: known.host, changes: { note: 'three' } }])).body as CommandsResponse
    await events.until(`"revision":${next.revision}`)
    events.close()
  })

  it('of several estates come on one connection', async () => {
    const made = await request(server.url).post('/api/v1/estates').send({ name: 'Outer Stack', recordedAs: 'Sigrun Dahl' })
    const { id } = made.body as { id: string }
    const events = await listen(`${server.url}/api/v1/events?estates=${server.estateId},${id}`)
    await events.until(`"estateId":"${id}","revision":1`)
    const { revision } = (await server.send([{ type: 'host.update', id: known.host, changes: { note: 'both' } }])).body as CommandsResponse
    await events.until(`"estateId":"${server.estateId}","revision":${revision}`)
    events.close()
    for (const wrong of ['', 'x', `${id},x`]) expect((await request(server.url).get(`/api/v1/events?estates=${wrong}`)).status).toBe(400)
  })

  it('what others write to the channel ends no server', async () => {
    const events = await listen(`${server.url}/api/v1/estates/${server.estateId}/events`)
    await events.until('"revision":')
    for (const garbage of ['', '{', 'null', '[]', '7', '{"estateId":1,"revision":"x"}', '\u0001'])
      await server.sql("select pg_notify('insel_changes', $1)", [garbage])
    const { revision } = (await server.send([{ type: 'host.update', id: known.host, changes: { note: 'still' } }])).body as CommandsResponse
    await events.until(`"revision":${revision}`)
    events.close()
  })

  it('of an estate that is not there are a problem', async () => {
    const response = await request(server.url).get('/api/v1/estates/01890000-0000-7000-8000-000000000000/events')
    expect([response.status, response.type]).toEqual([404, 'application/problem+json'])
  })
})

describe('two estates on one server', () => {
  it('share nothing: the same names and ids, other records, other people', async () => {
    const made = await request(server.url).post('/api/v1/estates').send({ name: 'Far Stack', recordedAs: 'Sigrun Dahl' })
    const { id, personId } = made.body as { id: string; personId: string }
    const post = (commands: readonly unknown[], person: string) =>
      request(server.url).post(`/api/v1/estates/${id}/commands`).set('insel-person', person).send({ commands })
    expect((await post(firstCommands, personId)).status).toBe(200)
    // A person of the other estate records nothing here.
    expect((await post([{ type: 'host.update', id: known.host, changes: { note: 'x' } }], server.personId)).status).toBe(401)
    await post([{ type: 'guest.remove', id: known.guest, withReferring: true }], personId)
    const here = (await server.get('/records')).body as RecordsResponse
    const there = (await request(server.url).get(`/api/v1/estates/${id}/records`)).body as RecordsResponse
    expect([here.records.guest.length, there.records.guest.length]).toEqual([1, 0])
    expect((await request(server.url).get('/api/v1/estates')).body).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ name: 'Skerry Sound' }),
        expect.objectContaining({ name: 'Far Stack', revision: 3 }),
      ]),
    )
  })

  it('after a restore, revisions of before are of another history: all records, no catching up, no command on them', async () => {
    const { revision, epoch } = (await server.get('/records')).body as RecordsResponse
    // What a restore does last; the server runs on here, as one that lost its lock would.
    await server.sql('update estate_head set epoch = gen_random_uuid()')
    await server.sql("update host set note = 'as in the backup' where estate_id = $1 and id = $2", [server.estateId, known.host])
    const now = (await server.get(`/records?since=${revision}&epoch=${epoch}`)).body as RecordsResponse
    expect(now.records.host.find(({ id }) => id === known.host)?.note).toBe('as in the backup')
    expect(now.epoch).not.toBe(epoch)
    const commands = [{ type: 'host.update', id: known.host, changes: { note: 'x' } }]
    const stale = await server.send(commands, { expectedRevision: revision, expectedEpoch: epoch })
    expect([stale.status, (stale.body as Problem).code]).toEqual([409, 'database-restored'])
    expect((await server.send(commands, { expectedRevision: revision, expectedEpoch: now.epoch })).status).toBe(200)
  })

  it('a page that is far behind is given all records', async () => {
    await server.sql('update estate_head set revision = revision where estate_id = $1', [server.estateId])
    const { revision, epoch } = (await server.get('/records')).body as RecordsResponse
    const nothing = { revision, epoch, difference: { added: {}, updated: {}, removed: {} } }
    expect((await server.get(`/records?since=${revision}`)).body).toEqual(nothing)
    expect((await server.get(`/records?since=${revision}&epoch=${epoch}`)).body).toEqual(nothing)
    expect((await server.get(`/records?since=${revision + 50}`)).body).toHaveProperty('records')
  })
})
