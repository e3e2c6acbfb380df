import { execFile } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { KEY_HEADER, type DailyResponse, type ObservationsTaken, type ObserverStarted, type SummariesResponse } from '@insel/contract'
import type { Sample } from '@insel/core'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'

// The server answers from this process: a script that sends to it must not block it.
const run = async (file: string, ...args: string[]) => (await promisify(execFile)('sh', [file, ...args], { timeout: 20_000 })).stdout

let server: TestServer
let base: string
beforeAll(async () => {
  server = await startServer()
  base = `/api/v1/estates/${server.estateId}`
  expect((await server.send(firstCommands)).status).toBe(200)
})
afterAll(() => server.stop())

const take = async (samples: readonly object[]) => request(server.url).post(`${base}/observations`).send({ samples })
const hourly = (subjectId: string, hours: number, of: (hour: number) => object) =>
  Array.from({ length: hours }, (_, hour) => ({ subjectId, at: new Date(Date.UTC(2026, 0, 1, hour)).toISOString(), ...of(hour) }))

describe('observations', () => {
  it('are kept by the day, merged by the second, and summed up as they come', async () => {
    const samples = hourly(known.guest, 10 * 24, (hour) => ({ cpuPercent: hour % 50, memoryMiB: 2000 + hour, diskBytes: 1e9 + hour * 1e6 }))
    // In two parts that overlap, the later first: the order in which they come does not matter.
    expect(((await take(samples.slice(100))).body as ObservationsTaken).taken).toBe(140)
    expect(((await take(samples.slice(0, 120))).body as ObservationsTaken).rejected).toEqual([])
    const back = (await server.get(`/observations/samples?subjectId=${known.guest}&days=90`)).body as Sample[]
    expect(back.map(({ at, memoryMiB }) => [at, memoryMiB])).toEqual(
      samples.map((sample) => [sample.at, (sample as { memoryMiB?: number }).memoryMiB]),
    )
    const { summaries, lastSeen } = (await server.get('/observations/summaries?days=7')).body as SummariesResponse
    expect(lastSeen).toBe('2026-01-10T23:00:00.000Z')
    expect(summaries[known.guest]).toMatchObject({ cpu: { count: 168, peak: 49 }, memory: { peak: 2239 }, disk: { last: 1e9 + 239e6 } })
    expect(summaries[known.guest]?.disk?.perDay?.value).toBeCloseTo(24e6, 0)
    const { daily } = (await server.get(`/observations/daily?storeId=${known.store}`)).body as DailyResponse
    expect(daily[known.guest]?.at(-1)).toEqual(['2026-01-10', 1e9 + 239e6])
    expect(((await server.get('/observations/daily')).body as DailyResponse).daily[known.guest]).toHaveLength(10)
  })

  it('a later value of the same second counts, what it does not measure stays', async () => {
    const at = '2026-01-05T05:00:00.000Z'
    await take([{ subjectId: known.guest, at, cpuPercent: 99 }])
    const back = (await server.get(`/observations/samples?subjectId=${known.guest}&days=90`)).body as Sample[]
    expect(back.find((sample) => sample.at === at)).toMatchObject({ cpuPercent: 99, memoryMiB: 2101 })
  })

  it('wrong ones are named and left out; a malformed list is refused whole', async () => {
    const { body } = await take([
      { subjectId: known.guest, at: '2026-01-01T00:00:00Z', cpuPercent: 180 },
      { subjectId: known.host, at: '2026-01-01T00:00:00Z', cpuPercent: 1 },
      { subjectId: known.store, at: '2026-01-01T00:00:00Z', diskBytes: 5e9 },
    ])
    expect(body).toMatchObject({
      taken: 1,
      rejected: [{ index: 0 }, { index: 1, reason: 'subjectId is not a guest or store of this estate.' }],
    })
    for (const samples of [[{ subjectId: known.guest }], [{ subjectId: known.guest, at: 'x', colour: 1 }], 'many'])
      expect((await request(server.url).post(`${base}/observations`).send({ samples })).status).toBe(400)
    expect((await server.get('/observations/summaries?days=8')).status).toBe(400)
  })

  it('two servers’ worth of samples at once lose nothing', async () => {
    const many = hourly(known.store, 48, (hour) => ({ diskBytes: hour }))
    await Promise.all([0, 1, 2, 3].map((part) => take(many.filter((_, index) => index % 4 === part))))
    expect((await server.get(`/observations/samples?subjectId=${known.store}&days=90`)).body).toHaveLength(48)
  })
})

describe('a guest that sends on its own', () => {
  const folder = mkdtempSync(join(tmpdir(), 'insel-observe-'))
  afterAll(() => rmSync(folder, { recursive: true }))

  it('runs the script: it measures this machine, sends when told to, and its key can be made void', async () => {
    const { command } = (await request(server.url).post(`${base}/observers`).send({ guestId: known.guest })).body as ObserverStarted
    const key = new RegExp(`${KEY_HEADER}: ([\\w-]+)`).exec(command)?.[1] ?? ''
    const script = await server.get('/observe.sh').set(KEY_HEADER, key)
    expect(script.headers['content-type']).toContain('shellscript')
    const file = join(folder, 'insel-observe')
    writeFileSync(file, script.text.replace('sleep 5', 'sleep 0.2'))
    expect(await run(file)).toMatch(/^cpu=[\d.]+\nmemory=\d+\ndisk=\d+\n$/)
    expect(await run(file, '--schedule')).toMatch(/^\d+ \* \* \* \* .*insel-observe --send$/m)
    await run(file, '--send')
    const samples = (await server.get(`/observations/samples?subjectId=${known.guest}&days=1`)).body as Sample[]
    // The kernel's own count of memory is the reference: what is in use is under it.
    const total = Number(/^MemTotal:\s+(\d+)/m.exec(readFileSync('/proc/meminfo', 'utf8'))?.[1]) / 1024
    expect(samples.at(-1)?.memoryMiB).toBeLessThan(total)
    expect(samples.at(-1)?.memoryMiB).toBeGreaterThan(0)
    const state = await server.get(`/observers/${known.guest}`)
    expect((state.body as { observer: { lastSeenAt: string } }).observer.lastSeenAt).not.toBeNull()
    // Installed before the key had a header, a script sends it in the address.
    const old = await request(server.url).post(`${base}/observations/received?key=${key}`).set('content-type', 'text/plain').send('cpu=7')
    expect(old.status).toBe(200)
    await request(server.url).delete(`${base}/observers/${known.guest}`)
    expect((await server.get(`/observe.sh?key=${key}`)).status).toBe(403)
  })
})
