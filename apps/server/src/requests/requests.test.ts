import { ESTATE_TYPE, type EstateSummary, type Problem } from '@insel/contract'
import { connect } from 'node:net'
import { gzipSync } from 'node:zlib'
import { request as httpRequest, type OutgoingHttpHeaders } from 'node:http'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { createApp } from '../create-app.js'
import { firstCommands, known, newDatabase, startServer, type TestServer } from '../testing/test-server.js'
import { isLoopbackName, Names, PublicUrlError } from './names.js'
import { loggedUrl } from './request-log.js'

let server: TestServer
beforeAll(async () => {
  server = await startServer(undefined, { publicUrls: ['https://insel.skerry.example'] })
  await server.send(firstCommands)
})
afterAll(() => server.stop())

/** A request with headers that no client of a higher level lets one set. */
function raw(
  path: string,
  { method = 'GET', headers = {}, body = '' }: { method?: string; headers?: OutgoingHttpHeaders; body?: string | Buffer } = {},
) {
  return new Promise<{ status: number; body: Problem }>((resolve, reject) => {
    const sent = httpRequest(`${server.url}${path}`, { method, headers }, (answer) => {
      let text = ''
      answer.on('data', (chunk: Buffer) => (text += chunk.toString()))
      answer.on('end', () => {
        const isJson = (answer.headers['content-type'] ?? '').includes('json')
        resolve({ status: answer.statusCode ?? 0, body: (isJson ? JSON.parse(text) : {}) as Problem })
      })
    })
    sent.on('error', reject)
    sent.end(body)
  })
}
const codeOf = async (...args: Parameters<typeof raw>) => {
  const { status, body } = await raw(...args)
  return [status, body.code]
}
describe('ids in addresses', () => {
  it('names what is no id, and where', async () => {
    const { status, body } = await raw('/api/v1/estates/undefined/records')
    expect([status, body.code, body.errors.map(({ path }) => path)]).toEqual([400, 'malformed', ['estateId']])
    expect(body.detail).toContain('“undefined” in the address')
  })
  it('reads one in capitals, too', async () =>
    expect((await raw(`/api/v1/estates/${server.estateId.toUpperCase()}/records`)).status).toBe(200))
})

const count = async () => ((await request(server.url).get('/api/v1/estates')).body as EstateSummary[]).length

describe('names', () => {
  it.each([
    'rebind.example',
    'rebind.example:8100',
    '192.168.20.9',
    '127.0.0.1.rebind.example',
    'localhost.rebind.example',
    'a b',
    '127.0.0.1@x',
  ])('a request for “%s” is refused, whatever it asks', async (host) => {
    for (const path of ['/api/v1/estates', '/', '/estates/x/board', '/healthz'])
      expect(await codeOf(path, { headers: { host } })).toEqual([421, 'host-unknown'])
  })
  it.each(['localhost:9000', '127.0.0.1', '127.9.8.7:1', '[::1]:8100', 'LOCALHOST', 'insel.skerry.example'])(
    'one for “%s” is answered',
    async (host) => {
      expect((await raw('/api/v1/estates', { headers: { host } })).status).toBe(200)
    },
  )

  it('a script is sent to the public address where it was asked for there', async () => {
    const answer = await request(server.url)
      .post(`/api/v1/estates/${server.estateId}/collections`)
      .set('host', 'insel.skerry.example')
      .send({ hostId: known.host })
    expect((answer.body as { command: string }).command).toContain(
      `'https://insel.skerry.example/api/v1/estates/${server.estateId}/collect.sh'`,
    )
  })

  it('beyond loopback, addresses and the machine’s own name are names; other names still are none', () => {
    const open = new Names({ publicUrls: [], isOpenToNetwork: true })
    expect(['192.168.20.9:8100', '[fd00::9]'].map((host) => open.isKnown(host))).toEqual([true, true])
    expect(open.isKnown('rebind.example')).toBe(false)
    expect(new Names({ publicUrls: [], isOpenToNetwork: false }).isKnown('192.168.20.9:8100')).toBe(false)
    expect(['localhost', '127.0.0.1', '::1', '[::1]', '0.0.0.0', '::', '10.0.0.1', 'insel'].map(isLoopbackName)).toEqual([
      true,
      true,
      true,
      true,
      false,
      false,
      false,
      false,
    ])
    for (const wrong of ['insel.example', 'ftp://a.example', 'https://a.example/path', 'https://a:b@c.example'])
      expect(() => new Names({ publicUrls: [wrong], isOpenToNetwork: false })).toThrow(PublicUrlError)
  })
})

