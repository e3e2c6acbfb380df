import type { EntityManager } from '@mikro-orm/postgresql'
import type { Socket } from 'node:net'

/** A statement, and its values: one for each `?` in it. */
export interface Statement {
  readonly sql: string
  readonly values: readonly unknown[]
  /** It is run again and again with other values: the database reads and plans it once for a connection. */
  readonly isPrepared?: boolean
}

/** What the driver takes: the values by number, and the name under which the database keeps it. */
interface Query {
  readonly text: string
  readonly values: readonly unknown[]
  readonly name?: string
}

/** So many are kept by each connection; what comes then is read anew each time. */
const PREPARED_MAX = 200
const prepared = new Map<string, { readonly text: string; readonly name: string }>()

const numbered = (sql: string): string => {
  let at = 0
  return sql.replaceAll('?', () => `$${++at}`)
}

function queryOf({ sql, values, isPrepared = false }: Statement): Query {
  const known = isPrepared ? prepared.get(sql) : undefined
  if (known) return { ...known, values }
  const text = numbered(sql)
  if (!isPrepared || prepared.size >= PREPARED_MAX) return { text, values }
  const kept = { text, name: `insel_${prepared.size + 1}` }
  prepared.set(sql, kept)
  return { ...kept, values }
}

/** A connection of the driver. */
interface Connection {
  query(query: Query): Promise<{ readonly rows: readonly Record<string, unknown>[] }>
  readonly connection: { readonly stream: Socket }
}
/** What of Knex, or of a transaction of it, is used here: a transaction has one connection, and keeps it. */
interface Pool {
  readonly client: { acquireConnection(): Promise<Connection>; releaseConnection(connection: Connection): Promise<void> }
}

/** Until what was written to a connection has left this program, or the connection is gone. Of megabytes the most waits here at first. */
async function sent({ connection: { stream } }: Connection): Promise<void> {
  if (!stream.writableNeedDrain || stream.destroyed) return
  await new Promise<void>((resolve) => {
    const over = () => {
      stream.off('drain', over).off('close', over)
      resolve()
    }
    stream.on('drain', over).on('close', over)
  })
}

/**
 * Runs a statement: in the manager's transaction, or, where there is none, in a transaction for itself. It goes to the driver as it is,
 * and its values beside it: with a whole difference in JSON that is several times quicker than a text with the values in it.
 *
 * @param meanwhile called when the database has all it needs, and this program time; it does not throw
 * @returns its rows
 */
export async function runStatement(
  em: EntityManager,
  statement: Statement,
  meanwhile?: () => void,
): Promise<readonly Record<string, unknown>[]> {
  const { client } = (em.getTransactionContext<Pool>() ?? em.getKnex()) as Pool
  const connection = await client.acquireConnection()
  try {
    const answer = connection.query(queryOf(statement))
    if (meanwhile) void sent(connection).then(meanwhile)
    return (await answer).rows
  } finally {
    await client.releaseConnection(connection)
  }
}
