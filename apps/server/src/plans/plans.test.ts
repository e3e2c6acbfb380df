import type { ChangesPage, CommandsResponse, PlanRevertResponse, Problem, ProjectionResponse } from '@insel/contract'
import type { Item } from '@insel/core'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
let memoryBefore: number | undefined
const PLAN = '018a0000-0000-7000-8000-000000000001'
const itemId = (number: number) => `018b0000-0000-7000-8000-${String(number).padStart(12, '0')}`
const [MORE, COPY, LESS] = [itemId(1), itemId(2), itemId(3)]

beforeAll(async () => {
  server = await startServer()
  await server.send(firstCommands).expect(200)
  memoryBefore = (await guest())?.memoryMiB
  const resize = (memoryMiB: number) => [{ type: 'guest.resize', guestId: known.guest, memoryMiB }]
  await server
    .send([
      { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
      { type: 'item.write', id: MORE, planId: PLAN, title: 'More memory', commands: resize(6144) },
      {
        type: 'item.write',
        id: COPY,
        planId: PLAN,
        title: 'Copy',
        commands: [{ type: 'guest.clone', guestId: known.guest, name: 'edge-9' }],
      },
      { type: 'item.write', id: LESS, planId: PLAN, title: 'Even more', commands: resize(7168) },
    ])
    .expect(200)
})
afterAll(() => server.stop())

const at = (path: string) => `/api/v1/estates/${server.estateId}/plans/${PLAN}${path}`
const post = (path: string, body: object = {}) => request(server.url).post(at(path)).set('insel-person', server.personId).send(body)
const items = async () =>
  Object.fromEntries(
    ((await request(server.url).get(`/api/v1/estates/${server.estateId}/items`)).body as { items: Item[] }).items.map((item) => [
      item.id,
      item,
    ]),
  )
const guest = async () =>
  (
    (await request(server.url).get(`/api/v1/estates/${server.estateId}/guests`)).body as { items: { id: string; memoryMiB: number }[] }
  ).items.find(({ id }) => id === known.guest)

describe('a plan over the API', () => {
  it('says what it comes to, up to an item', async () => {
    const whole = (await request(server.url).get(at('/projection')).expect(200)).body as ProjectionResponse
    expect(whole.items.map(({ title, refusal, departures }) => [title, refusal, departures])).toEqual([
      ['More memory', null, []],
      ['Copy', null, []],
      ['Even more', null, []],
    ])
    expect(whole.difference.updated[known.guest]?.to).toMatchObject({ memoryMiB: 7168 })
    const first = (
      await request(server.url)
        .get(at(`/projection?upTo=${MORE}`))
        .expect(200)
    ).body as ProjectionResponse
    expect(first.difference.updated[known.guest]?.to).toMatchObject({ memoryMiB: 6144 })
    expect((await request(server.url).get(at('/sheet.md')).expect(200)).text).toContain('## 2. Copy')
  })

  it('has an item carried out by one of two who press at once; the other is told who did it', async () => {
    const answers = await Promise.all([post(`/items/${MORE}/carry-out`, { minutes: 4 }), post(`/items/${MORE}/carry-out`)])
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409])
    const refused = answers.find(({ status }) => status === 409)?.body as Problem
    expect(refused.detail).toMatch(/^“More memory” is done already, by .+, as change \d+; nothing was changed\.$/)
    expect(await guest()).toMatchObject({ memoryMiB: 6144 })
    expect((await items())[MORE]).toMatchObject({ state: 'done', doneById: server.personId })
  })

  it('is not carried out past what changed meanwhile, unless that is meant', async () => {
    const { body } = await server.send([{ type: 'guest.resize', guestId: known.guest, memoryMiB: 5120 }]).expect(200)
    const stale = (await request(server.url).get(at('/projection'))).body as ProjectionResponse
    expect(stale.items.find(({ itemId: id }) => id === LESS)?.departures).toEqual([
      expect.stringContaining('6 GiB when the item was written, 5 GiB now.'),
    ])
    const refused = (await post(`/items/${LESS}/carry-out`).expect(409)).body as Problem
    expect(refused.detail).toContain('Keep it as it is now, rewrite it, or drop it.')
    await request(server.url)
      .post(`/api/v1/estates/${server.estateId}/changes/${(body as CommandsResponse).revision}/revert`)
      .set('insel-person', server.personId)
      .expect(200)
    await post(`/items/${COPY}/carry-out`).expect(200)
    await post(`/items/${LESS}/carry-out`).expect(200)
  })

  it('is reverted, the last first, as far as nothing later depends on it, and the log says so', async () => {
    const copy = (await items())[COPY] as Item
    const made = (copy.commands[0] as unknown as { id: string }).id
    await server.send([{ type: 'guest.update', id: made, changes: { note: 'in use' } }]).expect(200)
    const stopped = (await post('/revert').expect(200)).body as PlanRevertResponse
    expect(stopped.reverted).toEqual([LESS])
    expect(stopped.stopped).toMatchObject({ itemId: COPY, message: expect.stringContaining('cannot be reverted') as string })
    expect(await guest()).toMatchObject({ memoryMiB: 6144 })
    await server.send([{ type: 'guest.update', id: made, changes: { note: '' } }]).expect(200)
    expect(((await post('/revert').expect(200)).body as PlanRevertResponse).reverted).toEqual([COPY, MORE])
    expect(await guest()).toMatchObject({ memoryMiB: memoryBefore })
    expect(Object.values(await items()).map(({ state }) => state)).toEqual(['reverted', 'reverted', 'reverted'])
    const log = (await request(server.url).get(`/api/v1/estates/${server.estateId}/changes?limit=1`)).body as ChangesPage
    expect(log.changes[0]?.commands).toEqual([{ type: 'item.revert', itemId: MORE }])
    expect((await post(`/items/${MORE}/revert`).expect(422)).body).toMatchObject({ code: 'wrong-state' })
  })

  it('goes out as a file and comes in again beside the first, as one change', async () => {
    const file = (await request(server.url).get(at('/file.json')).expect(200)).text
    const send = (path: string, body: object) =>
      request(server.url).post(`/api/v1/estates/${server.estateId}/imports${path}`).set('insel-person', server.personId).send(body)
    const asked = { kind: 'plan', text: file }
    const preview = (await send('', asked).expect(200)).body as { revision: number; items: { title: string; why: string | null }[] }
    expect(preview.items.map(({ title, why }) => [title, why])).toEqual([
      ['More memory', null],
      ['Copy', null],
      ['Even more', null],
    ])
    await send('/apply', { ...asked, expectedRevision: preview.revision }).expect(200)
    const plans = (await request(server.url).get(`/api/v1/estates/${server.estateId}/plans`)).body as { items: { name: string }[] }
    expect(plans.items.map(({ name }) => name).sort()).toEqual(['Saturday', 'Saturday 2'])
    expect((await send('/apply', { ...asked, expectedRevision: preview.revision }).expect(409)).body).toMatchObject({
      code: 'changed-since',
    })
    expect(((await send('', { kind: 'plan', text: '{}' }).expect(400)).body as Problem).detail).toContain('not a plan’s file')
    await send('', { ...asked, records: 'x' }).expect(400)
  })

  it('is not found by another id, nor an item of another plan', async () => {
    await request(server.url).get(`/api/v1/estates/${server.estateId}/plans/${MORE}/projection`).expect(404)
    await post(`/items/${PLAN}/carry-out`).expect(404)
    await post(`/items/${MORE}/carry-out`, { minutes: 'long' }).expect(400)
  })
})
