import { PROBLEM_TYPE, type Problem } from '@insel/contract'
import type { Response } from 'express'

/** After how many seconds it is worth asking again, by what stands in the way. @see RFC 9110, section 10.2.3 (Retry-After) */
const AGAIN_SECONDS: Readonly<Record<string, number>> = {
  busy: 2,
  loading: 2,
  'database-unavailable': 5,
  'outcome-unknown': 5,
  'database-full': 30,
}

/** Answers with a problem document, which says when to ask again where that may help. */
export function sendProblem(response: Response, problem: Problem): void {
  const seconds = AGAIN_SECONDS[problem.code]
  if (seconds !== undefined) response.setHeader('Retry-After', String(seconds))
  response.status(problem.status).type(PROBLEM_TYPE).send(JSON.stringify(problem))
}
