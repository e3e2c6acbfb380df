import { EVENT_ESTATES_MAX, PERSON_HEADER, SUBMISSION_HEADER } from '@insel/contract'
import { isId } from '@insel/core'
import { Injectable, type CanActivate, type ExecutionContext } from '@nestjs/common'
import { Reflector } from '@nestjs/core'
import type { RequestHandler } from 'express'
import { malformed, ProblemError } from '../problems/problem.js'
import { DECLARED, type Declared, type GuardedRequest } from './access.js'

const undeclared = () =>
  new ProblemError(
    403,
    'access-undeclared',
    'This route is closed',
    'This route has no access rule, so it is closed. This is a fault of Insel; please report it.',
  )

/**
 * Lets a request through to a route that declared itself, and notes what it is about.
 *
 * @throws ProblemError 403 where the route is not what it declares, 400 where the estates are not named as they should be
 */
function admit(request: GuardedRequest, { within, access }: Declared): void {
  const estateId = request.params['estateId']
  if ((within === 'estate') !== (estateId !== undefined)) throw undeclared()
  request.access = access
  request.estateIds = within === 'estates' ? estatesIn(request.query['estates']) : typeof estateId === 'string' ? [estateId] : []
}

/** The API's own description is a route like any other, though no controller answers it. */
export const describing: RequestHandler = (request, _response, next) => {
  admit(request, { within: 'server', access: 'reads' })
  next()
}

function estatesIn(value: unknown): readonly string[] {
  const ids = typeof value === 'string' ? [...new Set(value.split(',').filter(Boolean))] : []
  if (ids.length === 0 || ids.length > EVENT_ESTATES_MAX || !ids.every(isId))
    throw malformed(`estates is a list of 1 to ${EVENT_ESTATES_MAX} ids of estates, with commas between.`)
  return ids
}

/** The one guard of all routes: denies what does not declare itself, and reads who records. Accounts belong here. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(private readonly reflector: Reflector) {}

  canActivate(context: ExecutionContext): boolean {
    const declared = this.reflector.getAllAndOverride<Declared | undefined>(DECLARED, [context.getHandler(), context.getClass()])
    const request = context.switchToHttp().getRequest<GuardedRequest>()
    if (!declared) throw undeclared()
    admit(request, declared)
    if (declared.access === 'changes') {
      const person = idIn(request, PERSON_HEADER, 'Insel-Person holds the id of a person')
      if (person !== undefined) request.personId = person
      const submission = idIn(request, SUBMISSION_HEADER, 'Insel-Submission holds an id that the sender made up')
      if (submission !== undefined) request.submissionId = submission
    }
    return true
  }
}

/** The id in a header. Who records may be left out: a list of commands may introduce its own first person. */
function idIn(request: GuardedRequest, header: string, says: string): string | undefined {
  const value = request.get(header)
  if (value === undefined || isId(value)) return value
  throw malformed(`The header ${says}, a UUID in lower case.`, [{ path: header, code: 'invalid', message: 'This is not an id.' }])
}
