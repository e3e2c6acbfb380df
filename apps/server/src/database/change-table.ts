import type { EntityManager } from '@mikro-orm/postgresql'
import type { Difference } from '@insel/core'
import { CHANNEL } from '../events/notifications.js'
import type { ChangeRow, EstateHead } from './entities.js'
import { differenceStatements, isMany, lookAgain } from './records-table.js'
import { runStatement } from './statement.js'

/** A change to be written. */
export type NewChange = ChangeRow & { readonly difference: Difference }

const COLUMNS =
  '"estate_id", "revision", "at", "actor_id", "actor_name", "commands", "difference", "touched", "about", "reverts", "submission_id"'
const TYPES = ['uuid', 'integer', 'timestamptz', 'uuid', 'text', 'jsonb', 'jsonb', 'uuid[]', 'uuid[]', 'integer', 'uuid']

/** The values of a change, in the order of its columns. */
const valuesOf = ({
  estateId,
  revision,
  at,
  actorId,
  actorName,
  commands,
  difference,
  touched,
  about,
  reverts,
  submissionId,
}: NewChange) => [
  ...[estateId, revision, at, actorId, actorName, JSON.stringify(commands), JSON.stringify(difference)],
  ...[touched, about, reverts, submissionId],
]

/** Writes the first entry of a log: as it is, since it may be all of a large estate. */
export async function writeFirstChange(em: EntityManager, change: NewChange): Promise<void> {
  const sql = `insert into "change" (${COLUMNS}) values (${TYPES.map((type) => `?::${type}`).join(', ')})`
  await runStatement(em, { sql, values: valuesOf(change) })
}

/**
 * Writes a change: the records it is made of, its entry in the log, the estate's revision; and tells the listeners when it commits, and
 * only then. One statement, one way to the database and back: all of it happens, or nothing.
 *
 * @param before where the estate must be, for the change to be its next
 * @param meanwhile called when the database is at work and this program has time; it does not throw
 * @returns false when it is elsewhere, and nothing was written
 */
export async function writeChange(
  em: EntityManager,
  before: Pick<EstateHead, 'revision' | 'epoch'>,
  change: NewChange,
  meanwhile?: () => void,
): Promise<boolean> {
  const { estateId, revision, at, difference } = change
  const records = differenceStatements(em, difference, { sql: 'head as h', values: [] })
  const statement = {
    // Changes are alike, except those by which tables grow much: they are planned for what they hold.
    isPrepared: !isMany(difference),
    sql: `with head as (
        update "estate_head" set "revision" = ?, "updated_at" = ? where "estate_id" = ? and "revision" = ? and "epoch" = ? returning "estate_id"
      )${records.map(({ sql }, index) => `, records_${index} as (${sql})`).join('')}
      insert into "change" (${COLUMNS})
      select ${TYPES.map((type) => `?::${type}`).join(', ')} from head
      returning pg_notify(?, ?)`,
    values: [
      ...[revision, at, estateId, before.revision, before.epoch],
      ...records.flatMap(({ values }) => values),
      ...valuesOf(change),
      ...[CHANNEL, JSON.stringify({ estateId, revision, epoch: before.epoch })],
    ],
  }
  const logged = await runStatement(em, statement, meanwhile)
  if (logged.length === 0) return false
  await lookAgain(em, difference)
  return true
}
