import { execFileSync } from 'node:child_process'
import { createHash, X509Certificate } from 'node:crypto'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createServer, type Server } from 'node:https'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { MayAsk } from '../outgoing/may-ask.js'
import { OutgoingClient } from '../outgoing/outgoing-client.js'
import { readRedfishTree } from './redfish-reader.js'

/** A certificate that no authority signed, as controllers have, made by openssl. */
function selfSigned(folder: string, name: string) {
  const [key, cert] = [join(folder, `${name}.key`), join(folder, `${name}.pem`)]
  execFileSync(
    'openssl',
    [
      'req',
      '-x509',
      '-newkey',
      'ec',
      '-pkeyopt',
      'ec_paramgen_curve:P-256',
      '-nodes',
      '-keyout',
      key,
      '-out',
      cert,
      '-days',
      '2',
      '-subj',
      `/CN=${name}`,
    ],
    { stdio: 'ignore' },
  )
  const pem = readFileSync(cert)
  return { key: readFileSync(key), cert: pem, fingerprint: createHash('sha256').update(new X509Certificate(pem).raw).digest('hex') }
}

const folder = mkdtempSync(join(tmpdir(), 'insel-tls-'))
const [first, second] = [selfSigned(folder, 'first'), selfSigned(folder, 'second')]
let server: Server
let passwords: string[] = []
let connections = 0
beforeAll(async () => {
  server = createServer({ key: first.key, cert: first.cert, keepAliveTimeout: 60_000 }, (request, response) => {
    passwords.push(request.headers.authorization ?? '')
    response.setHeader('content-type', 'application/json')
    response.end(JSON.stringify(request.url === '/redfish/v1' ? { Systems: { '@odata.id': '/redfish/v1/Systems' } } : { Members: [] }))
  })
  server.on('secureConnection', () => connections++)
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
})
afterAll(() => {
  server.close()
  server.closeAllConnections()
  rmSync(folder, { recursive: true })
})
const read = (fingerprint?: string) =>
  readRedfishTree(new OutgoingClient(new MayAsk({ isOpenToNetwork: false })), {
    url: new URL(`https://127.0.0.1:${(server.address() as AddressInfo).port}`),
    user: 'admin',
    password: 'secret',
    fingerprint,
  })

describe('a pinned certificate', () => {
  it('that is shown lets the reading go on, over one kept connection', async () => {
    const { redfish } = await read(first.fingerprint.toUpperCase().match(/../g)?.join(':'))
    expect(Object.keys(redfish)).toEqual(['/redfish/v1', '/redfish/v1/Systems'])
    expect(connections).toBe(1)
  })

  it('that is not shown stops it before user and password leave, also right after a reading that kept its connection', async () => {
    await read(first.fingerprint)
    passwords = []
    await expect(read(second.fingerprint)).rejects.toThrow('does not match the fingerprint given')
    await expect(read()).rejects.toThrow('is not trusted')
    expect(passwords).toEqual([])
  })

  it('is compared again when the other end has changed between two requests', async () => {
    let answers = 0
    server.once('request', (_, response) =>
      response.on('finish', () => {
        answers++
        // From now on another machine answers at this address.
        server.setSecureContext({ key: second.key, cert: second.cert })
        server.closeAllConnections()
      }),
    )
    passwords = []
    await expect(read(first.fingerprint)).rejects.toThrow(/does not match the fingerprint|broke off its answer/)
    expect([answers, passwords.length]).toEqual([1, 1])
    server.setSecureContext({ key: first.key, cert: first.cert })
  })
})
