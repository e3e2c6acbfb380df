import { Agent as HttpAgent, request as httpRequest, type IncomingMessage } from 'node:http'
import { Agent as HttpsAgent, request as httpsRequest } from 'node:https'
import type { Duplex } from 'node:stream'
import { connect, type ConnectionOptions } from 'node:tls'
import { isWorthReading, linksOf, type RedfishTree } from '@insel/core'
import { ProblemError } from '../problems/problem.js'

/** Limits that keep a slow or hostile controller from holding the server. */
const RESOURCES_MAX = 400
const BYTES_MAX = 5_000_000
const ANSWER_MS = 10_000
const WHOLE_MS = 120_000

/** What is needed to read a controller. The password is used and forgotten. */
export interface RedfishTarget {
  /** Such as `https://10.61.10.207`. */
  readonly url: URL
  readonly user?: string | undefined
  readonly password?: string | undefined
  /** SHA-256 of the certificate, for one that no authority signed: it must be this one. */
  readonly fingerprint?: string | undefined
}

const unread = (sentence: string) => new ProblemError(502, 'controller-unread', 'The controller could not be read', sentence)

/**
 * Reads a controller's resource tree by following its links from `/redfish/v1`. Only reads: every request is a GET.
 *
 * @throws ProblemError 502 with what went wrong
 * @see Redfish, DMTF DSP0266
 */
export async function readRedfishTree(target: RedfishTarget): Promise<RedfishTree> {
  // Connections of one reading only: one that was opened for another certificate is never used again.
  const agent = agentFor(target)
  try {
    return await readTree(target, agent)
  } finally {
    agent.destroy()
  }
}

async function readTree(target: RedfishTarget, agent: HttpAgent): Promise<RedfishTree> {
  const end = Date.now() + WHOLE_MS
  const resources: Record<string, unknown> = Object.create(null) as Record<string, unknown>
  const queue = ['/redfish/v1']
  const seen = new Set(queue)
  let bytes = 0
  for (let path = queue.shift(); path !== undefined; path = queue.shift()) {
    if (Date.now() > end) throw unread(`The controller did not finish within ${WHOLE_MS / 1000} s; nothing was recorded.`)
    const text = await get(target, agent, path)
    if (text === undefined) continue
    bytes += text.length
    if (bytes > BYTES_MAX) throw unread(`The controller sent more than ${BYTES_MAX / 1e6} MB, more than a description of a machine needs.`)
    let resource: unknown
    try {
      resource = JSON.parse(text)
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error
      throw unread(`The controller’s answer for ${path} is not JSON.`)
    }
    resources[path] = resource
    if (path === '/redfish/v1' && linksOf(resource).length === 0)
      throw unread('This is not a Redfish service: its root lists no resources.')
    for (const next of linksOf(resource))
      if (!seen.has(next) && isWorthReading(next) && seen.size < RESOURCES_MAX) {
        seen.add(next)
        queue.push(next)
      }
  }
  return { redfish: resources }
}

/** The agent whose connections show the pinned certificate, each of them, before anything is sent. */
function agentFor({ url, fingerprint }: RedfishTarget): HttpAgent {
  if (url.protocol !== 'https:') return new HttpAgent({ keepAlive: true, maxSockets: 1 })
  return fingerprint ? new PinningAgent(fingerprint) : new HttpsAgent({ keepAlive: true, maxSockets: 1, maxCachedSessions: 0 })
}

/** Hands out a connection only after the certificate at its other end was compared. */
class PinningAgent extends HttpsAgent {
  readonly #fingerprint: string

  constructor(fingerprint: string) {
    // A resumed session shows no certificate.
    super({ keepAlive: true, maxSockets: 1, maxCachedSessions: 0 })
    this.#fingerprint = fingerprint.replaceAll(/[:\s]/g, '').toLowerCase()
  }

  override createConnection(options: ConnectionOptions, done: (error: Error | null, stream: Duplex) => void): undefined {
    const socket = connect({ ...options, rejectUnauthorized: false })
    const failed = (error: Error) => done(error, socket)
    socket.once('error', failed)
    socket.once('secureConnect', () => {
      socket.off('error', failed)
      const { fingerprint256 } = socket.getPeerCertificate() as { fingerprint256?: string }
      if (fingerprint256?.replaceAll(':', '').toLowerCase() === this.#fingerprint) done(null, socket)
      else {
        socket.destroy()
        done(unread('The controller’s certificate does not match the fingerprint given; nothing was sent to it.'), socket)
      }
    })
    return undefined
  }
}

/** One resource's text; undefined for one that the controller does not have or does not show. */
function get({ url, user, password }: RedfishTarget, agent: HttpAgent, path: string): Promise<string | undefined> {
  const isSecure = url.protocol === 'https:'
  return new Promise((resolve, reject) => {
    const options = {
      method: 'GET',
      headers: {
        accept: 'application/json',
        ...(user ? { authorization: `Basic ${Buffer.from(`${user}:${password ?? ''}`).toString('base64')}` } : {}),
      },
      agent,
      signal: AbortSignal.timeout(ANSWER_MS),
    }
    const request = (isSecure ? httpsRequest : httpRequest)(new URL(path, url), options, (answer) => {
      read(answer, path).then(resolve, reject)
    })
    request.once('error', (error: NodeJS.ErrnoException) => reject(error instanceof ProblemError ? error : unread(why(error, url))))
    request.end()
  })
}

async function read(answer: IncomingMessage, path: string): Promise<string | undefined> {
  const { statusCode = 0 } = answer
  if (statusCode !== 200) {
    answer.resume()
    if (statusCode === 401 || statusCode === 403) {
      // Some branches need more rights than reading hardware does; the root and the systems must be readable.
      if (path === '/redfish/v1' || /\/Systems(\/[^/]+)?$/.test(path)) throw unread('The controller refuses this user or password.')
      return undefined
    }
    if (path === '/redfish/v1') throw unread(`This is not a Redfish service: the controller answers ${statusCode} at /redfish/v1.`)
    return undefined
  }
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of answer as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > BYTES_MAX) throw unread(`The controller’s answer for ${path} does not end.`)
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}

function why(error: NodeJS.ErrnoException, url: URL): string {
  if (error.name === 'AbortError' || error.name === 'TimeoutError') return `${url.host} did not answer within ${ANSWER_MS / 1000} s.`
  if (error.code === 'ECONNREFUSED') return `Nothing listens at ${url.host}.`
  if (error.code === 'ENOTFOUND') return `The name ${url.hostname} is not known.`
  if (/CERT|SELF_SIGNED|ALTNAME/.test(error.code ?? ''))
    return `The certificate of ${url.host} is not trusted (${error.code ?? ''}). Read its SHA-256 fingerprint on the controller’s own console and give it here.`
  return `${url.host} could not be read (${error.code ?? error.message}).`
}
