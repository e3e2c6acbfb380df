import { applyDecorators, createParamDecorator, SetMetadata, type ExecutionContext } from '@nestjs/common'
import { ApiHeader } from '@nestjs/swagger'
import { PERSON_HEADER, SUBMISSION_HEADER } from '@insel/contract'
import type { Request } from 'express'

/**
 * What a route does: it reads; it changes the record, as a person; it takes in what machines say of themselves, with a code or key
 * of their own; or it administers: makes estates, hands out keys.
 */
export type Access = 'reads' | 'changes' | 'observes' | 'administers'

/** What a route declares of itself. */
export interface Declared {
  /** Of which estates it is: of the one in its path, of those in its query, or of none. */
  readonly within: 'estate' | 'estates' | 'server'
  readonly access: Access
}

export const DECLARED = 'insel:access'

const ofRecorder = () => [
  ApiHeader({ name: PERSON_HEADER, required: true, description: 'Id of the person who records this.' }),
  ApiHeader({
    name: SUBMISSION_HEADER,
    required: false,
    description: 'A UUID that the sender makes up. The same sent again is not done again: it is answered with the change it made.',
  }),
]

/** Declares a route, or all of a controller, that belongs to the estate its path names. A route that declares nothing answers nobody. */
export const InEstate = (access: Access): ClassDecorator & MethodDecorator =>
  applyDecorators(SetMetadata(DECLARED, { within: 'estate', access } satisfies Declared), ...(access === 'changes' ? ofRecorder() : []))

/** The same for a route of the estates that its query names, as `estates=`. */
export const InEstates = (access: Access): ClassDecorator & MethodDecorator =>
  applyDecorators(SetMetadata(DECLARED, { within: 'estates', access } satisfies Declared))

/** The same for a route of the server as a whole. */
export const OfServer = (access: Access): ClassDecorator & MethodDecorator =>
  applyDecorators(SetMetadata(DECLARED, { within: 'server', access } satisfies Declared))

/** A request that the guard has looked at. */
export interface GuardedRequest extends Request {
  personId?: string
  /** The submission it is, where it says so: sent again, it is answered with what it did. */
  submissionId?: string
  /** What its route does. */
  access?: Access
  /** The estates it is about. */
  estateIds?: readonly string[]
}

/** Who records, and which submission it is, where the request says so. */
export interface Recorder {
  readonly personId: string | undefined
  /** Sent again, it is answered with the change it made. */
  readonly submissionId: string | undefined
}

/** Gives a route who records. */
export const RecordedBy = createParamDecorator((_: unknown, context: ExecutionContext): Recorder => {
  const { personId, submissionId } = context.switchToHttp().getRequest<GuardedRequest>()
  return { personId, submissionId }
})

/** Gives a route the estates that it was asked about. */
export const EstatesAsked = createParamDecorator(
  (_: unknown, context: ExecutionContext): readonly string[] => context.switchToHttp().getRequest<GuardedRequest>().estateIds ?? [],
)
