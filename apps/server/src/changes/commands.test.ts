import type { Change, CommandsResponse, Problem, RecordsResponse } from '@insel/contract'
import { emptyDifference, Estate, kindNames, kinds, type Difference } from '@insel/core'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { columnOf } from '../database/entities.js'
import { thatFit } from './logged-changes.js'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
beforeAll(async () => {
  server = await startServer()
})
afterAll(() => server.stop())

const records = async () => (await server.get('/records')).body as RecordsResponse
const problem = (response: request.Response) => {
  expect(response.type).toBe('application/problem+json')
  const body = response.body as Problem
  expect(body).toMatchObject({
    status: response.status,
    code: expect.any(String) as string,
    detail: expect.stringMatching(/\.$/) as string,
  })
  expect(JSON.stringify(body)).not.toMatch(/at .*\.ts:|node_modules|postgres/i)
  return body
}

describe('commands', () => {
  it('are applied all together, written to the tables and logged as one change', async () => {
    const response = await server.send(firstCommands)
    expect(response.status).toBe(200)
    const { revision, difference } = response.body as CommandsResponse
    expect(revision).toBe(2)
    expect(Object.keys(difference.added)).toHaveLength(13)
    const now = await records()
    expect(now.records.guest).toEqual([
      expect.objectContaining({ id: known.guest, name: 'playout-1', tags: ['air'], memoryMiB: 8192, clonedFromId: null }),
    ])
    expect(now.records.disk[0]?.sizeBytes).toBe(64424509440)
    expect(now.records.address[0]?.ip).toBe('10.61.30.2')
  })

  it('a dry run says what would happen and changes nothing', async () => {
    const response = await server.send([{ type: 'guest.resize', guestId: known.guest, memoryMiB: 65536 }], { dryRun: true })
    const { revision, difference, findings } = response.body as CommandsResponse
    expect(revision).toBe(2)
    expect(Object.keys(difference.updated)).toEqual([known.guest])
    expect(findings.raised.map((finding) => finding.ruleId)).toContain('guest.larger-than-any-host')
    expect((await records()).records.guest[0]?.memoryMiB).toBe(8192)
  })

  it('a refused list leaves nothing, not even its first half', async () => {
    const response = await server.send([
      { type: 'guest.resize', guestId: known.guest, vcpu: 8 },
      { type: 'guest.power', guestId: known.guest, state: 'running' },
    ])
    expect(response.status).toBe(422)
    expect(problem(response)).toMatchObject({ code: 'wrong-state', errors: [{ path: 'commands.1.state' }] })
    expect((await records()).records.guest[0]?.vcpu).toBe(4)
  })

  it('two names can be swapped in one list', async () => {
    const swap = await server.send([
      { type: 'host.update', id: known.host, changes: { name: 'fulmar' } },
      { type: 'host.update', id: known.second, changes: { name: 'gannet' } },
    ])
    expect(swap.status).toBe(200)
    const { revision } = swap.body as CommandsResponse
    expect(
      (await request(server.url).post(`/api/v1/estates/${server.estateId}/changes/${revision}/revert`).set('insel-person', server.personId))
        .status,
    ).toBe(200)
  })

  it('findings can be left out; the next answer has its own all the same', async () => {
    const resize = (memoryMiB: number) => ({ type: 'guest.resize', guestId: known.guest, memoryMiB })
    const quiet = await server.send([resize(65536)]).query({ findings: 'false' })
    expect(quiet.body as CommandsResponse).toMatchObject({ findings: { raised: [], changed: [], settled: [] } })
    const back = await server.send([resize(8192)])
    expect((back.body as CommandsResponse).findings.settled.map((finding) => finding.ruleId)).toContain('guest.larger-than-any-host')
    expect(problem(await server.send([resize(4096)]).query({ findings: 'maybe' })).detail).toBe('findings is true or false.')
  })

  it('the log says which records a list made, so that it makes the same ones wherever it is applied', async () => {
    const copy = { type: 'guest.clone', guestId: known.guest, name: 'copy-of-playout' }
    const { revision, difference } = (await server.send([copy])).body as CommandsResponse
    const [change] = ((await server.get('/changes?limit=1')).body as { changes: Change[] }).changes
    const [logged] = change?.commands ?? []
    expect(logged).toMatchObject({ ...copy, id: expect.any(String) as string })
    await request(server.url).post(`/api/v1/estates/${server.estateId}/changes/${revision}/revert`).set('insel-person', server.personId)
    const again = (await server.send([logged])).body as CommandsResponse
    expect(again.difference.added).toEqual(difference.added)
    await request(server.url)
      .post(`/api/v1/estates/${server.estateId}/changes/${again.revision}/revert`)
      .set('insel-person', server.personId)
  })

  it('with an older revision stand unless what they touch changed; then the answer names who and what', async () => {
    const { revision } = await records()
    await server.send([{ type: 'guest.update', id: known.guest, changes: { note: 'on air' } }])
    expect(
      (await server.send([{ type: 'host.update', id: known.host, changes: { note: 'rack 2' } }], { expectedRevision: revision })).status,
    ).toBe(200)
    const stale = await server.send([{ type: 'guest.resize', guestId: known.guest, vcpu: 6 }], { expectedRevision: revision })
    expect(stale.status).toBe(409)
    expect(problem(stale)).toMatchObject({ code: 'changed-meanwhile', meanwhile: [{ actor: 'Ola Berg', records: [known.guest] }] })
    expect(problem(await server.send([{ type: 'guest.resize', guestId: known.guest, vcpu: 6 }], { expectedRevision: 9999 })).code).toBe(
      'revision-unknown',
    )
  })

  it('need somebody who records them; a new person may record itself', async () => {
    const base = `/api/v1/estates/${server.estateId}/commands`
    const command = { type: 'host.update', id: known.host, changes: { note: '' } }
    const nobody = await request(server.url)
      .post(base)
      .send({ commands: [command] })
    expect([nobody.status, problem(nobody).code]).toEqual([401, 'person-missing'])
    const id = '01890000-0000-7000-8000-00000000beef'
    const self = await request(server.url)
      .post(base)
      .set('insel-person', id)
      .send({ commands: [{ type: 'person.add', record: { id, name: 'Maren' } }] })
    expect(self.status).toBe(200)
    const bad = await request(server.url)
      .post(base)
      .set('insel-person', 'maren')
      .send({ commands: [command] })
    expect([bad.status, problem(bad).code]).toEqual([400, 'malformed'])
  })
})

