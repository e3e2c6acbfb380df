import { ESTATE_TYPE } from '@insel/contract'
import type { Request, RequestHandler } from 'express'
import { ProblemError, malformed } from '../problems/problem.js'
import type { Names } from './names.js'

/** Routes that machines send plain text to, with their own code or key and never from a page. */
const PLAIN_TEXT = /^\/api\/v1\/estates\/[^/]+\/(collections|observations)\/received$/

const foreign = () =>
  new ProblemError(
    403,
    'foreign-origin',
    'Request from another site',
    'The request came from another site’s page; Insel answers only its own pages and programs. Open Insel itself, or name its address with --public-url.',
  )

/**
 * Looks at every request before anything else does: is it meant for this server, was it sent by one of its own pages or by no
 * page, and does its body come as a page elsewhere could not send it without asking first?
 *
 * @see Fetch Standard: CORS-safelisted request-header (the content types a form can send); Fetch Metadata (Sec-Fetch-Site)
 */
export const guard =
  (names: Names): RequestHandler =>
  (request, _response, next) => {
    checkTarget(request)
    const { host, origin, 'sec-fetch-site': site } = request.headers
    if (!names.isKnown(host))
      throw new ProblemError(
        421,
        'host-unknown',
        'Not a name of this server',
        `Insel is not known as “${(host ?? '').slice(0, 100)}”. Open it at the address it printed when it started, or start it with --public-url http://${(host ?? 'NAME').slice(0, 100)}.`,
      )
    if (origin !== undefined && !names.isOwnOrigin(origin, host)) throw foreign()
    if ((site === 'cross-site' || site === 'same-site') && !isLinkFollowed(request)) throw foreign()
    checkType(request)
    checkParameters(request)
    next()
  }

/** One name, in one place: otherwise a proxy and this server may take it for another. @see RFC 9112, sections 3.2 and 3.2.2 */
function checkTarget({ url, rawHeaders }: Request): void {
  const hosts = rawHeaders.filter((name, index) => index % 2 === 0 && name.toLowerCase() === 'host')
  if (hosts.length > 1) throw malformed('The request names its host twice; name it once.')
  if (!url.startsWith('/')) throw malformed('The request names a whole address; name the path, and the host in the header Host.')
}

/** A link to a page of Insel, followed: its answer is shown to the person and not given to the other site. */
const isLinkFollowed = ({ method, headers }: Request) =>
  method === 'GET' && headers['sec-fetch-mode'] === 'navigate' && headers['sec-fetch-dest'] === 'document'

function checkType({ method, headers, path }: Request): void {
  const hasBody = headers['transfer-encoding'] !== undefined || Number(headers['content-length'] ?? 0) > 0
  if (!hasBody || method === 'GET' || method === 'HEAD') return
  const type = (headers['content-type'] ?? '').split(';')[0]?.trim().toLowerCase() ?? ''
  const isTaken = type === 'application/json' || type === ESTATE_TYPE || (type === 'text/plain' && PLAIN_TEXT.test(path))
  if (!isTaken)
    throw new ProblemError(
      415,
      'media-type',
      'The content type is not supported',
      `A body of type “${type.slice(0, 100)}” is not supported here. Send application/json, or a whole estate as ${ESTATE_TYPE}.`,
    )
}

/** Parameters that come twice, or hold what no text may hold, are refused here for all routes. */
function checkParameters(request: Request): void {
  let path: string
  try {
    path = decodeURIComponent(request.path)
  } catch (error) {
    if (!(error instanceof URIError)) throw error
    throw malformed('The address holds a “%” that is not followed by two hexadecimal digits of a character.')
  }
  if (path.includes('\0')) throw malformed('The address holds a NUL character.')
  const seen = new Set<string>()
  const question = request.url.indexOf('?')
  for (const [name, value] of new URLSearchParams(question < 0 ? '' : request.url.slice(question + 1))) {
    const wrong = (message: string) => malformed(message, [{ path: name, code: 'invalid', message }])
    if (seen.has(name)) throw wrong(`The parameter “${name}” appears twice; give it once.`)
    if (name.includes('\0') || value.includes('\0')) throw wrong(`The parameter “${name.replaceAll('\0', '')}” holds a NUL character.`)
    seen.add(name)
  }
}
