import type { FieldProblem } from '@insel/core'
import type { Problem } from '@insel/contract'

/** A refusal that becomes a problem document (RFC 9457). */
export class ProblemError extends Error {
  readonly problem: Problem

  constructor(
    status: number,
    code: string,
    title: string,
    detail: string,
    extra: { errors?: readonly FieldProblem[]; meanwhile?: Problem['meanwhile'] } = {},
  ) {
    super(detail)
    this.problem = {
      type: `urn:insel:problem:${code}`,
      title,
      status,
      code,
      detail,
      errors: extra.errors ?? [],
      ...(extra.meanwhile ? { meanwhile: extra.meanwhile } : {}),
    }
  }
}

/** A refusal that was made elsewhere, such as in another thread. */
export function problemErrorOf({ status, code, title, detail, errors, meanwhile }: Problem): ProblemError {
  return new ProblemError(status, code, title, detail, { errors, ...(meanwhile ? { meanwhile } : {}) })
}

export const malformed = (detail: string, errors: readonly FieldProblem[] = []) =>
  new ProblemError(400, 'malformed', 'The request is malformed', detail, { errors })
/** What was not begun for want of room or time. */
export const busy = (detail: string) => new ProblemError(503, 'busy', 'Too much at once', detail)
export const notFound = (detail: string) => new ProblemError(404, 'not-found', 'Not found', detail)
export const personMissing = () =>
  new ProblemError(
    401,
    'person-missing',
    'No person is named',
    'Say who records this: send the id of a person of this estate in the header Insel-Person.',
  )

/** What is said of an estate that is not there. */
export const noEstate = (estateId: string): ProblemError => notFound(`There is no estate with the id ${estateId}.`)
