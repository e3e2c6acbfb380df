import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ProblemError } from '../problems/problem.js'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'
import { HeavyWork } from './heavy-work.js'
import { costOf, isHeavy } from './cost.js'
import type { Tasks } from './tasks.js'

let server: TestServer
let work: HeavyWork
beforeAll(async () => {
  server = await startServer()
  work = server.app.get(HeavyWork, { strict: false })
  expect((await server.send(firstCommands)).status).toBe(200)
})
afterAll(() => server.stop())

const table = (rows: number) => ({
  kind: 'guests' as const,
  text: ['name,host,vcpu,memory (MiB)', ...Array.from({ length: rows }, (_, at) => `web-${at},gannet,1,64`)].join('\n'),
})
const here = <K extends keyof Tasks>(task: K, input: Parameters<Tasks[K]>[1]) => work.do(server.estateId, task, input, false)
const beside = <K extends keyof Tasks>(task: K, input: Parameters<Tasks[K]>[1]) => work.do(server.estateId, task, input, true)

describe('work in a thread of its own', () => {
  it('gives what is given here', async () => {
    const now = '2027-03-09T22:00:00Z'
    expect(await beside('file', now)).toBe(await here('file', now))
    expect(await beside('guestsCsv', undefined)).toBe(await here('guestsCsv', undefined))
    expect(await beside('recordsCsv', 'host')).toBe(await here('recordsCsv', 'host'))
    expect(await beside('findings', {})).toEqual(await here('findings', {}))
    expect((await beside('findings', { severity: 'error' })).items.every(({ severity }) => severity === 'error')).toBe(true)
    const question = { from: known.guest, to: known.host, protocol: 'icmp' as const }
    expect(await beside('reach', question)).toEqual(await here('reach', question))
    const [there, own] = [await beside('preview', table(3)), await here('preview', table(3))]
    expect(there).toMatchObject({ revision: own.revision, commands: { length: own.commands.length } })
  })

  it('follows the record', async () => {
    const before = await beside('guestsCsv', undefined)
    expect((await server.send([{ type: 'guest.update', id: known.guest, changes: { vcpu: 7 } }])).status).toBe(200)
    const after = await beside('guestsCsv', undefined)
    expect([before, after]).toEqual([
      expect.stringContaining('playout-1,gannet,running,4,'),
      expect.stringContaining('playout-1,gannet,running,7,'),
    ])
  })

  it('refuses with the same problem', async () => {
    const problemOf = (asked: Promise<unknown>) =>
      asked.then(
        () => undefined,
        (error: unknown) => (error as ProblemError).problem,
      )
    const nowhere = { from: known.platform, to: known.host, protocol: 'icmp' as const }
    const refused = await problemOf(here('reach', nowhere))
    expect(refused).toMatchObject({ status: 422, code: 'not-in-the-plan', errors: [{ path: 'from' }] })
    expect(await problemOf(beside('reach', nowhere))).toEqual(refused)
    expect(await problemOf(beside('preview', { kind: 'guests', text: '' }))).toMatchObject({ status: 400 })
    expect(await problemOf(work.do(known.platform, 'guestsCsv', undefined, true))).toMatchObject({ status: 404 })
  })

  it('keeps nobody else waiting', async () => {
    const state = { isDone: false }
    const reading = beside('imported', table(5000)).finally(() => (state.isDone = true))
    // As many answers as fit before it is done: with the work here, there would be none.
    let answers = 0
    while (!state.isDone) if ((await fetch(`${server.url}/healthz`)).ok) answers++
    expect((await reading).commands.length).toBeGreaterThanOrEqual(5000)
    expect(answers).toBeGreaterThan(5)
  })

  it('is for large texts and large estates', async () => {
    const file = JSON.parse(await here('file', '2027-03-09T22:00:00Z')) as { records: Record<string, unknown[]> }
    const estate = { count: (kind: string) => file.records[kind]?.length ?? 0 }
    const at = (many: number) => ({ estate: { count: (kind: string) => estate.count(kind) * many } }) as never
    expect([isHeavy(at(1), undefined), isHeavy(at(1), table(5000)), isHeavy(at(1000), undefined)]).toEqual([false, true, true])
    // What a text costs is judged by what it is and how it is made: 2 kB of items of a plan are more work than 100 kB of one line.
    const plan = { kind: 'plan', text: '{"a":{}},'.repeat(60) }
    expect([costOf({ kind: 'names', text: 'x'.repeat(100_000) }) < 6, isHeavy(at(1), plan), isHeavy(at(1), table(20))]).toEqual([
      true,
      true,
      false,
    ])
  })
})
