import { PERSON_HEADER } from '@insel/contract'
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
    if (declared.access === 'changes') {
      const person = personOf(request.get(PERSON_HEADER))
      if (person !== undefined) request.personId = person
    }
    return true
  }
}

/** Who records. A request that names nobody goes on: a list of commands may introduce its own first person. */
function personOf(header: string | undefined): string | undefined {
  if (header === undefined || isId(header)) return header
  throw malformed('The header Insel-Person holds the id of a person, a UUID.', [
    { path: PERSON_HEADER, code: 'invalid', message: 'Insel-Person is not an id.' },
  ])
}
