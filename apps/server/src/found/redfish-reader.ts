import { isWorthReading, jsonShapeFault, linksOf, type RedfishTree } from '@insel/core'
import { isPlainPath, OutgoingError, type Answered, type OutgoingClient, type Question } from '../outgoing/outgoing-client.js'
import { ProblemError } from '../problems/problem.js'

/** Limits that keep a slow or hostile controller from holding the server. */
const RESOURCES_MAX = 400
const BYTES_MAX = 5_000_000
/** Members and elements of one resource; the largest that machines have has some thousands. */
const VALUES_MAX = 100_000
const ANSWER_MS = 10_000
const WHOLE_MS = 120_000

const ROOT = '/redfish/v1'

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
 * @throws ProblemError 422 where Insel may not ask it, 502 with what went wrong
 * @see Redfish, DMTF DSP0266
 */
export async function readRedfishTree(outgoing: OutgoingClient, target: RedfishTarget): Promise<RedfishTree> {
  const { url, fingerprint } = target
  try {
    return await outgoing.ask({ purpose: 'controllers', url, withinMs: WHOLE_MS, fingerprint }, (get) => readTree(target, get))
  } catch (error) {
    if (!(error instanceof OutgoingError)) throw error
    if (error.reason === 'not-allowed') throw new ProblemError(422, 'not-allowed', 'This address is not asked', error.message)
    throw unread(error.message)
  }
}

async function readTree(target: RedfishTarget, get: (question: Question) => Promise<Answered>): Promise<RedfishTree> {
  const { url, user, password } = target
  const headers = {
    accept: 'application/json',
    ...(user ? { authorization: `Basic ${Buffer.from(`${user}:${password ?? ''}`).toString('base64')}` } : {}),
  }
  const resources: Record<string, unknown> = Object.create(null) as Record<string, unknown>
  const queue = [ROOT]
  const seen = new Set(queue)
  let left = BYTES_MAX
  for (let path = queue.shift(); path !== undefined; path = queue.shift()) {
    const body = bodyOf(path, await get({ path, headers, bytesMax: left, withinMs: ANSWER_MS }))
    if (body === undefined) continue
    left = Math.max(1, left - body.length)
    const resource = resourceIn(path, body)
    resources[path] = resource
    if (path === ROOT && linksOf(resource).length === 0) throw unread('This is not a Redfish service: its root lists no resources.')
    for (const next of linksOf(resource))
      // What would be sent as another path than is written is no link of a controller.
      if (!seen.has(next) && isWorthReading(next) && isPlainPath(url, next) && seen.size < RESOURCES_MAX) {
        seen.add(next)
        queue.push(next)
      }
  }
  return { redfish: resources }
}

/** One resource's bytes; undefined for one that the controller does not have or does not show. */
function bodyOf(path: string, { status, body }: Answered): Buffer | undefined {
  if (status === 200) return body
  // Some branches need more rights than reading hardware does; the root and the systems must be readable.
  if ((status === 401 || status === 403) && (path === ROOT || /\/Systems(\/[^/]+)?$/.test(path)))
    throw unread('The controller refuses this user or password.')
  if (path === ROOT) throw unread(`This is not a Redfish service: the controller answers ${status} at ${ROOT}.`)
  return undefined
}

function resourceIn(path: string, body: Buffer): unknown {
  const fault = jsonShapeFault(body, { values: VALUES_MAX })
  if (fault) throw unread(`The controller’s answer for ${path}: ${fault}`)
  try {
    return JSON.parse(body.toString('utf8')) as unknown
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
    throw unread(`The controller’s answer for ${path} is not JSON.`)
  }
}