describe('pages elsewhere', () => {
  it.each([
    ['another site', { origin: 'https://foreign.example' }],
    ['another port of this machine', { origin: 'http://127.0.0.1:1' }],
    ['a sandboxed frame', { origin: 'null' }],
    ['an image or a frame', { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors', 'sec-fetch-dest': 'image' }],
    ['a page of the same site', { 'sec-fetch-site': 'same-site', 'sec-fetch-mode': 'cors', 'sec-fetch-dest': 'empty' }],
    ['a frame', { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'iframe' }],
  ])('%s may neither read nor write', async (_, headers) => {
    expect(await codeOf('/api/v1/estates', { headers })).toEqual([403, 'foreign-origin'])
    expect(await codeOf(`/api/v1/estates/${server.estateId}/events`, { headers })).toEqual([403, 'foreign-origin'])
    const before = await count()
    const post = { method: 'POST', headers: { ...headers, 'content-type': 'application/json' }, body: '{"name":"Foreign"}' }
    expect(await codeOf('/api/v1/estates', post)).toEqual([403, 'foreign-origin'])
    expect(await count()).toBe(before)
  })

  it('a link that is followed opens, and Insel’s own page and programs are answered', async () => {
    const link = { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'document' }
    expect((await raw('/', { headers: link })).status).toBe(200)
    expect((await raw('/api/v1/estates', { headers: { origin: server.url, 'sec-fetch-site': 'same-origin' } })).status).toBe(200)
    expect((await raw('/api/v1/estates')).status).toBe(200)
    const publicly = { host: 'insel.skerry.example', origin: 'https://insel.skerry.example' }
    expect((await raw('/api/v1/estates', { headers: publicly })).status).toBe(200)
  })

  it.each(['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=x', undefined])(
    'a body that a form can send (%s) is taken nowhere but with a collector’s code',
    async (type) => {
      const file = JSON.stringify({ format: 'insel-estate', version: 1, records: {} })
      const headers = type ? { 'content-type': type } : {}
      for (const path of ['/api/v1/estates/import', '/api/v1/estates', `/api/v1/estates/${server.estateId}/commands`])
        expect(await codeOf(path, { method: 'POST', headers, body: file })).toEqual([415, 'media-type'])
      const received = await codeOf(`/api/v1/estates/${server.estateId}/collections/received`, { method: 'POST', headers, body: 'x' })
      expect(received).toEqual(type === 'text/plain' ? [403, 'code-unusable'] : [415, 'media-type'])
    },
  )
})

describe('requests that no client sends', () => {
  // RFC 9112, section 3.2: more than one Host is a 400; 3.2.2: the whole address is the form for proxies.
  it.each([
    ['two hosts', 'GET /api/v1/estates HTTP/1.1\r\nHost: 127.0.0.1\r\nHost: rebind.example\r\nConnection: close\r\n\r\n'],
    ['a whole address', 'GET http://rebind.example/api/v1/estates HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n'],
  ])('%s: 400', async (_, text) => expect(await bytes(text)).toContain('400'))
  const commands = `/api/v1/estates/01890000-0000-7000-8000-000000000000/commands`
  const json = (body: string) => ({ method: 'POST', headers: { 'content-type': 'application/json' }, body })
  it.each([
    ['no JSON', commands, json('{"commands":'), 400, 'malformed'],
    ['a text for a body', commands, json('"x"'), 400, 'malformed'],
    ['too large a body', commands, json(`{"commands":"${'x'.repeat(2_200_000)}"}`), 413, 'too-large'],
    ['an unknown character set', commands, { ...json('{}'), headers: { 'content-type': 'application/json; charset=x' } }, 415, 'malformed'],
    [
      'packed in a way nobody knows',
      commands,
      { ...json('{}'), headers: { 'content-type': 'application/json', 'content-encoding': 'x' } },
      415,
      'malformed',
    ],
    [
      'packed, and not unpackable',
      commands,
      { ...json('{}'), headers: { 'content-type': 'application/json', 'content-encoding': 'gzip' } },
      400,
      'malformed',
    ],
    ['deep nesting', commands, json(`{"commands":${'['.repeat(50_000)}${']'.repeat(50_000)}}`), 400, 'malformed'],
    ['half a character', commands, json('{"commands":[{"type":"\\ud800"}]}'), 400, 'malformed'],
    ['NUL in a text', commands, json('{"commands":[{"type":"\\u0000"}]}'), 400, 'malformed'],
    ['a name of JavaScript’s', commands, json('{"commands":[{"__proto__":{}}]}'), 400, 'malformed'],
    ['a parameter twice', `${commands.replace('commands', 'changes')}?limit=1&limit=2`, {}, 400, 'malformed'],
    ['NUL in a parameter', '/api/v1/catalogue/systems?q=%00', {}, 400, 'malformed'],
    ['NUL in an address', '/api/v1/estates/%00/records', {}, 400, 'malformed'],
    ['half an escape', '/api/v1/estates/%E0%A4%A/records', {}, 400, 'malformed'],
    ['nothing there', '/api/v1/nothing', {}, 404, 'not-found'],
  ] as const)('%s is a problem document', async (_, path, how, status, code) => {
    expect(await codeOf(path, how)).toEqual([status, code])
  })

  it.each(['toString', 'constructor', '__proto__', 'hasOwnProperty', 'valueOf'])(
    '“%s” as a field, a kind, a command or a list is refused in a sentence',
    async (name) => {
      const at = `/api/v1/estates/${server.estateId}`
      const send = async (command: string) => {
        const { status, body } = await raw(`${at}/commands`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', 'insel-person': server.personId },
          body: `{"commands":[${command}]}`,
        })
        expect(body.detail).toMatch(/\.$/)
        return status
      }
      for (const command of [
        `{"type":"host.update","id":"${known.host}","changes":{"${name}":"x"}}`,
        `{"type":"host.add","record":{"${name}":"x"}}`,
        `{"type":"${name}"}`,
        `{"type":"${name}.add","record":{}}`,
        `{"type":"guest.resize","guestId":"${known.guest}","${name}":1}`,
        `{"type":"guest.migrate","guestId":"${known.guest}","toHostId":"${known.second}","stores":{"${name}":"x"}}`,
        `{"type":"guest.add","record":{"name":"a","vcpu":1,"memoryMiB":512,"state":"${name}"}}`,
      ])
        expect(await send(command)).toBe(400)
      for (const path of [
        `${at}/${name}`,
        `${at}/guests?${name}=x`,
        `${at}/guests?sort=${name}`,
        `${at}/findings?rule=${name}`,
        `${at}/exports/zones/${name}`,
      ])
        expect([path, (await raw(path)).status]).toEqual([path, expect.toSatisfy((status: number) => status < 500) as number])
      expect(
        (
          await raw('/api/v1/estates', {
            method: 'POST',
            headers: { 'content-type': 'application/json' },
            body: `{"name":"x","${name}":1}`,
          })
        ).status,
      ).toBe(400)
    },
  )
})

/** Bytes as they are sent, and the first line of the answer. */
function bytes(text: string): Promise<string> {
  const { hostname, port } = new URL(server.url)
  return new Promise((resolve, reject) => {
    const socket = connect(Number(port), hostname, () => socket.write(text))
    let answer = ''
    socket.on('data', (chunk: Buffer) => (answer += chunk.toString()))
    socket.on('error', reject)
    socket.on('close', () => resolve(answer.split('\r\n')[0] ?? ''))
  })
}

describe('memory', () => {
  it('large bodies that trickle in keep nobody from recording', async () => {
    const { hostname, port } = new URL(server.url)
    const slow = Array.from({ length: 120 }, () => {
      const socket = connect(Number(port), hostname)
      socket.write(`POST /api/v1/estates HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: 2000000\r\n\r\n{`)
      return socket
    })
    // The last of them is sent away, so the others are being read.
    const busy = await Promise.race(
      slow.map((socket) => new Promise<string>((resolve) => socket.once('data', (data) => resolve(String(data))))),
    )
    expect(busy).toContain('503')
    const { status } = await request(server.url).post('/api/v1/estates').send({ name: 'Beside slow ones' })
    for (const socket of slow) socket.destroy()
    expect(status).toBe(201)
  })
  it('30 small bodies that unpack to 64 MB each are not read at once', async () => {
    const packed = gzipSync(Buffer.alloc(63_000_000, 32))
    expect(packed.length).toBeLessThan(100_000)
    const before = process.memoryUsage().rss
    let highest = before
    const watch = setInterval(() => (highest = Math.max(highest, process.memoryUsage().rss)), 20)
    const headers = { 'content-type': ESTATE_TYPE, 'content-encoding': 'gzip' }
    const answers = await Promise.all(
      Array.from({ length: 30 }, () => codeOf('/api/v1/estates/import', { method: 'POST', headers, body: packed })),
    )
    clearInterval(watch)
    const statuses = answers.map(([status]) => status)
    expect(new Set(statuses)).toEqual(new Set([422, 503]))
    console.info(
      `30 bodies of ${packed.length} bytes: ${statuses.filter((status) => status === 503).length} sent away, ${((highest - before) / 1e6).toFixed(0)} MB more memory at the most`,
    )
    expect(highest - before).toBeLessThan(1e9)
    // What was read is let go of: the next is taken.
    expect((await raw('/api/v1/estates/import', { method: 'POST', headers, body: packed })).status).toBe(422)
  })
})

describe('the log', () => {
  it('holds no code and no key', () => {
    expect(loggedUrl('/api/v1/estates/1/collect.sh?code=abc&x=1')).toBe('/api/v1/estates/1/collect.sh?code=…&x=1')
    expect(loggedUrl('/api/v1/estates/1/observations/received?a=1&key=abc')).toBe('/api/v1/estates/1/observations/received?a=1&key=…')
  })

  it('as it is written: addresses without what is as good as a password', async () => {
    const written: string[] = []
    const { write } = process.stdout
    process.stdout.write = (text: string) => written.push(text) > 0
    const app = await createApp({ databaseUrl: await newDatabase(), logLevel: 'info' })
    try {
      await app.listen(0, '127.0.0.1')
      const url = await app.getUrl()
      await request(url)
        .get('/api/v1/estates/01890000-0000-7000-8000-000000000000/collect.sh?code=first-secret')
        .set('insel-code', 'second-secret')
      await request(url).get('/api/v1/estates/01890000-0000-7000-8000-000000000000/observe.sh?key=third-secret')
    } finally {
      await app.close()
      process.stdout.write = write
    }
    const all = written.join('')
    expect(all).toContain('/collect.sh?code=…')
    expect(all).not.toMatch(/(first|second|third)-secret/)
  })
})
