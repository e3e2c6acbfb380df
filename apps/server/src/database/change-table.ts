import type { EntityManager } from '@mikro-orm/postgresql'
import { CHANNEL } from '../events/notifications.js'
import type { ChangeRow, EstateHead } from './entities.js'
import { runStatement } from './statement.js'

/**
 * Appends a change to the log, raises the estate's revision to its, and tells the listeners: when the transaction commits, and only
 * then. One statement, one way to the database and back.
 */
export async function writeChange(em: EntityManager, { epoch }: EstateHead, change: ChangeRow): Promise<void> {
  const { estateId, revision, at, actorId, actorName, commands, difference, touched, reverts } = change
  await runStatement(
    em,
    `with logged as (
       insert into "change" ("estate_id", "revision", "at", "actor_id", "actor_name", "commands", "difference", "touched", "reverts")
       values (?, ?, ?, ?, ?, ?::jsonb, ?::jsonb, ?::uuid[], ?)
       returning "estate_id", "revision", "at"
     ), told as (select pg_notify(?, ?))
     update "estate_head" as h set "revision" = l."revision", "updated_at" = l."at" from logged as l, told where h."estate_id" = l."estate_id"`,
    [
      estateId,
      revision,
      at,
      actorId,
      actorName,
      JSON.stringify(commands),
      JSON.stringify(difference),
      touched,
      reverts,
      CHANNEL,
      JSON.stringify({ estateId, revision, epoch }),
    ],
  )
}
