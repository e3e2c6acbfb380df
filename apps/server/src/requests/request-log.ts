import type { IncomingMessage, ServerResponse } from 'node:http'
import { stdSerializers } from 'pino'
import type { Options } from 'pino-http'
import { SECRETS } from './secrets.js'

/** Parameters that are as good as a password: they are not written into a log. */
const SECRET = new RegExp(`([?&](?:${Object.keys(SECRETS).join('|')})=)[^&]*`, 'g')

/**
 * A request's address as the log may hold it.
 *
 * @example loggedUrl('/api/v1/estates/1/collect.sh?code=abc') // '/api/v1/estates/1/collect.sh?code=…'
 */
export const loggedUrl = (url: string): string => url.replace(SECRET, '$1…')

/**
 * What is logged of a request: who asked for what, and what it was answered. Never its headers or its body, which may hold what is secret.
 *
 * @param level from which on something is logged, as pino names it
 */
export const requestLog = (level: string): Options => ({
  level,
  autoLogging: { ignore: ({ url }) => !url?.startsWith('/api/') },
  // These are called for every request: they pick what is logged, instead of leaving things out of a description of all of it.
  wrapSerializers: false,
  serializers: {
    req: ({ id, method, url = '', socket }: IncomingMessage & { id?: unknown; originalUrl?: string }) => ({
      id,
      method,
      url: loggedUrl(url),
      remoteAddress: socket.remoteAddress,
    }),
    res: ({ statusCode }: ServerResponse) => ({ statusCode }),
    err: stdSerializers.err,
  },
})
