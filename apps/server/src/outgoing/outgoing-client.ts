import { Inject, Injectable } from '@nestjs/common'
import { lookup } from 'node:dns/promises'
import { Agent as HttpAgent, request as httpRequest, type IncomingMessage } from 'node:http'
import { Agent as HttpsAgent, request as httpsRequest } from 'node:https'
import type { LookupFunction } from 'node:net'
import type { Duplex } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib'
import { MayAsk, type Purpose } from './may-ask.js'
import { OtherCertificateError, PinningAgent } from './pinning-agent.js'

/** What is asked, and what it may cost. */
export interface Conversation {
  readonly purpose: Purpose
  /** Scheme, name and port; its path is not looked at. */
  readonly url: URL
  /** All answers together, milliseconds from now: resolving, connecting, waiting, reading and unpacking. */
  readonly withinMs: number
  /** SHA-256 of the certificate, for one that no authority signed: it must be this one. */
  readonly fingerprint?: string | undefined
}

/** One question of a conversation. */
export interface Question {
  /** Path and query: sent as they are. */
  readonly path: string
  readonly headers?: Readonly<Record<string, string>>
  /** Of the answer, as it comes in and as it is unpacked. */
  readonly bytesMax: number
  /** For this answer alone. */
  readonly withinMs?: number
}

export interface Answered {
  readonly status: number
  /** Empty where the status is not 200: such an answer is not read. */
  readonly body: Buffer
}

/** Why something was not fetched: a word for who acts on it, and a sentence for who reads it. */
export class OutgoingError extends Error {
  constructor(
    readonly reason: 'not-allowed' | 'too-late' | 'too-much' | 'unreachable',
    sentence: string,
  ) {
    super(sentence)
  }
}

/**
 * Whatever this server fetches from elsewhere, it fetches here: from where it may, as much as was said, in the time that was said, without
 * following redirects, and over connections to the address that was judged.
 */
@Injectable()
export class OutgoingClient {
  constructor(@Inject(MayAsk) private readonly mayAsk: MayAsk) {}

  /**
   * Asks one place, any number of times.
   *
   * @throws OutgoingError when it may not be asked, before anything is sent, and when it does not answer as it should
   */
  async ask<T>(about: Conversation, work: (get: (question: Question) => Promise<Answered>) => Promise<T>): Promise<T> {
    const { url, withinMs, fingerprint } = about
    const deadline = new Deadline(withinMs, url.host)
    try {
      const pinned = await this.#resolve(about, deadline)
      // Connections of this conversation only: one that was opened for another certificate or address is never used again.
      const agent = agentFor(url, fingerprint)
      try {
        return await work((question) => get(url, pinned, agent, question, deadline))
      } finally {
        agent.destroy()
      }
    } finally {
      deadline.clear()
    }
  }

  /** The address that a name stands for, judged. All of its addresses must be such as may be asked. */
  async #resolve({ purpose, url }: Conversation, deadline: Deadline): Promise<LookupFunction> {
    const name = url.hostname.replace(/^\[|\]$/g, '')
    let addresses: readonly { readonly address: string; readonly family: number }[]
    try {
      addresses = await deadline.race(lookup(name, { all: true, verbatim: true }))
    } catch (error) {
      if (error instanceof OutgoingError) throw error
      throw new OutgoingError('unreachable', `The name ${name} is not known.`)
    }
    for (const { address } of addresses) {
      const refusal = this.mayAsk.refusal(purpose, address)
      if (refusal) throw new OutgoingError('not-allowed', refusal)
    }
    const [first] = addresses
    if (!first) throw new OutgoingError('unreachable', `The name ${name} is not known.`)
    return (_name, options, done) => (options.all ? done(null, [first]) : done(null, first.address, first.family))
  }
}

/** The end of a conversation. What is busy hears of it late, so it is also looked at wherever something comes in. */
class Deadline {
  readonly #end: number
  readonly #aborting = new AbortController()
  readonly #timer: NodeJS.Timeout

  constructor(
    private readonly withinMs: number,
    private readonly who: string,
  ) {
    this.#end = performance.now() + withinMs
    this.#timer = setTimeout(() => this.#aborting.abort(), withinMs)
  }

  get signal(): AbortSignal {
    return this.#aborting.signal
  }

