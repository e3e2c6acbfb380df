import { ESTATE_TYPE } from '@insel/contract'
import { jsonFault, jsonShapeFault } from '@insel/core'
import type { NestExpressApplication } from '@nestjs/platform-express'
import type { ErrorRequestHandler, Request, RequestHandler } from 'express'
import { problemOf } from './problem-of.js'
import { busy, malformed } from '../problems/problem.js'
import { sendProblem } from '../problems/send-problem.js'

const MB = 1_000_000
/** The largest body of each kind, bytes, as it is after unpacking. */
const LIMITS = {
  /** Commands and questions. */
  json: 2 * 1024 * 1024,
  /** The text of a collector; characters beyond ASCII take more than one byte. */
  text: 6 * MB,
  /** The file of a whole estate: some three times one of 5,000 guests. */
  estate: 64 * MB,
} as const
/** Members and elements of one body of JSON, counted together: three times those of the largest list of commands that is taken. */
const VALUES_MAX = 250_000
/** Members of one object: a map of ids has hundreds; what validates fields takes seconds for what it does not know. */
const MEMBERS_MAX = 3000
/** What all bodies that are being read and answered may take together, bytes. */
const TOGETHER = 160 * MB

/** Bodies up to this many bytes, stated and not packed, are not counted: what people do goes on beside large and slow ones. */
const SMALL = 256 * 1024

const limitOf = (type: string): number => (type === ESTATE_TYPE ? LIMITS.estate : type === 'text/plain' ? LIMITS.text : LIMITS.json)

/**
 * Lets in only as many bodies at once as memory is meant for: each is counted by its stated length, or by its limit where it is
 * packed or states none.
 */
function budget(): RequestHandler {
  let inUse = 0
  return (request, response, next) => {
    const size = sizeOf(request)
    if (size === 0) {
      next()
      return
    }
    if (inUse + size > TOGETHER) {
      throw busy('Insel is reading other large bodies; nothing was changed. Try again in a moment.')
    }
    inUse += size
    response.once('close', () => (inUse -= size))
    next()
  }
}

function sizeOf({ headers }: Request): number {
  const stated = headers['content-length']
  const isOpenEnded = headers['transfer-encoding'] !== undefined || headers['content-encoding'] !== undefined
  if (!isOpenEnded && stated === undefined) return 0
  const limit = limitOf((headers['content-type'] ?? '').split(';')[0]?.trim().toLowerCase() ?? '')
  if (isOpenEnded) return limit
  return Number(stated) <= SMALL ? 0 : Math.min(Number(stated), limit)
}

/** What would take long to parse, and to look at, is refused by its bytes. */
function checkShape(_request: unknown, _response: unknown, bytes: Buffer): void {
  const fault = jsonShapeFault(bytes, { values: VALUES_MAX })
  if (fault) throw malformed(`${fault} Split the request into several.`)
}

/** Texts that PostgreSQL or a reader cannot hold are refused before any route sees the body. */
const checkJson: RequestHandler = (request, _response, next) => {
  const fault = Buffer.isBuffer(request.body) ? undefined : jsonFault(request.body, MEMBERS_MAX)
  if (fault) throw malformed(fault.message, [{ path: fault.path, code: 'invalid', message: fault.message }])
  next()
}

/** What goes wrong before a route is found, such as a body that is no JSON, is answered as the routes' own refusals are. */
const answerProblem: ErrorRequestHandler = (error: unknown, request: Request, response, _next) => {
  sendProblem(response, problemOf(error, request))
}

/** How bodies come in. */
export function readBodies(app: NestExpressApplication): void {
  app.use(budget())
  app.useBodyParser('json', { limit: LIMITS.json, verify: checkShape })
  app.useBodyParser('text', { type: 'text/plain', limit: LIMITS.text })
  // Its bytes are read elsewhere: see `heavy-work/estate-file`.
  app.useBodyParser('raw', { type: ESTATE_TYPE, limit: LIMITS.estate })
  app.use(checkJson)
  app.use(answerProblem)
}
