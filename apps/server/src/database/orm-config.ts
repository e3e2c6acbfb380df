import { Migrator } from '@mikro-orm/migrations'
import { defineConfig } from '@mikro-orm/postgresql'
import { entities } from './entities.js'
import { endWhenSilent } from './silence.js'
import { Migration0001Records } from './migrations/migration-0001-records.js'
import { Migration0002Hosts } from './migrations/migration-0002-hosts.js'
import { Migration0003Networks } from './migrations/migration-0003-networks.js'
import { Migration0004Guests } from './migrations/migration-0004-guests.js'
import { Migration0005OtherUse } from './migrations/migration-0005-other-use.js'
import { Migration0006Epochs } from './migrations/migration-0006-epochs.js'
import { Migration0007Histories } from './migrations/migration-0007-histories.js'
import { Migration0008Plans } from './migrations/migration-0008-plans.js'
import { Migration0009Decisions } from './migrations/migration-0009-decisions.js'
import { Migration0010Clones } from './migrations/migration-0010-clones.js'
import { Migration0011Moves } from './migrations/migration-0011-moves.js'
import { Migration0012Inventory } from './migrations/migration-0012-inventory.js'
import { Migration0013Archive } from './migrations/migration-0013-archive.js'
import { Migration0014Submissions } from './migrations/migration-0014-submissions.js'

/** Every step of the schema, oldest first. A step that has run anywhere is never edited. */
export const migrationsList = [
  { name: 'migration-0001-records', class: Migration0001Records },
  { name: 'migration-0002-hosts', class: Migration0002Hosts },
  { name: 'migration-0003-networks', class: Migration0003Networks },
  { name: 'migration-0004-guests', class: Migration0004Guests },
  { name: 'migration-0005-other-use', class: Migration0005OtherUse },
  { name: 'migration-0006-epochs', class: Migration0006Epochs },
  { name: 'migration-0007-histories', class: Migration0007Histories },
  { name: 'migration-0008-plans', class: Migration0008Plans },
  { name: 'migration-0009-decisions', class: Migration0009Decisions },
  { name: 'migration-0010-clones', class: Migration0010Clones },
  { name: 'migration-0011-moves', class: Migration0011Moves },
  { name: 'migration-0012-inventory', class: Migration0012Inventory },
  { name: 'migration-0013-archive', class: Migration0013Archive },
  { name: 'migration-0014-submissions', class: Migration0014Submissions },
]

/**
 * How long to wait for a connection before saying that the database does not answer, milliseconds. A database that is not there
 * says so at once; one that is there may take this long on a machine that has far too much to do.
 */
const CONNECTION_WITHIN_MS = 8_000
/** How long the database may be silent while it is asked something, milliseconds: a request, and work such as a step of the schema or a file. */
const SILENT_MS = { request: 10_000, longWork: 300_000 } as const

/** A pool of so many connections, each ended when the database is silent on it. */
const poolOf = (max: number, isLongWork: boolean) => ({
  min: 0,
  max,
  acquireTimeoutMillis: CONNECTION_WITHIN_MS,
  afterCreate(connection: Parameters<typeof endWhenSilent>[0], done: (error: Error | null, connection: unknown) => void) {
    endWhenSilent(connection, isLongWork ? SILENT_MS.longWork : SILENT_MS.request)
    done(null, connection)
  },
})

/** MikroORM's configuration for a database. @param isLongWork for what no request waits for; one connection then */
export const ormConfig = (databaseUrl: string, { isLongWork = false } = {}) =>
  defineConfig({
    clientUrl: databaseUrl,
    entities,
    extensions: [Migrator],
    migrations: { migrationsList, tableName: 'schema_step', transactional: true, snapshot: false },
    pool: poolOf(isLongWork ? 1 : 10, isLongWork),
    logger: () => undefined,
    driverOptions: { connection: { connectionTimeoutMillis: CONNECTION_WITHIN_MS, application_name: 'insel' } },
    forceUtcTimezone: true,
    allowGlobalContext: false,
    debug: false,
  })