  /** A part of this one, which ends no later. */
  part(withinMs: number): Deadline {
    return new Deadline(Math.max(1, Math.min(withinMs, this.#end - performance.now())), this.who)
  }

  get isOver(): boolean {
    return this.signal.aborted || performance.now() >= this.#end
  }

  over(): OutgoingError {
    return new OutgoingError('too-late', `${this.who} did not answer within ${Math.max(1, Math.round(this.withinMs / 1000))} s.`)
  }

  /** What comes of work that cannot be stopped, or the end. */
  async race<T>(work: Promise<T>): Promise<T> {
    return new Promise((resolve, reject) => {
      this.signal.addEventListener('abort', () => reject(this.over()), { once: true })
      work.then(resolve, reject)
    })
  }

  clear(): void {
    clearTimeout(this.#timer)
  }
}

function agentFor({ protocol }: URL, fingerprint: string | undefined): HttpAgent {
  if (protocol !== 'https:') return new HttpAgent({ keepAlive: true, maxSockets: 1 })
  return fingerprint ? new PinningAgent(fingerprint) : new HttpsAgent({ keepAlive: true, maxSockets: 1, maxCachedSessions: 0 })
}

async function get(url: URL, pinned: LookupFunction, agent: HttpAgent, question: Question, whole: Deadline): Promise<Answered> {
  const { path, headers = {}, bytesMax, withinMs } = question
  if (!isPlainPath(url, path)) throw new OutgoingError('not-allowed', `“${path.slice(0, 100)}” is not a path that can be sent as it is written.`)
  if (whole.isOver) throw whole.over()
  const deadline = withinMs === undefined ? whole : whole.part(withinMs)
  try {
    const answer = await new Promise<IncomingMessage>((resolve, reject) => {
      const send = url.protocol === 'https:' ? httpsRequest : httpRequest
      send(
        { ...hostOf(url), path, method: 'GET', headers: { 'accept-encoding': 'identity', ...headers }, agent, lookup: pinned, signal: deadline.signal },
        resolve,
      )
        .once('error', reject)
        .end()
    })
    const status = answer.statusCode ?? 0
    if (status === 200) return { status, body: await bodyOf(answer, bytesMax, deadline, url.host) }
    // Its connection is not used again, so that nothing of what it sends is waited for.
    answer.destroy()
    return { status, body: Buffer.alloc(0) }
  } catch (error) {
    throw error instanceof OutgoingError ? error : deadline.isOver ? deadline.over() : whyNot(error as NodeJS.ErrnoException, url)
  } finally {
    if (deadline !== whole) deadline.clear()
  }
}

const hostOf = ({ hostname, port }: URL) => ({ hostname: hostname.replace(/^\[|\]$/g, ''), ...(port ? { port } : {}) })

/** Whether a path is sent as it is written, to the same place: no steps back, no other host, nothing to be encoded first. */
export function isPlainPath(url: URL, path: string): boolean {
  if (!path.startsWith('/') || !URL.canParse(path, url.origin)) return false
  const read = new URL(path, url.origin)
  return read.origin === url.origin && `${read.pathname}${read.search}` === path
}

async function bodyOf(answer: IncomingMessage, bytesMax: number, deadline: Deadline, who: string): Promise<Buffer> {
  const chunks: Buffer[] = []
  const within = (what: string) =>
    async function* (source: AsyncIterable<Buffer>) {
      let bytes = 0
      for await (const chunk of source) {
        bytes += chunk.length
        if (deadline.isOver) throw deadline.over()
        if (bytes > bytesMax)
          throw new OutgoingError('too-much', `The answer of ${who} is larger than ${bytesMax / 1e6} MB${what}; it was not read to its end.`)
        yield chunk
      }
    }
  const collect = async (source: AsyncIterable<Buffer>) => {
    for await (const chunk of source) chunks.push(chunk)
  }
  const { signal } = deadline
  const unpack = unpackerFor(answer.headers['content-encoding'], who)
  await (unpack
    ? pipeline(answer, within(''), unpack, within(' when unpacked'), collect, { signal })
    : pipeline(answer, within(''), collect, { signal }))
  if (!answer.complete) throw new OutgoingError('unreachable', `${who} broke off its answer.`)
  return Buffer.concat(chunks)
}

/** It was asked for an answer that is not packed; some pack it all the same. */
function unpackerFor(encoding: string | undefined, who: string): Duplex | undefined {
  switch (encoding?.trim().toLowerCase() ?? '') {
    case '':
    case 'identity':
      return undefined
    case 'gzip':
    case 'x-gzip':
      return createGunzip()
    case 'deflate':
      return createInflate()
    case 'br':
      return createBrotliDecompress()
    default:
      throw new OutgoingError('unreachable', `The answer of ${who} is packed in a way that Insel does not read (${String(encoding).slice(0, 40)}).`)
  }
}

function whyNot(error: NodeJS.ErrnoException, url: URL): OutgoingError {
  const code = error.code ?? ''
  if (error instanceof OtherCertificateError)
    return new OutgoingError('unreachable', `The certificate of ${url.host} does not match the fingerprint given; nothing was sent to it.`)
  if (code === 'ECONNREFUSED') return new OutgoingError('unreachable', `Nothing listens at ${url.host}.`)
  if (/CERT|SELF_SIGNED|ALTNAME/.test(code))
    return new OutgoingError(
      'unreachable',
      `The certificate of ${url.host} is not trusted (${code}). Read its SHA-256 fingerprint on the machine’s own console and enter it here.`,
    )
  if (code === 'ECONNRESET' || code === 'ERR_STREAM_PREMATURE_CLOSE') return new OutgoingError('unreachable', `${url.host} broke off its answer.`)
  if (code.startsWith('Z_') || code.startsWith('ERR_') || code.startsWith('HPE_'))
    return new OutgoingError('unreachable', `What ${url.host} answers cannot be read (${code}).`)
  return new OutgoingError('unreachable', `${url.host} could not be read (${code || error.message}).`)
}
