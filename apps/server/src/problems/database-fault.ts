import { ConnectionException } from '@mikro-orm/core'

/**
 * What a fault of the database means for who asked: it was never asked; it was asked and nobody knows what it did; it refused for want of
 * room; it is as busy as it can be.
 */
export type DatabaseFault = 'not-asked' | 'no-answer' | 'full' | 'refused'

/**
 * Codes of Node's sockets and of PostgreSQL by what they mean.
 *
 * @source PostgreSQL manual, appendix A (SQLSTATE): class 08 connection, 53 insufficient resources, 57P operator intervention, 25006 read
 * only, 40001 and 40P01 to be tried again
 */
const CODES: readonly (readonly [RegExp, DatabaseFault])[] = [
  [/^(ECONNREFUSED|ENOTFOUND|ETIMEDOUT|EAI_AGAIN|53300|57P03|57P04|08001|08004)$/, 'not-asked'],
  [/^(INSEL_SILENT|ECONNRESET|EPIPE|08...|57P0[125]|57014)$/, 'no-answer'],
  [/^(53100|ENOSPC)$/, 'full'],
  [/^(53...|25006|40001|40P01|55P03)$/, 'refused'],
]
const MESSAGES: readonly (readonly [RegExp, DatabaseFault])[] = [
  [/timeout acquiring|timeout exceeded when trying to connect|timeout expired|^aborted$/i, 'not-asked'],
  [
    // The last of them is what the query builder says of a transaction whose connection was ended between two of its statements.
    /connection terminated|connection ended|client has encountered a connection error|client was closed|cannot use a pool after|transaction query already complete/i,
    'no-answer',
  ],
  [/no space left on device/i, 'full'],
]

/** What kind of fault of the database is behind an error, and what it says; undefined where it is another one. */
export function databaseFault(error: unknown): { readonly fault: DatabaseFault; readonly said: string } | undefined {
  for (let at = error as (Error & { code?: string }) | undefined, depth = 0; at && depth < 5; depth++) {
    const { code = '', message } = at
    const known = CODES.find(([codes]) => codes.test(code)) ?? MESSAGES.find(([words]) => words.test(message))
    if (known) return { fault: known[1], said: message }
    if (at instanceof AggregateError) return at.errors.map((inner) => databaseFault(inner)).find(Boolean)
    if (at instanceof ConnectionException) return { fault: 'no-answer', said: message }
    at = (at.cause ?? (at as { previous?: unknown }).previous) as typeof at
  }
  return undefined
}
