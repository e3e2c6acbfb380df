import type { EntityManager } from '@mikro-orm/postgresql'
import type { Difference } from '@insel/core'
import type { ChangeRow } from './entities.js'
import { differenceStatements, isMany, lookAgain } from './records-table.js'
import { runIn } from './statement.js'
import { together, type Turn } from './turn.js'

/** The channel on which PostgreSQL tells every server of every committed change. */
export const CHANNEL = 'insel_changes'

/** A change to be written. */
export type NewChange = ChangeRow & { readonly difference: Difference }

/** The columns of the log, and what each holds of a change. */
const COLUMNS: { readonly [column: string]: (change: NewChange) => unknown } = {
  estate_id: ({ estateId }) => estateId,
  revision: ({ revision }) => revision,
  at: ({ at }) => at.toISOString(),
  actor_id: ({ actorId }) => actorId,
  actor_name: ({ actorName }) => actorName,
  commands: ({ commands }) => commands,
  difference: ({ difference }) => difference,
  touched: ({ touched }) => touched,
  about: ({ about }) => about,
  reverts: ({ reverts }) => reverts,
  submission_id: ({ submissionId }) => submissionId,
}
const names = Object.keys(COLUMNS)
  .map((column) => `"${column}"`)
  .join(', ')
const ROWS = `select ${names} from json_populate_recordset(null::"change", ?::json)`
const rowsOf = (changes: readonly NewChange[]): string =>
  JSON.stringify(changes.map((change) => Object.fromEntries(Object.entries(COLUMNS).map(([column, of]) => [column, of(change)]))))

/** Writes the first entry of a log: as it is, since it may be all of a large estate. */
export async function writeFirstChange(em: EntityManager, change: NewChange): Promise<void> {
  await runIn(em)({ sql: `insert into "change" (${names}) ${ROWS}`, values: [rowsOf([change])] })
}

/**
 * Writes changes that follow each other: the records they are made of, their entries in the log, the estate's revision; and tells the
 * listeners when it commits, and only then. One statement, one way to the database and back: all of it happens, or nothing.
 *
 * @param changes from the one that follows the head on
 * @param difference what they come to together
 * @returns false where the estate is not where it was when the turn began, and nothing was written
 */
export async function writeChanges(
  em: EntityManager,
  { head, run }: Turn,
  changes: readonly NewChange[],
  difference: Difference,
): Promise<boolean> {
  const last = changes.at(-1)
  if (!head || !last) throw new Error('no estate, or no change')
  const { estateId, epoch } = head
  const records = differenceStatements(em, difference, { sql: 'head as h', values: [] })
  const statement = {
    // Changes are alike, except those by which tables grow much: they are planned for what they hold.
    isPrepared: !isMany(difference),
    sql: `with head as (
        update "estate_head" set "revision" = ?, "updated_at" = ? where "estate_id" = ? and "revision" = ? and "epoch" = ? returning "estate_id"
      )${records.map(({ sql }, index) => `, records_${index} as (${sql})`).join('')}
      insert into "change" (${names})
      select r.* from head, (${ROWS}) as r
      returning pg_notify(?, json_build_object('estateId', "estate_id", 'revision', "revision", 'epoch', ?::text)::text)`,
    values: [
      ...[last.revision, last.at, estateId, head.revision, epoch],
      ...records.flatMap(({ values }) => values),
      ...[rowsOf(changes), CHANNEL, epoch],
    ],
  }
  const write = async () => (await run(statement)).length > 0
  // What makes tables grow by much takes more than the one statement.
  if (!isMany(difference)) return write()
  return together(run, async () => {
    if (!(await write())) return false
    await lookAgain(em, difference, run)
    return true
  })
}
