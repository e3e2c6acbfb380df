import { MikroORM } from '@mikro-orm/core'
import { Agent, request as httpRequest } from 'node:http'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Problem, RecordsResponse } from '@insel/contract'
import { verifyLogs } from '../database/verify-log.js'
import { hostileRequests, NASTY } from '../testing/hostile-bodies.js'
import { startProcess, type ServerProcess } from '../testing/server-process.js'
import { firstCommands, startServer, type TestServer } from '../testing/test-server.js'

const BODIES = inject('isLong') ? 20_000 : 1_500
const AT_ONCE = 12
/** Decides every body, so that a failure can be seen again; printed with it. */
const SEED = Number(process.env['INSEL_SEED'] ?? 20261125)

let server: TestServer
/** Attacked in its own process, as it runs with users. */
let target: ServerProcess
const agent = new Agent({ keepAlive: true, maxSockets: AT_ONCE + 1 })
beforeAll(async () => {
  server = await startServer()
  await server.send(firstCommands)
  target = await startProcess(server.databaseUrl)
})
afterAll(async () => {
  agent.destroy()
  target.child.kill('SIGTERM')
  await target.gone
  await server.stop()
})

const ask = (path: string, body?: string) =>
  new Promise<{ status: number; type: string; text: string }>((resolve, reject) => {
    const sent = httpRequest(
      `${target.url}${path}`,
      {
        agent,
        method: body === undefined ? 'GET' : 'POST',
        headers: { ...(body === undefined ? {} : { 'content-type': 'application/json' }), 'insel-person': server.personId },
      },
      (answer) => {
        let text = ''
        answer.setEncoding('utf8')
        answer.on('data', (chunk: string) => (text += chunk))
        answer.on('end', () => resolve({ status: answer.statusCode ?? 0, type: answer.headers['content-type'] ?? '', text }))
      },
    )
    sent.on('error', reject)
    sent.end(body)
  })

describe(`${BODIES} bodies that know the schema and break it`, () => {
  it('give no 5xx, leave nothing half written, and hold nobody else up', async () => {
    const { records } = (await server.get('/records')).body as RecordsResponse
    const ids = Object.values(records).flatMap((list) => list.map(({ id }) => id))
    const requests = hostileRequests(server.estateId, ids, SEED)
    const counts = new Map<number, number>()
    const wrong: string[] = []
    let left = BODIES
    const over = new AbortController()
    const waits: number[] = []
    const start = performance.now()
    const health = (async () => {
      while (!over.signal.aborted) {
        const asked = performance.now()
        expect((await ask('/healthz')).status).toBe(200)
        waits.push(performance.now() - asked)
        await new Promise((resolve) => setTimeout(resolve, 50))
      }
    })()
    const attacker = async () => {
      while (left-- > 0) {
        const { path, body } = requests.next().value as { path: string; body: string }
        const { status, type, text } = await ask(path, body)
        counts.set(status, (counts.get(status) ?? 0) + 1)
        const isSentence = status < 400 || (type.startsWith('application/problem+json') && /\.$/.test((JSON.parse(text) as Problem).detail))
        if ((status >= 500 || !isSentence) && wrong.length < 20)
          wrong.push(`${status} ${path} ${body.slice(0, 600)} → ${text.slice(0, 300)}`)
      }
    }
    try {
      await Promise.all(Array.from({ length: AT_ONCE }, attacker))
    } finally {
      over.abort()
      await health
    }
    const seconds = (performance.now() - start) / 1000
    // The one wait in a hundred that is longest is the machine's as often as the server's.
    const slowest = waits.toSorted((a, b) => a - b)[Math.floor(waits.length * 0.99)] ?? Infinity
    console.info(
      `${BODIES} bodies of seed ${SEED} in ${seconds.toFixed(1)} s: ${[...counts]
        .sort(([a], [b]) => a - b)
        .map(([status, count]) => `${count} × ${status}`)
        .join(', ')}; /healthz within ${slowest.toFixed(0)} ms in 99 of 100`,
    )
    expect(wrong).toEqual([])
    expect(slowest).toBeLessThan(1000)
    // Some got through: the bodies do reach what they are to attack.
    expect(counts.get(200)).toBeGreaterThan(BODIES / 100)
    expect(await verifyLogs(server.app.get<MikroORM>(MikroORM).em as never)).toEqual([])
  }, 240_000)
})

/** Every other body that is taken, with all that may be in it. */
const others: readonly (readonly [path: string, body: Readonly<Record<string, unknown>>])[] = [
  ['', { name: 'x', domain: 'x.example', timeZone: 'UTC', recordedAs: 'x' }],
  ['/ESTATE/migrations/ANY/samples', { samples: [], text: '43 %', style: 'point', saidAt: '2027-01-18T08:00:00Z' }],
  ['/ESTATE/imports', { kind: 'tables', text: 'name', columns: {}, tables: [], stateOfNew: 'planned', records: {} }],
  ['/ESTATE/imports/apply', { kind: 'guests', text: 'name', columns: {}, tables: [], stateOfNew: 'planned', records: {} }],
  ['/ESTATE/observations', { samples: [] }],
  ['/ESTATE/observers', { guestId: 'ANY' }],
  ['/ESTATE/plans/ANY/items/ANY/carry-out', { minutes: 1, note: 'x', isMeant: true }],
  ['/ESTATE/reachability', { from: 'x', to: 'x', protocol: 'tcp', port: 22 }],
  ['/ESTATE/reachability/ping', { from: 'x', target: 'x' }],
  ['/ESTATE/reachability/look-up', { from: 'x', name: 'x' }],
  ['/ESTATE/redfish', { url: 'http://127.0.0.1:1/', user: 'x', password: 'x', fingerprint: 'x' }],
  ['/ESTATE/collections', { hostId: 'ANY', guestId: 'ANY' }],
  ['/ESTATE/commands', { commands: [], expectedRevision: 1, expectedEpoch: 'x', dryRun: true }],
]

it.each(others)('%s answers each field of its body being anything at all with a sentence', async (path, body) => {
  const at = `/api/v1/estates${path.replace('ESTATE', server.estateId).replaceAll('ANY', server.personId)}`
  const wrong: string[] = []
  for (const field of Object.keys(body))
    for (const value of NASTY)
      // What is left out beside it may be what makes it matter.
      for (const rest of [body, {}]) {
        const asked = JSON.stringify({ ...rest, [field]: value })
        const { status, text } = await ask(at, asked)
        // 502: the address of a controller does not answer.
        if ((status >= 500 && status !== 502) || text.includes(`no field “${field}”`))
          wrong.push(`${status} ${asked.slice(0, 200)} → ${text.slice(0, 200)}`)
      }
  expect(wrong).toEqual([])
})
