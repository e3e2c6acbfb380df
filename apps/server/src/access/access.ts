import { applyDecorators, createParamDecorator, SetMetadata, type ExecutionContext } from '@nestjs/common'
import { ApiHeader } from '@nestjs/swagger'
import { PERSON_HEADER } from '@insel/contract'
import type { Request } from 'express'

/**
 * What a route does: it reads; it changes the record, as a person; it takes in what machines say of themselves, with a code or key
 * of their own; or it administers: makes estates, hands out keys.
 */
export type Access = 'reads' | 'changes' | 'observes' | 'administers'

/** What a route declares of itself. */
export interface Declared {
  readonly within: 'estate' | 'server'
  readonly access: Access
}

export const DECLARED = 'insel:access'

const ofPerson = () => ApiHeader({ name: PERSON_HEADER, required: true, description: 'Id of the person who records this.' })

/** Declares a route, or all of a controller, that belongs to the estate its path names. A route that declares nothing answers nobody. */
export const InEstate = (access: Access): ClassDecorator & MethodDecorator =>
  applyDecorators(SetMetadata(DECLARED, { within: 'estate', access } satisfies Declared), ...(access === 'changes' ? [ofPerson()] : []))

/** The same for a route of the server as a whole. */
export const OfServer = (access: Access): ClassDecorator & MethodDecorator =>
  applyDecorators(SetMetadata(DECLARED, { within: 'server', access } satisfies Declared))

/** A request that the guard has looked at. */
export interface GuardedRequest extends Request {
  personId?: string
}

/** The id of the person who records, where the request names one. */
export const PersonId = createParamDecorator(
  (_: unknown, context: ExecutionContext): string | undefined => context.switchToHttp().getRequest<GuardedRequest>().personId,
)
