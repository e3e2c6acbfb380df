import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Problem } from '@insel/contract'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { manners, startBadServer, type BadServer, type Manner } from '../testing/bad-manners.js'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'
import { MayAsk, MayAskError, type Purpose } from './may-ask.js'
import { isPlainPath, OutgoingClient, OutgoingError } from './outgoing-client.js'

const oneSeat = new MayAsk({ isOpenToNetwork: false })
const openToAll = new MayAsk({ isOpenToNetwork: true })
const listed = new MayAsk({ mayAsk: ['203.0.113.0/24', '2001:db8::/32'], isOpenToNetwork: true })

describe('where a server may ask', () => {
  const asks = (policy: MayAsk, purpose: Purpose, address: string) => policy.refusal(purpose, address) === undefined

  // RFC 1122 and RFC 4291 (loopback), RFC 1918 and RFC 4193 (private), RFC 5737 and RFC 3849 (documentation).
  it.each<[string, MayAsk, readonly string[], readonly string[]]>([
    ['transfers, nothing listed', oneSeat, ['127.0.0.1', '127.9.9.9', '::1', '::ffff:127.0.0.1'], ['10.61.10.9', '192.0.2.1', 'fd00::9', '8.8.8.8']],
    ['transfers, listed', listed, ['127.0.0.1', '203.0.113.7', '2001:db8::1', '::ffff:203.0.113.7', '::ffff:cb00:7107'], ['203.0.114.1', '10.0.0.1']],
  ])('%s', (_, policy, may, mayNot) => {
    expect(may.filter((address) => !asks(policy, 'transfers', address))).toEqual([])
    expect(mayNot.filter((address) => asks(policy, 'transfers', address))).toEqual([])
  })

  it('controllers: this machine and private addresses, while there is one seat; otherwise what is listed', () => {
    for (const address of ['10.61.10.207', '172.31.0.1', '192.168.1.1', 'fd12::1', '127.0.0.1'])
      expect([address, asks(oneSeat, 'controllers', address), asks(openToAll, 'controllers', address)]).toEqual([address, true, false])
    for (const address of ['172.32.0.1', '11.0.0.1', '203.0.113.7', '2001:db8::1']) expect(asks(oneSeat, 'controllers', address)).toBe(false)
    expect(['203.0.113.7', '10.61.10.207'].map((address) => asks(listed, 'controllers', address))).toEqual([true, false])
  })

  it('link-local, metadata and addresses that stand for others: never, listed or not', () => {
    const all = new MayAsk({ mayAsk: ['0.0.0.0/0', '::/0'], isOpenToNetwork: false })
    const never = [
      ...['169.254.169.254', '169.254.0.1', '::ffff:169.254.169.254', '::ffff:a9fe:a9fe', 'fe80::1', 'fd00:ec2::254'],
      ...['0.0.0.0', '255.255.255.255', '224.0.0.1', 'ff02::1', '::', '64:ff9b::a9fe:a9fe', '2002:a9fe:a9fe::1', '::a9fe:a9fe'],
    ]
    for (const purpose of ['transfers', 'controllers'] as const) expect(never.filter((address) => asks(all, purpose, address))).toEqual([])
    expect(['8.8.8.8', '2001:db8::1', '::1', '10.0.0.1'].filter((address) => !asks(all, 'transfers', address))).toEqual([])
    // What cannot be read as an address is not asked.
    expect(asks(all, 'transfers', 'fe80::1%eth0') || asks(all, 'transfers', 'localhost') || asks(all, 'transfers', '')).toBe(false)
  })

  it.each(['10.61.0.0/33', '10.61.0.0/x', 'insel.example', '10.61', '::/129', '10.0.0.0/8/8', ''])('“%s” is no prefix to list', (prefix) =>
    expect(() => new MayAsk({ mayAsk: [prefix], isOpenToNetwork: false })).toThrow(MayAskError),
  )

  it('a path is sent as it is written, or not at all', () => {
    const url = new URL('https://10.61.10.207:8443')
    for (const path of ['/redfish/v1', '/redfish/v1/Systems/1?$expand=.', '/a%20b']) expect([path, isPlainPath(url, path)]).toEqual([path, true])
    for (const path of [
      ...['/redfish/v1/../../ok', '/redfish/v1/%2e%2e/ok', '/redfish/v1/.%2E/ok', '//other.example/redfish/v1', '/\\other.example'],
      ...['redfish/v1', 'https://other.example/', '/a b', '/a\tb', '/a#b', '/é', ''],
    ])
      expect([path, isPlainPath(url, path)]).toEqual([path, false])
  })
})

const client = new OutgoingClient(oneSeat)
/** What comes of asking once: the reason, the sentence, and how long it took. */
async function outcome(url: string, { path = '/x', withinMs = 600, bytesMax = 100_000 } = {}) {
  const start = performance.now()
  const said = await client.ask({ purpose: 'transfers', url: new URL(url), withinMs }, (get) => get({ path, bytesMax })).then(
    ({ status, body }) => [status, body.length],
    (error: unknown) => {
      if (!(error instanceof OutgoingError)) throw error
      return [error.reason, error.message]
    },
  )
  return { said, ms: performance.now() - start }
}

