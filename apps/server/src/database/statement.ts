import type { EntityManager } from '@mikro-orm/postgresql'

/** A statement, and its values: one for each `?` in it. */
export interface Statement {
  readonly sql: string
  readonly values: readonly unknown[]
  /** It is run again and again with other values: the database reads and plans it once for a connection. */
  readonly isPrepared?: boolean
}

/** So many are kept by each connection; what comes then is read anew each time. */
const PREPARED_MAX = 200
const names = new Map<string, string>()

/** The name under which a statement is kept by the database, the same on every connection; undefined when there are too many. */
function nameOf(sql: string): string | undefined {
  const known = names.get(sql)
  if (known !== undefined || names.size >= PREPARED_MAX) return known
  const name = `insel_${names.size + 1}`
  names.set(sql, name)
  return name
}

interface RawQuery extends Promise<{ readonly rows: readonly Record<string, unknown>[] }> {
  /** What goes to the driver beside the text and the values. */
  options(options: { readonly name: string }): RawQuery
}
/** What of Knex, or of a transaction of it, is used here. */
interface Raw {
  raw(sql: string, values: readonly unknown[]): RawQuery
}

/**
 * Runs a statement: in the manager's transaction, or, where there is none, in a transaction for itself. Its values go beside it; they are not
 * written into its text, which with a whole difference in JSON is several times quicker.
 *
 * @returns its rows
 */
export async function runStatement(em: EntityManager, { sql, values, isPrepared = false }: Statement): Promise<readonly Record<string, unknown>[]> {
  const knex = (em.getTransactionContext<Raw>() ?? em.getKnex()) as Raw
  const name = isPrepared ? nameOf(sql) : undefined
  const query = knex.raw(sql, values)
  return (await (name === undefined ? query : query.options({ name }))).rows
}