describe('what comes in wrong', () => {
  it.each([
    ['no list', {}, 'commands'],
    [
      'an unknown field in a record',
      { commands: [{ type: 'guest.add', record: { name: 'x', vcpu: 1, memoryMiB: 512, colour: 'red' } }] },
      'commands.0.record.colour',
    ],
    ['an unknown field of the request', { commands: [], hurry: true }, 'hurry'],
    ['an unknown command', { commands: [{ type: 'guest.fly' }] }, 'commands.0.type'],
    ['a number as text', { commands: [{ type: 'guest.add', record: { name: 'x', vcpu: '1', memoryMiB: 512 } }] }, 'commands.0.record.vcpu'],
    ['a wrong revision', { commands: [{ type: 'guest.fly' }], expectedRevision: 'new' }, 'expectedRevision'],
    ['a wrong dry run', { commands: [{ type: 'guest.fly' }], dryRun: 1 }, 'dryRun'],
  ])('%s is a 400 with the path', async (_, body, path) => {
    const response = await request(server.url)
      .post(`/api/v1/estates/${server.estateId}/commands`)
      .set('insel-person', server.personId)
      .send(body)
    expect(response.status).toBe(400)
    expect(problem(response).errors.map((error) => error.path)).toContain(path)
  })

  it('a body that is no JSON, one that is too large, an unknown path, an unknown estate', async () => {
    const post = () =>
      request(server.url)
        .post(`/api/v1/estates/${server.estateId}/commands`)
        .set('insel-person', server.personId)
        .set('content-type', 'application/json')
    expect(problem(await post().send('{"commands": [')).detail).toContain('not JSON')
    const large = await post().send(JSON.stringify({ commands: 'x'.repeat(2 ** 21 + 1) }))
    expect([large.status, problem(large).code]).toEqual([413, 'too-large'])
    expect(problem(await request(server.url).get('/api/v1/nothing')).code).toBe('not-found')
    expect(problem(await request(server.url).get('/api/v1/estates/01890000-0000-7000-8000-000000000000/records')).status).toBe(404)
    expect(problem(await request(server.url).get('/api/v1/estates/seven/records')).status).toBe(400)
    expect(
      problem(await request(server.url).post('/api/v1/estates').send({ name: ' ', owner: 1 }))
        .errors.map((e) => e.path)
        .sort(),
    ).toEqual(['name', 'owner'])
  })

  it('the database itself refuses what must never be', async () => {
    const insert = (text: string) => server.sql(text, [server.estateId])
    const guest = (name: string, host: string) =>
      `insert into guest (estate_id, id, name, kind, host_id, state, vcpu, latency, memory_mib, firmware, identity, is_router, sockets, processor_mode, secure_boot, trusted_module, machine_type, medium_connected, boot_first, tags, note) values ($1, gen_random_uuid(), '${name}', 'machine', ${host}, 'planned', 1, 'general', 512, 'UEFI', 'its own', false, 1, 'host', false, false, 'PCIe', true, 'disk', '[]', '')`
    await expect(insert(guest('PLAYOUT-1', 'null'))).rejects.toThrow('guest_name_key')
    await expect(insert(guest('dangling', `'${known.network}'`))).rejects.toThrow('guest_host_id_fk')
    await expect(
      insert(
        `insert into adapter (estate_id, id, guest_id, position, mac, model, is_connected) values ($1, gen_random_uuid(), '${known.guest}', 9, '02:1a:4b:00:00:01', 'paravirtual', true)`,
      ),
    ).rejects.toThrow('adapter_mac_key')
    await expect(
      insert(
        `insert into address (estate_id, id, subnet_id, ip, kind, note) values ($1, gen_random_uuid(), '${known.subnet}', '10.61.30.2', 'fixed', '')`,
      ),
    ).rejects.toThrow('address_subnet_id_ip_key')
  })
})

