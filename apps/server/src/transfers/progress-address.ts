import { readProgress } from '@insel/core'
import { ProblemError } from '../problems/problem.js'

const ANSWER_MS = 5000
const ANSWER_MAX = 100_000

/** Names of this machine itself: nothing else is asked, so that nobody makes the server fetch what he may not. */
const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]'])

const unread = (sentence: string) => new ProblemError(502, 'progress-unread', 'The progress could not be read', sentence)

/** @throws ProblemError 422 where an address is not one of this machine */
function progressUrl(text: string): URL {
  const url = URL.canParse(text) ? new URL(text) : undefined
  if (!url || url.protocol !== 'http:' || !LOOPBACK.has(url.hostname) || url.username || url.password)
    throw new ProblemError(
      422,
      'invalid',
      'Not an address of this machine',
      `“${text}” is not asked: enter an address of this machine, such as http://127.0.0.1:8102/transfers/1.`,
    )
  return url
}

/**
 * The bytes moved so far, as the tool that copies says it at an address: JSON with `bytes` or `fraction`, or a line that it
 * would also write.
 *
 * @param total bytes of the whole, for what is said as a share
 * @throws ProblemError 422, 502
 */
export async function readAddress(text: string, total: number): Promise<number> {
  const url = progressUrl(text)
  let said: string
  try {
    const answer = await fetch(url, { signal: AbortSignal.timeout(ANSWER_MS), redirect: 'error' })
    said = (await answer.text()).slice(0, ANSWER_MAX)
    if (!answer.ok) throw unread(`${url.host} answers ${answer.status}.`)
  } catch (error) {
    if (error instanceof ProblemError) throw error
    throw unread(
      error instanceof Error && error.name === 'TimeoutError'
        ? `${url.host} did not answer within ${ANSWER_MS / 1000} s.`
        : `Nothing answers at ${url.host}.`,
    )
  }
  const bytes = bytesIn(said, total)
  if (bytes === undefined) throw unread(`What ${url.host} answers is neither JSON with “bytes” nor a progress line.`)
  return bytes
}

function bytesIn(said: string, total: number): number | undefined {
  if (said.trim().startsWith('{')) {
    try {
      const { bytes, fraction } = JSON.parse(said) as { bytes?: unknown; fraction?: unknown }
      if (typeof bytes === 'number') return bytes
      return typeof fraction === 'number' ? fraction * total : undefined
    } catch (error) {
      if (error instanceof SyntaxError) return undefined
      throw error
    }
  }
  const last = said.split(/[\r\n]+/).findLast((line) => readProgress(line) !== undefined)
  const read = last === undefined ? undefined : readProgress(last)
  return read?.bytes ?? (read?.fraction === undefined ? undefined : read.fraction * total)
}
