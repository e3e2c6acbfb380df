import { Migrator } from '@mikro-orm/migrations'
import { defineConfig } from '@mikro-orm/postgresql'
import { entities } from './entities.js'
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
]

/**
 * How long to wait for a connection before saying that the database does not answer, milliseconds. A database that is not there
 * says so at once; one that is there may take this long on a machine that has far too much to do.
 */
const CONNECTION_TIMEOUT_MS = 15_000

/** MikroORM's configuration for a database. */
export const ormConfig = (databaseUrl: string) =>
  defineConfig({
    clientUrl: databaseUrl,
    entities,
    extensions: [Migrator],
    migrations: { migrationsList, tableName: 'schema_step', transactional: true, snapshot: false },
    pool: { min: 0, max: 10, acquireTimeoutMillis: CONNECTION_TIMEOUT_MS },
    logger: () => undefined,
    driverOptions: { connection: { connectionTimeoutMillis: CONNECTION_TIMEOUT_MS, application_name: 'insel' } },
    forceUtcTimezone: true,
    allowGlobalContext: false,
    debug: false,
  })
