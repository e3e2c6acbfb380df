import type { Problem } from '@insel/contract'
import { CommandError } from '@insel/core'
import { ForeignKeyConstraintViolationException, UniqueConstraintViolationException } from '@mikro-orm/core'
import { HttpException } from '@nestjs/common'
import type { Request } from 'express'
import type { GuardedRequest } from '../access/access.js'
import { databaseFault } from '../problems/database-fault.js'
import { ProblemError } from '../problems/problem.js'

/** The problem document for whatever went wrong; an unforeseen fault is described without its details. */
export function problemOf(error: unknown, request: Request): Problem {
  if (error instanceof ProblemError) return error.problem
  if (error instanceof CommandError) {
    const status = error.code === 'changed-since' ? 409 : 422
    return new ProblemError(status, error.code, 'The command cannot be done', error.message, { errors: error.problems }).problem
  }
  const atDatabase = databaseFault(error)
  if (atDatabase) return problemOfDatabase(atDatabase, request).problem
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

/** What the database said of a statement, without the statement, which stands before it. */
const withoutStatement = (said: string): string =>
  said
    .slice(said.lastIndexOf(' - ') + 1)
    .replace(/^- /, '')
    .slice(0, 200)

function problemOfDatabase({ fault, said }: NonNullable<ReturnType<typeof databaseFault>>, request: Request): ProblemError {
  switch (fault) {
    case 'full':
      return new ProblemError(
        503,
        'database-full',
        'The disk of the database is full',
        `The disk of the database is full (${withoutStatement(said)}); nothing was changed. Free space on it, then send this again.`,
      )
    case 'refused':
      return new ProblemError(
        503,
        'database-unavailable',
        'The database takes no changes now',
        `The database refuses this for the moment (${withoutStatement(said)}); nothing was changed. Try again in a moment.`,
      )
    case 'no-answer':
      if (mayHaveChanged(request))
        return new ProblemError(
          503,
          'outcome-unknown',
          'It is not known whether this was done',
          'The database was asked and did not answer: this may have been recorded, or not. Send it again with the same Insel-Submission, or look at the logbook first.',
        )
      break
    case 'not-asked':
  }
  return new ProblemError(
    503,
    'database-unavailable',
    'The database does not answer',
    'The database does not answer; nothing was changed. Try again in a moment.',
  )
}

/** Whether a request is one that writes: as its route declares, unless it only asks what would be. */
const mayHaveChanged = ({ access, body }: GuardedRequest): boolean =>
  access !== undefined && access !== 'reads' && (body as { dryRun?: unknown } | undefined)?.dryRun !== true
