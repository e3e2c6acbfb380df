import type { ChangesPage, CommandsResponse, EstateSummary, Problem } from '@insel/contract'
import { spawnSync } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { chmodSync, mkdirSync, mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import request from 'supertest'
import { afterEach, describe, expect, inject, it } from 'vitest'
import { childrenOf, clusterOwner, removeCluster, startCluster, type Cluster } from '../../../../workbench/cluster.js'
import { startProcess, type ServerProcess } from '../testing/server-process.js'

let clean: (() => unknown)[] = []
afterEach(async () => {
  for (const step of clean.reverse()) await step()
  clean = []
})

/** A PostgreSQL of a test's own, which it may stop, pause and fill. */
async function ownCluster(isForTests = true): Promise<{ cluster: Cluster; folder: string }> {
  const folder = mkdtempSync(join(tmpdir(), 'insel-outage-'))
  chmodSync(folder, 0o755)
  const cluster = await startCluster(join(folder, 'cluster'), { isForTests })
  clean.push(
    () => removeCluster(join(folder, 'cluster')),
    () => cluster.stop(),
  )
  return { cluster, folder }
}

async function ownServer(databaseUrl: string): Promise<{ server: ServerProcess; estate: EstateSummary & { personId: string } }> {
  const server = await startProcess(databaseUrl)
  clean.push(async () => {
    server.child.kill('SIGTERM')
    await server.gone
  })
  const { body } = await request(server.url).post('/api/v1/estates').send({ name: 'Short-lived', recordedAs: 'Ola' })
  return { server, estate: body as EstateSummary & { personId: string } }
}

const pidOf = (folder: string) => Number(readFileSync(join(folder, 'cluster/data/postmaster.pid'), 'utf8').split('\n')[0])
/** All processes of a PostgreSQL: itself and those of its connections. */
const processesOf = (pid: number) => [pid, ...childrenOf(pid)]
const signal = (pids: readonly number[], which: NodeJS.Signals) => pids.forEach((pid) => process.kill(pid, which))

function sender(url: string, { id, personId }: EstateSummary & { personId: string }) {
  let count = 0
  return (submission?: string, commands: object[] = [{ type: 'network.add', record: { name: `net-${++count}` } }]) => {
    const asked = request(url).post(`/api/v1/estates/${id}/commands?findings=false`).set('insel-person', personId)
    return (submission ? asked.set('insel-submission', submission) : asked).send({ commands })
  }
}

describe('a database that is paused', () => {
  it.runIf(inject('isLong'))(
    'is waited for in seconds: a change is of unknown outcome, reading is 503, and what is sent again is done once',
    async () => {
      const { cluster, folder } = await ownCluster()
      const { server, estate } = await ownServer(cluster.url)
      const send = sender(server.url, estate)
      // As many connections as are asked of below: what has to make one first was never asked, and is told so.
      await Promise.all(Array.from({ length: 10 }, () => request(server.url).get(`/api/v1/estates/${estate.id}/records`)))
      await send().expect(200)
      const paused = processesOf(pidOf(folder))
      signal(paused, 'SIGSTOP')
      const submission = '018c0000-0000-7000-8000-00000000000a'
      const commands = [{ type: 'network.add', record: { name: 'phones' } }]
      const start = performance.now()
      try {
        const ready = await request(server.url).get('/readyz')
        expect([ready.status, (ready.body as Problem).code]).toEqual([503, 'database-unavailable'])
        expect(performance.now() - start).toBeLessThan(4000)
        const [change, read, ...others] = await Promise.all([
          send(submission, commands),
          request(server.url).get(`/api/v1/estates/${estate.id}/records`),
          ...Array.from({ length: 6 }, () => send()),
        ])
        expect([change.status, (change.body as Problem).code, change.headers['retry-after']]).toEqual([503, 'outcome-unknown', '5'])
        expect((change.body as Problem).detail).not.toContain('nothing was changed')
        expect([read.status, (read.body as Problem).code]).toEqual([503, 'database-unavailable'])
        // Who waited behind it was never begun, and is told so.
        for (const other of others)
          expect([other.status, ['busy', 'outcome-unknown', 'database-unavailable']]).toEqual([
            503,
            expect.arrayContaining([(other.body as Problem).code]),
          ])
        expect(performance.now() - start).toBeLessThan(25_000)
        expect((await request(server.url).get('/healthz')).status).toBe(200)
      } finally {
        signal(paused, 'SIGCONT')
      }
      // It goes on by itself, and the change is there once, whether it was done before or is done now.
      await expect.poll(async () => (await request(server.url).get('/readyz')).status, { timeout: 20_000 }).toBe(200)
      const again = await send(submission, commands).expect(200)
      const { changes } = (await request(server.url).get(`/api/v1/estates/${estate.id}/changes?limit=50`)).body as ChangesPage
      expect(changes.filter(({ commands: said }) => JSON.stringify(said).includes('"phones"')).map(({ revision }) => revision)).toEqual([
        (again.body as CommandsResponse).revision,
      ])
    },
  )
})

/** Whether this machine lets a test have file systems of its own. */
const mayMount = spawnSync('unshare', ['-m', 'true']).status === 0

describe('a full disk', () => {
  it.runIf(mayMount)('is 503 with what is wrong and when to try again, also of readyz, and goes away with the cause', async () => {
    const { cluster, folder } = await ownCluster()
    // PostgreSQL sees the small file system since it is mounted where it is, not where this test is.
    const small = join(folder, 'small')
    mkdirSync(small)
    const pid = pidOf(folder)
    const inside = (...command: string[]) => {
      const done = spawnSync('nsenter', ['-m', '-t', String(pid), ...command], { encoding: 'utf8' })
      expect([command.join(' '), done.stderr]).toEqual([command.join(' '), ''])
    }
    inside('mount', '-t', 'tmpfs', '-o', `size=1m,uid=${clusterOwner()?.uid ?? process.getuid?.() ?? 0},mode=700`, 'tmpfs', small)
    clean.push(() => inside('umount', '-l', small))
    const { server, estate } = await ownServer(cluster.url)
    const admin = new pg.Client({ connectionString: cluster.adminUrl })
    admin.on('error', () => undefined)
    clean.push(() => admin.end())
    await admin.connect()
    await admin.query(`create tablespace small location '${small}'`)
    await admin.query('alter table change set tablespace small')
    const send = sender(server.url, estate)
    const note = () => randomBytes(1400).toString('hex')
    let refused: { status: number; body: Problem; headers: Record<string, string> } | undefined
    for (let tries = 0; tries < 400 && !refused; tries++) {
      const answer = await send(undefined, [{ type: 'network.add', record: { name: `full-${tries}`, note: note() } }])
      if (answer.status !== 200) refused = answer as unknown as typeof refused
    }
    expect(refused).toMatchObject({
      status: 503,
      body: { code: 'database-full', detail: expect.stringMatching(/disk of the database is full.*nothing was changed/) },
    })
    expect(refused?.headers['retry-after']).toBe('30')
    const ready = await request(server.url).get('/readyz')
    expect([ready.status, (ready.body as Problem).code]).toEqual([503, 'database-full'])
    expect((await request(server.url).get(`/api/v1/estates/${estate.id}/records`)).status).toBe(200)
    await admin.query('alter table change set tablespace pg_default')
    await admin.query('drop tablespace small')
    await send().expect(200)
    expect((await request(server.url).get('/readyz')).status).toBe(200)
  })
  it.skipIf(mayMount)('cannot be tried here: this machine lets nobody mount', ({ skip }) => skip())
})

describe('a database that comes and goes', () => {
  const restarts = inject('isLong') ? 20 : 3
  it(`${restarts} restarts under 16 clients: no 500, no acknowledged change lost, back by itself`, async () => {
    // One that waits for the disk: what it acknowledges is to outlast its end.
    const { cluster, folder } = await ownCluster(false)
    const { server, estate } = await ownServer(cluster.url)
    const send = sender(server.url, estate)
    const acknowledged: number[] = []
    const statuses = new Map<number, number>()
    let isOver = false
    const clients = Array.from({ length: 16 }, async () => {
      while (!isOver) {
        const { status, body } = await send()
        statuses.set(status, (statuses.get(status) ?? 0) + 1)
        if (status === 200) acknowledged.push((body as CommandsResponse).revision)
      }
    })
    let running = cluster
    clean.push(() => running.stop())
    for (let turn = 0; turn < restarts; turn++) {
      const before = acknowledged.length
      await expect.poll(() => acknowledged.length, { timeout: 20_000 }).toBeGreaterThan(before + 5)
      // Every other time without a warning.
      if (turn % 2) signal([pidOf(folder)], 'SIGQUIT')
      else await running.stop()
      await running.gone
      running = await startCluster(join(folder, 'cluster'), { isForTests: false, port: cluster.port })
    }
    const before = acknowledged.length
    await expect.poll(() => acknowledged.length, { timeout: 20_000 }).toBeGreaterThan(before)
    isOver = true
    await Promise.all(clients)
    console.info(`${restarts} restarts: ${acknowledged.length} acknowledged; answers ${JSON.stringify([...statuses])}`)
    expect([...statuses.keys()].filter((status) => status !== 200 && status !== 503)).toEqual([])
    const revisions = new Set<number>()
    for (let next: number | null = null, isFirst = true; isFirst || next !== null; isFirst = false) {
      const page = (
        await request(server.url).get(`/api/v1/estates/${estate.id}/changes?limit=200${next === null ? '' : `&before=${next}`}`)
      ).body as ChangesPage
      page.changes.forEach(({ revision }) => revisions.add(revision))
      next = page.nextBefore
    }
    expect(acknowledged.filter((revision) => !revisions.has(revision))).toEqual([])
    expect(new Set(acknowledged).size).toBe(acknowledged.length)
  }, 300_000)

  it('that has no connection left is 503, and nothing is lost', async () => {
    const { cluster } = await ownCluster()
    const { server, estate } = await ownServer(cluster.url)
    const taken: pg.Client[] = []
    try {
      for (;;) {
        const client = new pg.Client({ connectionString: cluster.adminUrl })
        client.on('error', () => undefined)
        await client.connect()
        taken.push(client)
      }
    } catch (error) {
      expect((error as { code?: string }).code).toBe('53300')
    }
    const answers = await Promise.all(Array.from({ length: 12 }, () => request(server.url).get(`/api/v1/estates/${estate.id}/records`)))
    expect(answers.map(({ status }) => status).filter((status) => status !== 200 && status !== 503)).toEqual([])
    await Promise.all(taken.map((client) => client.end()))
    await expect.poll(async () => (await sender(server.url, estate)()).status, { timeout: 20_000 }).toBe(200)
  })
})
