import { jsonShapeFault, readProgressText } from '@insel/core'
import { OutgoingError, type OutgoingClient } from '../outgoing/outgoing-client.js'
import { ProblemError } from '../problems/problem.js'

const WITHIN_MS = 5000
const BYTES_MAX = 100_000
/** An answer is a few numbers; more is something else. */
const VALUES_MAX = 1000

const unread = (sentence: string) => new ProblemError(502, 'progress-unread', 'The progress could not be read', sentence)
const notAsked = (sentence: string) => new ProblemError(422, 'not-allowed', 'This address is not asked', sentence)

/** @throws ProblemError 422 where a text is no address of HTTP */
function progressUrl(text: string): URL {
  const url = URL.canParse(text) ? new URL(text) : undefined
  if (!url || !/^https?:$/.test(url.protocol) || url.username || url.password)
    throw notAsked(`“${text}” is not asked: enter an address such as http://127.0.0.1:8102/transfers/1, without user and password.`)
  return url
}

/**
 * The bytes moved so far, as the tool that copies says it at an address: JSON with `bytes` or `fraction`, or a line that it
 * would also write.
 *
 * @param total bytes of the whole, for what is said as a share
 * @throws ProblemError 422 where Insel may not ask, 502 where nothing is answered that can be read
 */
export async function readAddress(outgoing: OutgoingClient, text: string, total: number): Promise<number> {
  const url = progressUrl(text)
  let answer
  try {
    answer = await outgoing.ask({ purpose: 'transfers', url, withinMs: WITHIN_MS }, (get) =>
      get({ path: `${url.pathname}${url.search}`, bytesMax: BYTES_MAX }),
    )
  } catch (error) {
    if (!(error instanceof OutgoingError)) throw error
    throw error.reason === 'not-allowed' ? notAsked(error.message) : unread(error.message)
  }
  const { status, body } = answer
  if (status >= 300 && status < 400)
    throw unread(`${url.host} answers ${status}, which leads elsewhere; Insel does not follow it. Enter the address it leads to.`)
  if (status !== 200) throw unread(`${url.host} answers ${status}.`)
  const bytes = bytesIn(body, total)
  if (bytes === undefined) throw unread(`What ${url.host} answers is neither JSON with “bytes” nor a progress line.`)
  return bytes
}

function bytesIn(body: Buffer, total: number): number | undefined {
  const said = body.toString('utf8')
  if (said.trim().startsWith('{')) {
    if (jsonShapeFault(body, { values: VALUES_MAX })) return undefined
    try {
      const { bytes, fraction } = JSON.parse(said) as { bytes?: unknown; fraction?: unknown }
      if (typeof bytes === 'number') return bytes
      return typeof fraction === 'number' ? fraction * total : undefined
    } catch (error) {
      if (error instanceof SyntaxError) return undefined
      throw error
    }
  }
  return readProgressText(said, total, 0).samples.at(-1)?.bytes
}