describe('a server of bad manners', () => {
  const expected: Readonly<Record<Manner, readonly unknown[]>> = {
    endless: ['too-much', expect.stringContaining('is larger than 0.1 MB; it was not read')],
    dripping: ['too-late', expect.stringContaining('did not answer within')],
    'dripping headers': ['too-late', expect.stringContaining('did not answer within')],
    bomb: ['too-much', expect.stringContaining('larger than 0.1 MB when unpacked')],
    redirect: [302, 0],
    'too short': ['unreachable', expect.stringContaining('broke off its answer')],
    reset: ['unreachable', expect.stringContaining('broke off its answer')],
    silent: ['too-late', expect.stringContaining('did not answer within')],
    brackets: [200, 75_000],
    'odd packing': ['unreachable', expect.stringContaining('packed in a way')],
    'no HTTP': ['unreachable', expect.stringContaining('cannot be read (HPE_')],
    'closed at once': ['unreachable', expect.stringContaining('broke off its answer')],
  }
  it.each(manners)('%s: ends in its time, with a sentence', async (manner) => {
    const bad = await startBadServer(manner)
    try {
      const before = process.memoryUsage().rss
      const { said, ms } = await outcome(bad.url)
      expect(said).toEqual(expected[manner])
      expect(ms).toBeLessThan(3000)
      expect(process.memoryUsage().rss - before).toBeLessThan(150e6)
      // Nothing is asked a second time, nor elsewhere.
      expect(bad.asked).toEqual(['/x'])
    } finally {
      bad.close()
    }
  })

  it('the end holds also while this program is busy', async () => {
    const bad = await startBadServer('dripping')
    const busy = setInterval(() => {
      for (const until = performance.now() + 90; performance.now() < until; );
    }, 1)
    try {
      const { said, ms } = await outcome(bad.url)
      expect([said[0], ms < 3000]).toEqual(['too-late', true])
    } finally {
      clearInterval(busy)
      bad.close()
    }
  })

  it('a name is judged by its addresses, before anything is sent; nothing is sent where a path would be another', async () => {
    const good = createServer((_, response) => response.end('{}'))
    await new Promise<void>((resolve) => good.listen(0, '127.0.0.1', resolve))
    const { port } = good.address() as AddressInfo
    expect((await outcome(`http://localhost:${port}`)).said).toEqual([200, 2])
    expect((await outcome(`http://127.1:${port}`)).said).toEqual([200, 2])
    expect((await outcome(`http://0x7f000001:${port}`)).said).toEqual([200, 2])
    expect((await outcome('http://nothing.invalid')).said).toEqual(['unreachable', 'The name nothing.invalid is not known.'])
    expect((await outcome(`http://127.0.0.1:${port}`, { path: '/a/../b' })).said[0]).toBe('not-allowed')
    expect((await outcome('http://[::ffff:169.254.169.254]')).said[0]).toBe('not-allowed')
    good.close()
  })
})

describe('the routes that ask', () => {
  const MOVE = '018c0000-0000-7000-8000-000000000001'
  let server: TestServer
  const open: (BadServer | Server)[] = []
  beforeAll(async () => {
    server = await startServer()
    await server.send(firstCommands).expect(200)
    await server
      .send([{ type: 'migration.add', record: { id: MOVE, guestId: known.guest, toHostId: known.host, totalBytes: 2 ** 30 } }])
      .expect(200)
  })
  afterAll(async () => {
    open.forEach((one) => one.close())
    await server.stop()
  })
  const base = () => `/api/v1/estates/${server.estateId}`
  const ask = () => request(server.url).post(`${base()}/migrations/${MOVE}/ask`).send({})
  const read = (body: object) => request(server.url).post(`${base()}/redfish`).send(body)

  it.each(['endless', 'bomb', 'redirect', 'too short', 'reset', 'brackets', 'no HTTP', 'closed at once'] as const)(
    '%s is 502 with a sentence, at a transfer’s address and as a controller',
    async (manner) => {
      const bad = await startBadServer(manner)
      open.push(bad)
      await server.send([{ type: 'migration.update', id: MOVE, changes: { progressAt: `${bad.url}/x` } }]).expect(200)
      for (const answer of [await ask(), await read({ url: bad.url })])
        expect([answer.status, (answer.body as Problem).detail]).toEqual([502, expect.stringMatching(/\.$/)])
    },
  )

  it('a controller’s links are followed as they are written: none leads out of its tree', async () => {
    const paths: (string | undefined)[] = []
    const controller = createServer((incoming, response) => {
      paths.push(incoming.url)
      const links = ['/redfish/v1/../../ok', '/redfish/v1/%2e%2e/ok', '/redfish/v1evil', '/redfish/v1/Systems']
      response.end(JSON.stringify(links.map((link) => ({ '@odata.id': link }))))
    })
    open.push(controller)
    await new Promise<void>((resolve) => controller.listen(0, '127.0.0.1', resolve))
    const url = `http://127.0.0.1:${(controller.address() as AddressInfo).port}`
    expect((await read({ url, user: 'reader', password: 'secret' })).status).toBe(200)
    expect(paths).toEqual(['/redfish/v1', '/redfish/v1/Systems'])
  })

  it('a controller elsewhere is refused before any connection', async () => {
    const answer = await read({ url: 'https://192.0.2.1' })
    expect([answer.status, (answer.body as Problem).code, (answer.body as Problem).detail]).toEqual([
      422,
      'not-allowed',
      expect.stringContaining('may not ask 192.0.2.1 for controllers. Start it with --may-ask 192.0.2.1'),
    ])
  })
})
