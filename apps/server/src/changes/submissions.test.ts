import type { ChangesPage, CommandsResponse, Problem } from '@insel/contract'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
let made = 0
beforeAll(async () => {
  server = await startServer()
  await server.send(firstCommands).expect(200)
})
afterAll(() => server.stop())

const newSubmission = () => `018c0000-0000-7000-8000-${(++made).toString(16).padStart(12, '0')}`
const base = () => `/api/v1/estates/${server.estateId}`
const post = (path: string, submission: string, body: object) =>
  request(server.url).post(`${base()}${path}`).set('insel-person', server.personId).set('insel-submission', submission).send(body)
const revision = async () => ((await request(server.url).get(`${base()}/changes?limit=1`)).body as ChangesPage).changes[0]?.revision ?? 0

describe('a submission with an id', () => {
  it('that is sent again is answered with the change it made, whatever came after it', async () => {
    const submission = newSubmission()
    const body = { commands: [{ type: 'network.add', record: { name: 'phones' } }] }
    const first = (await post('/commands', submission, body).expect(200)).body as CommandsResponse
    await server.send([{ type: 'host.update', id: known.host, changes: { note: 'since' } }]).expect(200)
    const again = (await post('/commands', submission, { ...body, expectedRevision: first.revision - 1 }).expect(200))
      .body as CommandsResponse
    expect([again.revision, again.epoch, again.difference]).toEqual([first.revision, first.epoch, first.difference])
    expect(await revision()).toBe(first.revision + 1)
    // Without an id it is another wish.
    expect((await server.send(body.commands)).status).toBe(422)
  })

  it('sent eight times at once is done once', async () => {
    const submission = newSubmission()
    const before = await revision()
    const body = { commands: [{ type: 'guest.clone', guestId: known.guest, name: 'copy-once' }] }
    const answers = await Promise.all(Array.from({ length: 8 }, () => post('/commands', submission, body)))
    expect(answers.map(({ status }) => status)).toEqual(Array.from({ length: 8 }, () => 200))
    expect(new Set(answers.map((answer) => (answer.body as CommandsResponse).revision))).toEqual(new Set([before + 1]))
    expect(await revision()).toBe(before + 1)
  })

  it('whose id was another’s is refused, and so is an id that is none', async () => {
    const submission = newSubmission()
    await post('/commands', submission, { commands: [{ type: 'network.add', record: { name: 'lab' } }] }).expect(200)
    const other = await post('/commands', submission, { commands: [{ type: 'network.add', record: { name: 'lab-2' } }] })
    expect([other.status, (other.body as Problem).code]).toEqual([422, 'submission-used'])
    expect((await post('/commands', 'x', { commands: [] })).status).toBe(400)
  })

  it('reverts, imports and carries out once, too; a refusal and a dry run leave its id free', async () => {
    const undo = newSubmission()
    const change = (await post('/commands', newSubmission(), { commands: [{ type: 'network.add', record: { name: 'gone-soon' } }] }))
      .body as CommandsResponse
    const [once, twice] = [
      await post(`/changes/${change.revision}/revert`, undo, {}),
      await post(`/changes/${change.revision}/revert`, undo, {}),
    ]
    expect([once.status, (twice.body as CommandsResponse).revision]).toEqual([200, (once.body as CommandsResponse).revision])

    const names = newSubmission()
    const text = { kind: 'guests', text: 'name,vcpu,memory (MiB)\nfrom-table,1,512\n', expectedRevision: await revision() }
    const imported = (await post('/imports/apply', names, text).expect(200)).body as CommandsResponse
    // By the second time everything in it is recorded.
    expect((await post('/imports/apply', names, text)).body).toMatchObject({ revision: imported.revision })

    const free = newSubmission()
    expect((await post('/commands', free, { commands: [{ type: 'network.add', record: { name: 'lab' } }] })).status).toBe(422)
    const wish = { commands: [{ type: 'network.add', record: { name: 'fresh' } }] }
    expect((await post('/commands', free, { ...wish, dryRun: true })).status).toBe(200)
    expect((await post('/commands', free, wish)).status).toBe(200)
  })
})
