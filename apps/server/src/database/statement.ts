import type { EntityManager } from '@mikro-orm/postgresql'

/** What of a transaction of Knex is used here. */
interface Transaction {
  raw(sql: string, values: readonly unknown[]): Promise<{ readonly rows: readonly unknown[] }>
}

/**
 * Runs a statement in the manager's transaction. Its values go beside it, one for each `?`: they are not written into its text, which
 * with a whole difference in JSON is several times quicker.
 *
 * @returns its rows
 */
export async function runStatement<Row = never>(em: EntityManager, sql: string, values: readonly unknown[]): Promise<Row[]> {
  const transaction = em.getTransactionContext<Transaction>()
  if (!transaction) throw new Error('This statement belongs into a transaction.')
  const { rows } = await transaction.raw(sql, values)
  return rows as Row[]
}