describe('the logbook', () => {
  it('pages from the newest, filters by thing, person and time', async () => {
    const page = (await server.get('/changes?limit=2')).body as { changes: Change[]; nextBefore: number }
    expect(page.changes).toHaveLength(2)
    const next = (await server.get(`/changes?limit=2&before=${page.nextBefore}`)).body as { changes: Change[] }
    expect(next.changes[0]?.revision).toBe(page.nextBefore - 1)
    const of = async (query: string) => ((await server.get(`/changes?${query}`)).body as { changes: Change[] }).changes
    const ofGuest = await of(`subject=${known.guest}`)
    const touched = ({ difference }: Change) => ({ ...difference.added, ...difference.updated, ...difference.removed })
    expect(ofGuest.length).toBeGreaterThan(0)
    expect(ofGuest.every((change) => known.guest in touched(change) || JSON.stringify(change.difference).includes(known.guest))).toBe(true)
    // What was done to a part of it, or written about it, is of it; and it is found by its words, by its name, and by who did it.
    const at = '2027-01-18T08:00:00.000Z'
    await server.send([{ type: 'entry.add', record: { guestId: known.guest, at, text: 'Replaced the 100% dusty_fan' } }]).expect(200)
    const [written] = await of(`subject=${known.guest}&limit=1`)
    expect(JSON.stringify(written?.difference)).toContain('dusty_fan')
    const all = (await server.get('/guests?limit=100')).body as { items: { id: string; name: string }[] }
    const { name = '' } = all.items.find(({ id }) => id === known.guest) ?? {}
    for (const text of ['DUSTY_fan', 'dusty replaced', `${name} 100%`, 'entry.add dusty'])
      expect([text, (await of(`text=${encodeURIComponent(text)}`)).map(({ revision }) => revision)]).toEqual([text, [written?.revision]])
    expect(await of('text=dusty0fan')).toEqual([])
    expect(await of(`text=${encodeURIComponent('dusty nowhere')}`)).toEqual([])
    expect(((await server.get(`/changes?actor=${known.guest}`)).body as { changes: Change[] }).changes).toEqual([])
    expect(((await server.get('/changes?until=2001-01-01')).body as { changes: Change[] }).changes).toEqual([])
    expect((await server.get('/changes?limit=0')).status).toBe(400)
    for (const beyond of ['%2B275760-09-13T00:00:00Z', '-271821-04-20T00:00:00Z', '0000-01-01', '0000-01-01T00:00:00Z', 'yesterday', '9'])
      for (const name of ['from', 'until']) expect([beyond, (await server.get(`/changes?${name}=${beyond}`)).status]).toEqual([beyond, 400])
    expect((await server.get('/changes?from=0001-01-01&until=9999-12-31T00:00:00Z&limit=1')).status).toBe(200)
  })

  it('in brief: the first commands, those about the subject before others, and of a large change only what these did', async () => {
    const names = Array.from({ length: 60 }, (_, index) => `brief-${index}`)
    const commands = names.map((name) => ({
      type: 'entry.add',
      record: { guestId: known.guest, at: '2027-01-18T08:00:00.000Z', text: name },
    }))
    await server.send(commands).expect(200)
    const read = async (query: string) => ((await server.get(`/changes?limit=1${query}`)).body as { changes: Change[] }).changes[0]
    const whole = await read('')
    expect(whole?.leftOut).toEqual({ commands: 0, records: 0 })
    expect((await server.get(`/changes/${whole?.revision}`)).body).toEqual(whole)
    const [some = ''] = Object.keys(whole?.difference.added ?? {}).slice(-1)
    const madeBy = (change: Change | undefined) =>
      change?.commands.map((command) => (command.type === 'entry.add' ? command.record.id : '')).toSorted()
    const brief = await read('&most=3')
    expect(brief).toMatchObject({ ...whole, commands: whole?.commands.slice(0, 3), difference: {}, leftOut: { commands: 57, records: 57 } })
    expect(Object.keys(brief?.difference.added ?? {}).toSorted()).toEqual(madeBy(brief))
    // The last of them is asked for: its command comes first.
    const own = await read(`&most=3&subject=${some}`)
    expect(own?.commands.map(({ type }, place) => [type, place === 0 ? JSON.stringify(own.commands[0]).includes(some) : true])).toEqual(
      Array(3).fill(['entry.add', true]),
    )
    expect(own?.difference.added[some]).toEqual(whole?.difference.added[some])
    // The command that names the subject comes first, with what it did.
    await server
      .send(Object.entries(whole?.difference.added ?? {}).map(([id]) => ({ type: 'entry.update', id, changes: { text: `again ${id}` } })))
      .expect(200)
    const second = await read(`&most=2&subject=${some}`)
    const named = second?.commands.map((command) => ('id' in command ? command.id : ''))
    expect(named).toEqual([some, Object.keys(whole?.difference.added ?? {})[0]])
    expect(Object.keys(second?.difference.updated ?? {}).toSorted()).toEqual(named?.toSorted())
    expect(second?.leftOut).toEqual({ commands: 58, records: 58 })
    expect((await server.get('/changes?most=0')).status).toBe(400)
    expect((await server.get('/changes/999999')).status).toBe(404)
  })

  it('ends a page of whole changes before it gets too large, and never without one', () => {
    const found = [1, 5_000_000, 3_000_000, 9].map((bytes, index) => ({ revision: 9 - index, bytes }))
    expect(thatFit(found).map(({ revision }) => revision)).toEqual([9, 8])
    expect(thatFit(found.slice(0, 2))).toHaveLength(2)
    expect(thatFit([{ bytes: 50_000_000 }, { bytes: 1 }])).toHaveLength(1)
  })

  it('made on one revision at the same time by eight is made by one; the others are told who was first', async () => {
    const { revision } = await records()
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_, index) =>
        server.send([{ type: 'guest.update', id: known.guest, changes: { note: `at once ${index}` } }], { expectedRevision: revision }),
      ),
    )
    expect(answers.map(({ status }) => status).sort()).toEqual([200, ...Array.from({ length: 7 }, () => 409)])
    for (const refused of answers.filter(({ status }) => status === 409))
      expect([problem(refused).code, problem(refused).meanwhile?.map((one) => one.revision)]).toEqual(['changed-meanwhile', [revision + 1]])
    expect((await records()).revision).toBe(revision + 1)
  })

  it('takes a change back, says so, and refuses when later changes stand on it', async () => {
    const base = `/api/v1/estates/${server.estateId}/changes`
    const revert = (revision: number) => request(server.url).post(`${base}/${revision}/revert`).set('insel-person', server.personId)
    const first = ((await server.send([{ type: 'guest.resize', guestId: known.guest, vcpu: 2 }])).body as CommandsResponse).revision
    const second = ((await server.send([{ type: 'guest.resize', guestId: known.guest, vcpu: 3 }])).body as CommandsResponse).revision
    const refused = await revert(first)
    expect([refused.status, problem(refused).code]).toEqual([409, 'changed-since'])
    expect(problem(refused).detail).toContain(`change ${second} by Ola Berg`)
    expect((await revert(second)).status).toBe(200)
    expect((await revert(first)).status).toBe(200)
    expect((await records()).records.guest[0]?.vcpu).toBe(4)
    const log = ((await server.get('/changes')).body as { changes: Change[] }).changes
    expect(log.find((change) => change.revision === second)?.revertedBy).toBe(second + 1)
    expect(log.find((change) => change.revision === second + 1)).toMatchObject({
      commands: [{ type: 'change.revert', revision: second }],
      revertedBy: null,
    })
    expect((await revert(99999)).status).toBe(404)
  })

  it('a change whose reverting was taken back stands again, until it is reverted once more', async () => {
    const base = `/api/v1/estates/${server.estateId}/changes`
    const revert = async (revision: number) =>
      ((await request(server.url).post(`${base}/${revision}/revert`).set('insel-person', server.personId)).body as CommandsResponse)
        .revision
    const revertedBy = async (revision: number) =>
      ((await server.get(`/changes/${revision}`)).body as { revertedBy: number | null }).revertedBy
    const change = ((await server.send([{ type: 'guest.resize', guestId: known.guest, vcpu: 7 }])).body as CommandsResponse).revision
    const back = await revert(change)
    expect(await revertedBy(change)).toBe(back)
    const again = await revert(back)
    expect([await revertedBy(change), await revertedBy(back)]).toEqual([null, again])
    const once = await revert(change)
    expect([await revertedBy(change), await revertedBy(again)]).toEqual([once, null])
  })

  it('an added record that others now refer to cannot be taken back', async () => {
    const id = '01890000-0000-7000-8000-00000000cafe'
    const added = ((await server.send([{ type: 'network.add', record: { id, name: 'lab' } }])).body as CommandsResponse).revision
    await server.send([{ type: 'subnet.add', record: { networkId: id, prefix: '10.61.99.0/24' } }])
    const refused = await request(server.url)
      .post(`/api/v1/estates/${server.estateId}/changes/${added}/revert`)
      .set('insel-person', server.personId)
    expect(refused.status).toBe(409)
    expect(problem(refused).detail).toContain('still used by 10.61.99.0/24')
  })

  it('replays to the same records', async () => {
    const rows = await server.sql<{ revision: number; difference: Difference }>('select revision, difference from change order by revision')
    expect(rows.map((row) => row.revision)).toEqual(rows.map((_, index) => index + 1))
    const replayed = rows.reduce((estate, row) => estate.with(row.difference), Estate.empty)
    expect(replayed.toRecords()).toEqual((await records()).records)
  })
})

