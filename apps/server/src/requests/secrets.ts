import { CODE_HEADER, KEY_HEADER } from '@insel/contract'
import { applyDecorators, createParamDecorator, type ExecutionContext } from '@nestjs/common'
import { ApiHeader, ApiQuery } from '@nestjs/swagger'
import type { Request } from 'express'

/** What a machine shows in place of a person, and the header that it goes in. */
export const SECRETS = { code: CODE_HEADER, key: KEY_HEADER } as const
export type SecretName = keyof typeof SECRETS

/** The secret of a request: from its header; scripts that were handed out before have it in the address. Empty when there is none. */
export const Secret = createParamDecorator((name: SecretName, context: ExecutionContext): string => {
  const request = context.switchToHttp().getRequest<Request>()
  const inAddress = request.query[name]
  return request.get(SECRETS[name]) ?? (typeof inAddress === 'string' ? inAddress : '')
})

/** Says in the API's description where the secret goes. */
export const ApiSecret = (name: SecretName) =>
  applyDecorators(ApiHeader({ name: SECRETS[name] }), ApiQuery({ name, required: false, deprecated: true }))
