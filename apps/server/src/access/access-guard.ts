import { PERSON_HEADER, SUBMISSION_HEADER } from '@insel/contract'
import { isId } from '@insel/core'
import { Injectable, type CanActivate, type ExecutionContext } from '@nestjs/common'
import { Reflector } from '@nestjs/core'
import { malformed, ProblemError } from '../problems/problem.js'
import { DECLARED, type Declared, type GuardedRequest } from './access.js'

const undeclared = () =>
  new ProblemError(
    403,
    'access-undeclared',
    'This route is closed',
    'This route has no access rule, so it is closed. This is a fault of Insel; please report it.',
  )

/** The one guard of all routes: denies what does not declare itself, and reads who records. Accounts belong here. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(private readonly reflector: Reflector) {}

  canActivate(context: ExecutionContext): boolean {
    const declared = this.reflector.getAllAndOverride<Declared | undefined>(DECLARED, [context.getHandler(), context.getClass()])
    const request = context.switchToHttp().getRequest<GuardedRequest>()
    if (!declared || (declared.within === 'estate') !== (request.params['estateId'] !== undefined)) throw undeclared()
    request.access = declared.access
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
