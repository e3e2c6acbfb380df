import { MikroORM } from '@mikro-orm/postgresql'
import { migrate } from '../apps/server/src/database/migrate.js'
import { migrationsList, ormConfig } from '../apps/server/src/database/orm-config.js'
import { verifyLogs } from '../apps/server/src/database/verify-log.js'
import { runPostgresProgram } from './postgres-programs.js'
import { Refusal } from './refusal.js'

/** The steps of the schema that a backup has and this version does not know. */
export const unknownSteps = (steps: readonly string[]): readonly string[] =>
  steps.filter((step) => !migrationsList.some((known) => known.name === step))

/** Puts a backup into an empty database, brings it up to this version, and holds its log against its tables. */
export async function fillFrom(url: string, source: string): Promise<void> {
  runPostgresProgram('pg_restore', url, ['--no-owner', '--no-privileges', '--exit-on-error', '--single-transaction', source])
  const orm = await MikroORM.init(ormConfig(url, { isLongWork: true }))
  try {
    await migrate(orm, url)
    const troubles = await verifyLogs(orm.em)
    if (troubles.length > 0)
      throw new Refusal(
        `${source} was not restored, since its log and its tables do not agree; nothing was changed.\n${troubles.slice(0, 5).join('\n')}${troubles.length > 5 ? `\nand ${troubles.length - 5} more.` : ''}`,
      )
    // Revisions of this history are not those that servers and pages have seen.
    await orm.em.fork().execute('update estate_head set epoch = gen_random_uuid()')
  } finally {
    await orm.close(true)
  }
}
