import { problemsIn, type FieldsClass } from '@insel/contract'
import { malformed } from './problem.js'

/**
 * A request's body as its class describes it; what is no object counts as empty.
 *
 * @throws ProblemError 400 with the problem of every field, unknown ones too
 */
export function readBody<T extends object>(type: new () => T, body: unknown): T {
  const given = typeof body === 'object' && body !== null && !Array.isArray(body) ? body : {}
  const problems = problemsIn(type as unknown as FieldsClass, given)
  if (problems.length > 0) throw malformed(problems.map(({ message }) => message).join(' '), problems)
  return given as T
}