describe('reading', () => {
  it('since a revision gives the composed difference', async () => {
    const { revision, records: all } = await records()
    const { body } = await server.get('/records?since=1')
    const { difference } = body as { difference: Difference }
    expect((body as RecordsResponse).revision).toBe(revision)
    const first = await server.sql<{ difference: Difference }>('select difference from change where revision = 1')
    expect(
      Estate.empty
        .with(first[0]?.difference ?? emptyDifference)
        .with(difference)
        .toRecords(),
    ).toEqual(all)
    expect((await server.get('/records?since=-1')).status).toBe(400)
  })

  it('since a revision that is long ago gives all records instead', async () => {
    const other = await startServer()
    try {
      // As if so much had been recorded.
      await other.sql(`update estate_head set revision = 1001`)
      const keysOf = async (since: number) => Object.keys((await other.get(`/records?since=${since}`)).body as object).sort()
      expect(await keysOf(1)).toEqual(['difference', 'epoch', 'revision'])
      expect(await keysOf(0)).toEqual(['epoch', 'records', 'revision'])
    } finally {
      await other.stop()
    }
  })

  it('lists filter, search, sort and page', async () => {
    expect((await server.get('/hosts?sort=-name&limit=1')).body).toMatchObject({ total: 2, items: [{ name: 'gannet' }], nextOffset: 1 })
    expect((await server.get('/guests?q=PLAY&tags=air')).body).toMatchObject({ total: 1 })
    expect((await server.get('/addresses?q=10.61')).body).toMatchObject({ total: 1 })
    expect((await server.get('/guests?colour=red')).status).toBe(400)
    expect((await server.get('/unicorns')).status).toBe(404)
  })

  it('findings filter, and carry the commands of their fix', async () => {
    const adapter = { guestId: known.guest, position: 2, mac: '02:1a:4b:00:00:02' }
    await server.send([
      { type: 'network.add', record: { id: '01890000-0000-7000-8000-00000000f00d', name: 'dmz' } },
      { type: 'adapter.add', record: { ...adapter, networkId: '01890000-0000-7000-8000-00000000f00d' } },
    ])
    const { body } = await server.get('/findings?severity=error')
    expect(body).toMatchObject({ total: 1, items: [{ ruleId: 'adapter.network-not-on-host', fix: [{ type: 'attachment.add' }] }] })
    expect((await server.get('/findings?rule=nonsense')).status).toBe(400)
  })

  it('health, readiness, and a description of the API with every command', async () => {
    expect((await request(server.url).get('/healthz')).body).toEqual({ status: 'ok' })
    expect((await request(server.url).get('/readyz')).status).toBe(200)
    const { body } = await request(server.url).get('/api/docs-json')
    const { paths, components } = body as { paths: object; components: { schemas: object } }
    expect(Object.keys(paths)).toContain('/api/v1/estates/{estateId}/commands')
    expect(Object.keys(components.schemas)).toContain('command.guest.migrate')
  })

  it('every field of every kind has its column, and no column is left over', async () => {
    const columns = await server.sql<{ table_name: string; column_name: string; is_nullable: string }>(
      "select table_name, column_name, is_nullable from information_schema.columns where table_schema = 'public'",
    )
    for (const kind of kindNames) {
      const own = columns.filter((column) => column.table_name === kind && !['estate_id', 'id', 'name_key'].includes(column.column_name))
      const wanted = Object.entries(kinds[kind].fields).map(
        ([name, field]) => `${columnOf(name)} ${'optional' in field && field.optional ? 'YES' : 'NO'}`,
      )
      expect(own.map((column) => `${column.column_name} ${column.is_nullable}`).sort()).toEqual(wanted.sort())
    }
  })
})
