import type { MikroORM } from '@mikro-orm/core'
import type { PostgreSqlDriver } from '@mikro-orm/postgresql'
import pg from 'pg'
import { LOCKS } from './locks.js'
import { schemaSteps } from './orm-config.js'

/** The database has steps of the schema that this version does not know. */
export class NewerSchemaError extends Error {
  constructor(step: string) {
    super(
      `The database was written by a newer Insel (it has the step “${step}”). Start that version, or restore a backup made with this one.`,
    )
  }
}

/**
 * Brings the database's schema up to this version.
 *
 * @throws NewerSchemaError when the database is ahead of the program
 */
export async function migrate(orm: MikroORM<PostgreSqlDriver>, databaseUrl: string): Promise<void> {
  const lock = new pg.Client({ connectionString: databaseUrl })
  await lock.connect()
  try {
    await lock.query('select pg_advisory_lock($1)', [LOCKS.migration])
    const migrator = orm.migrator
    const known = new Set(schemaSteps.map((step) => step.name))
    const foreign = (await migrator.getExecutedMigrations()).find((step) => !known.has(step.name))
    if (foreign) throw new NewerSchemaError(foreign.name)
    await migrator.up()
  } finally {
    await lock.end()
  }
}
