import type { Problem } from '@insel/contract'
import { CommandError } from '@insel/core'
import { ConnectionException, ForeignKeyConstraintViolationException, UniqueConstraintViolationException } from '@mikro-orm/core'
import { HttpException } from '@nestjs/common'
import type { Request } from 'express'
import { ProblemError } from './problem.js'

/** Codes of Node's sockets and of PostgreSQL that mean: the database does not answer (SQLSTATE classes 08 and 57). */
const UNREACHABLE = /^(ECONNREFUSED|ECONNRESET|EPIPE|ENOTFOUND|ETIMEDOUT|08...|57P0[123]|53300)$/
const UNREACHABLE_MESSAGE =
  /connection terminated|timeout acquiring|timeout exceeded when trying to connect|Connection ended|Client has encountered a connection error/i

/** The problem document for whatever went wrong; an unforeseen fault is described without its details. */
export function problemOf(error: unknown, request: Request): Problem {
  if (error instanceof ProblemError) return error.problem
  if (error instanceof CommandError) {
    const status = error.code === 'changed-since' ? 409 : 422
    return new ProblemError(status, error.code, 'The command cannot be done', error.message, { errors: error.problems }).problem
  }
  if (isUnreachable(error))
    return new ProblemError(
      503,
      'database-unavailable',
      'The database does not answer',
      'The database does not answer; nothing was changed. Try again in a moment.',
    ).problem
  if (error instanceof UniqueConstraintViolationException || error instanceof ForeignKeyConstraintViolationException)
    return new ProblemError(
      409,
      'constraint',
      'The records changed meanwhile',
      'The database refused the change, since it would create a duplicate or a dangling reference; nothing was changed. Load the estate again and try once more.',
    ).problem
  const status = statusOf(error)
  if (status === 413)
    return new ProblemError(
      413,
      'too-large',
      'The request is too large',
      'The body of the request is too large: the limit is 2 MiB for commands and 6 MB for the text of a collector. Split it into several requests.',
    ).problem
  if (status === 404)
    return new ProblemError(404, 'not-found', 'Not found', `There is nothing at ${request.method} ${request.path}.`).problem
  if (status !== undefined && status < 500)
    return new ProblemError(status, 'malformed', 'The request is malformed', messageOf(error)).problem
  return new ProblemError(
    500,
    'internal',
    'Something went wrong',
    'Insel had an unexpected error; nothing was changed. The server’s log has the details.',
  ).problem
}

function statusOf(error: unknown): number | undefined {
  if (error instanceof HttpException) return error.getStatus()
  // Errors of the body parser carry their status.
  const status = (error as { status?: unknown } | null)?.status
  return typeof status === 'number' ? status : undefined
}

function messageOf(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error)
  return /JSON/.test(text)
    ? 'The body is not JSON. Send a JSON object with the content type application/json.'
    : text.endsWith('.')
      ? text
      : `${text}.`
}

function isUnreachable(error: unknown): boolean {
  for (let at = error as (Error & { code?: string }) | undefined, depth = 0; at && depth < 5; depth++) {
    if (at instanceof ConnectionException || UNREACHABLE.test(at.code ?? '') || UNREACHABLE_MESSAGE.test(at.message)) return true
    if (at instanceof AggregateError && at.errors.some((inner) => isUnreachable(inner))) return true
    at = (at.cause ?? (at as { previous?: unknown }).previous) as typeof at
  }
  return false
}
