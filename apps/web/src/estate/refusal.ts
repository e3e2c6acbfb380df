import { applyAll, CommandError, type Command, type Estate, type FieldProblem } from '@insel/core'
import { ProblemResponse, Unreachable } from '../lib/api'
import { browserContext } from '../lib/context'

/** Why something was not recorded: a sentence, and where it concerns a field, its path. */
export interface Refusal {
  readonly sentence: string
  readonly problems: readonly FieldProblem[]
  /** Whether the server, or its database, could not do it for now, so that it may be tried again. */
  readonly isUnreachable?: boolean
}

const UNKNOWN = 'The database did not answer, so it is not known whether this was recorded. Save it again: it is recorded once in any case.'

/** A refusal of no field in particular. */
export const refusal = (sentence: string): Refusal => ({ sentence, problems: [] })

/** What is said of an error that a person can do something about. @throws every other error */
export function refusalOf(error: unknown): Refusal {
  if (error instanceof CommandError) return { sentence: error.message, problems: error.problems }
  // The page knows what it sent, and sends it with the same id.
  if (error instanceof ProblemResponse && error.problem.code === 'outcome-unknown') return { ...refusal(UNKNOWN), isUnreachable: true }
  if (error instanceof ProblemResponse)
    return { sentence: error.message, problems: error.problem.errors, ...(error.problem.status === 503 ? { isUnreachable: true } : {}) }
  if (error instanceof Unreachable) return { ...refusal(error.message), isUnreachable: true }
  throw error
}

/**
 * Why commands do not fit an estate, if they do not.
 *
 * @param revision of the estate
 */
export function refusedBy(estate: Estate, commands: readonly Command[], revision: number): Refusal | undefined {
  try {
    applyAll(estate, commands, browserContext(revision))
    return undefined
  } catch (error) {
    return refusalOf(error)
  }
}
