import { MikroORM } from '@mikro-orm/postgresql'
import { once } from 'node:events'
import { finished } from 'node:stream/promises'
import pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import { migrate } from '../../apps/server/src/database/migrate.js'
import { schemaSteps, ormConfig } from '../../apps/server/src/database/orm-config.js'
import { verifyLogs } from '../../apps/server/src/database/verify-log.js'
import { readPostgresProgram } from '../postgres-programs.js'
import { Refusal } from '../../workbench/refusal.js'
import { refuseForeign } from './contents.js'
import { readCopyBlocks, type CopyBlock, type RowsTaken } from './copy-blocks.js'

/** Filled before all others, which refer to it. */
const HEADS = 'estate_head'

/**
 * The steps of the schema that a backup has, checked to be those of this version up to one of them.
 *
 * @returns the last of them
 * @throws Refusal when it is of a newer version, or of none
 */
export function lastStep(source: string, steps: readonly string[]): string {
  const unknown = steps.find((step) => !schemaSteps.some((known) => known.name === step))
  if (unknown !== undefined)
    throw new Refusal(`${source} was written by a newer Insel (it has the step “${unknown.slice(0, 100)}”). Restore it with that version.`)
  const [last, ...more] = schemaSteps
    .slice(0, steps.length)
    .map(({ name }) => name)
    .reverse()
  if (last === undefined || new Set(steps).size !== steps.length || ![last, ...more].every((name) => steps.includes(name)))
    throw new Refusal(`${source} does not have the steps of a schema of Insel’s in their order.`)
  return last
}

/**
 * Puts a backup into an empty database: the schema is made by this program's own steps, up to the backup's; of the backup only rows of known
 * tables are taken. Then it is brought up to this version, and its log is held against its tables.
 *
 * @param step the last step of the schema that the backup has
 */
export async function fillFrom(url: string, source: string, step: string): Promise<void> {
  const orm = await MikroORM.init(ormConfig(url, { isLongWork: true }))
  try {
    await orm.migrator.up({ to: step })
    refuseForeign(source, url)
    await copyRows(url, source)
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

/** Copies the rows of a backup into the tables that are there, all in one transaction. */
async function copyRows(url: string, source: string): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    const known = await tablesIn(client)
    const quoted = (name: string) => client.escapeIdentifier(name)
    await client.query('begin')
    // What the steps themselves put in is in the backup, too.
    await client.query(`truncate ${[...known.keys()].map(quoted).join(', ')}`)
    const take = ({ table, columns }: CopyBlock): RowsTaken => {
      const its = known.get(table)
      if (!its) throw new Refusal(`${source} holds rows of a table that its version of Insel does not have: ${table}.`)
      const strange = columns.find((column) => !its.includes(column))
      if (strange !== undefined || new Set(columns).size !== columns.length)
        throw new Refusal(
          `${source} holds rows of ${table} with a column that it does not have${strange === undefined ? ' once' : `: ${strange}`}.`,
        )
      return rowsInto(client, `copy ${quoted(table)} (${columns.map(quoted).join(', ')}) from stdin`, `${source}: rows of ${table}`)
    }
    for (const isHeads of [true, false]) {
      const program = readPostgresProgram('pg_restore', ['--data-only', '--file=-', ...(isHeads ? [`--table=${HEADS}`] : []), source])
      await readCopyBlocks(program.output, (block) => (isHeads === (block.table === HEADS) ? take(block) : undefined))
      await program.ended
    }
    for (const [table, column] of await serialsIn(client))
      await client.query(
        `select setval(pg_get_serial_sequence($1, $2), coalesce(max(${quoted(column)}), 0) + 1, false) from ${quoted(table)}`,
        [quoted(table), column],
      )
    await client.query('commit').catch((error: unknown) => {
      throw notTaken(source, error)
    })
  } finally {
    await client.end()
  }
}

/** Hands rows to a COPY of ours. What PostgreSQL does not take is said with the table it is of. */
function rowsInto(client: pg.Client, statement: string, what: string): RowsTaken {
  const stream = client.query(copyFrom(statement))
  let failure: unknown
  stream.on('error', (error) => (failure = error))
  const check = () => {
    if (failure !== undefined) throw notTaken(what, failure)
  }
  return {
    async take(rows) {
      check()
      if (!stream.write(rows)) await Promise.race([once(stream, 'drain'), once(stream, 'close')]).catch(() => undefined)
      check()
    },
    async end() {
      check()
      stream.end()
      await finished(stream).catch(() => undefined)
      check()
    },
  }
}

const notTaken = (what: string, error: unknown) => {
  const { message = '', detail = '' } = error as { message?: string; detail?: string }
  return new Refusal(`${what} cannot be taken (${[message, detail].filter(Boolean).join('; ').slice(0, 300)}); nothing was changed.`, {
    cause: error,
  })
}

/** The tables that are there, each with its columns. */
async function tablesIn(client: pg.Client): Promise<ReadonlyMap<string, readonly string[]>> {
  const { rows } = await client.query<{ name: string; columns: string[] }>(
    `select table_name::text as name, array_agg(column_name::text) as columns from information_schema.columns
     where table_schema = 'public' group by table_name order by table_name`,
  )
  return new Map(rows.map(({ name, columns }) => [name, columns]))
}

/** Columns that number their rows themselves. */
async function serialsIn(client: pg.Client): Promise<readonly (readonly [table: string, column: string])[]> {
  const { rows } = await client.query<{ table: string; column: string }>(
    `select table_name::text as "table", column_name::text as "column" from information_schema.columns
     where table_schema = 'public' and column_default like 'nextval(%'`,
  )
  return rows.map(({ table, column }) => [table, column])
}
