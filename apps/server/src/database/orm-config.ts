import { Migrator } from '@mikro-orm/migrations'
import { defineConfig } from '@mikro-orm/postgresql'
import { entities } from './entities.js'
import { endWhenSilent } from './silence.js'
import { Step0001Records } from './steps/step-0001-records.js'
import { Step0002Hosts } from './steps/step-0002-hosts.js'
import { Step0003Networks } from './steps/step-0003-networks.js'
import { Step0004Guests } from './steps/step-0004-guests.js'
import { Step0005OtherUse } from './steps/step-0005-other-use.js'
import { Step0006Epochs } from './steps/step-0006-epochs.js'
import { Step0007Histories } from './steps/step-0007-histories.js'
import { Step0008Plans } from './steps/step-0008-plans.js'
import { Step0009Decisions } from './steps/step-0009-decisions.js'
import { Step0010Clones } from './steps/step-0010-clones.js'
import { Step0011Moves } from './steps/step-0011-moves.js'
import { Step0012Inventory } from './steps/step-0012-inventory.js'
import { Step0013Archive } from './steps/step-0013-archive.js'
import { Step0014Submissions } from './steps/step-0014-submissions.js'

/** Every step of the schema, oldest first. A step that has run anywhere is never edited. */
export const schemaSteps = [
  { name: 'migration-0001-records', class: Step0001Records },
  { name: 'migration-0002-hosts', class: Step0002Hosts },
  { name: 'migration-0003-networks', class: Step0003Networks },
  { name: 'migration-0004-guests', class: Step0004Guests },
  { name: 'migration-0005-other-use', class: Step0005OtherUse },
  { name: 'migration-0006-epochs', class: Step0006Epochs },
  { name: 'migration-0007-histories', class: Step0007Histories },
  { name: 'migration-0008-plans', class: Step0008Plans },
  { name: 'migration-0009-decisions', class: Step0009Decisions },
  { name: 'migration-0010-clones', class: Step0010Clones },
  { name: 'migration-0011-moves', class: Step0011Moves },
  { name: 'migration-0012-inventory', class: Step0012Inventory },
  { name: 'migration-0013-archive', class: Step0013Archive },
  { name: 'migration-0014-submissions', class: Step0014Submissions },
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
    migrations: { migrationsList: schemaSteps, tableName: 'schema_step', transactional: true, snapshot: false },
    pool: poolOf(isLongWork ? 1 : 10, isLongWork),
    logger: () => undefined,
    driverOptions: { connection: { connectionTimeoutMillis: CONNECTION_WITHIN_MS, application_name: 'insel' } },
    forceUtcTimezone: true,
    allowGlobalContext: false,
    debug: false,
  })
