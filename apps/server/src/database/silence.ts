import type { EventEmitter } from 'node:events'
import type { Socket } from 'node:net'

/** The database took a question and says nothing any more. */
class DatabaseSilentError extends Error {
  readonly code = 'INSEL_SILENT'

  constructor(withinMs: number) {
    super(`the database did not answer for ${withinMs / 1000} s`)
  }
}

/** What of the driver's client is used here. */
interface Client {
  query(...args: readonly unknown[]): unknown
  readonly connection: EventEmitter & { readonly stream: Socket }
}

/**
 * Ends a connection on which the database is silent while it is asked something: it may be stopped, and then enforces no time-out of its
 * own. All that waits on the connection fails with a `DatabaseSilentError`, and the pool makes a new one.
 *
 * @param withinMs of silence, milliseconds; what comes in row by row may take longer in all
 */
export function endWhenSilent(client: Client, withinMs: number): void {
  const { connection } = client
  const { stream } = connection
  let timer: NodeJS.Timeout | undefined
  const begin = () => {
    clearTimeout(timer)
    timer = setTimeout(() => stream.destroy(new DatabaseSilentError(withinMs)), withinMs)
  }
  const query = client.query.bind(client)
  client.query = (...args) => {
    begin()
    return query(...args)
  }
  stream.on('data', () => timer && begin())
  connection.on('readyForQuery', () => {
    clearTimeout(timer)
    timer = undefined
  })
  stream.once('close', () => clearTimeout(timer))
}
