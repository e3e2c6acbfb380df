import type { EntityManager } from '@mikro-orm/postgresql'

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

type Rows = readonly Record<string, unknown>[]
/** Runs a statement. @returns its rows */
export type Run = (statement: Statement) => Promise<Rows>

/** A connection of the driver. */
interface Connection {
  query(query: Query): Promise<{ readonly rows: Rows }>
  end(): Promise<void>
}
/** What of Knex, or of a transaction of it, is used here: a transaction has one connection, and keeps it. */
interface Pool {
  readonly client: { acquireConnection(): Promise<Connection>; releaseConnection(connection: Connection): Promise<void> }
}

/** A connection for oneself: with what runs statements on it, and gives it back, or ends it. */
export interface OwnConnection {
  readonly run: Run
  readonly release: () => Promise<void>
  readonly end: () => Promise<void>
}

/** Takes a connection out of the pool, or the one of the manager's transaction. It goes to the driver as it is, values beside statements. */
export async function ownConnection(em: EntityManager): Promise<OwnConnection> {
  const { client } = (em.getTransactionContext<Pool>() ?? em.getKnex()) as Pool
  const connection = await client.acquireConnection()
  const release = () => client.releaseConnection(connection)
  return {
    run: async (statement) => (await connection.query(queryOf(statement))).rows,
    release,
    end: () => connection.end().then(release, release),
  }
}

/**
 * What runs statements in the manager's transaction, or, where there is none, each in a transaction for itself. With a whole difference in
 * JSON that is several times quicker than a text with the values in it.
 */
export const runIn =
  (em: EntityManager): Run =>
  async (statement) => {
    const { run, release } = await ownConnection(em)
    try {
      return await run(statement)
    } finally {
      await release()
    }
  }
