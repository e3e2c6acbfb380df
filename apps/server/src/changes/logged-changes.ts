import { EntityManager } from '@mikro-orm/postgresql'
import { changeEntity, type ChangeRow } from '../database/entities.js'

/** A logged change, whole or in brief. */
export interface LoggedRow extends Pick<ChangeRow, 'revision' | 'at' | 'actorId' | 'actorName' | 'commands' | 'difference'> {
  /** What a brief reading left out. */
  readonly leftOut: { readonly commands: number; readonly records: number }
}

/** How brief changes are read. */
export interface Brief {
  /** At most so many commands of each. */
  readonly most: number
  /** Commands that name this record come first. */
  readonly subject: string | undefined
}

/** A page of whole changes ends after so many bytes, as they lie compressed in the database; as text they are about five times as many. */
const PAGE_BYTES = 6_000_000

/** The first changes for which a page has room, and at least one. @param found with how many bytes each has in the database */
export function thatFit<T extends { readonly bytes: number }>(found: readonly T[]): readonly T[] {
  let bytes = 0
  const beyond = found.findIndex((one) => (bytes += one.bytes) > PAGE_BYTES)
  return beyond < 0 ? found : found.slice(0, Math.max(1, beyond))
}

/** Changes as the log holds them, newest first. */
export async function wholeChanges(em: EntityManager, estateId: string, revisions: readonly number[]): Promise<LoggedRow[]> {
  const rows = await em.find(changeEntity, { estateId, revision: { $in: [...revisions] } }, { orderBy: { revision: 'desc' } })
  return rows.map((row) => ({ ...row, leftOut: { commands: 0, records: 0 } }))
}

/** What a change did is cut where it touched more records than this. */
const SMALL = 40

/**
 * Changes in brief, newest first: of each the first commands, and of what a large one did only the records that these commands
 * or the subject name. The database leaves out the rest: a list that is imported holds thousands of records, of which three
 * are shown.
 */
export async function briefChanges(
  em: EntityManager,
  estateId: string,
  revisions: readonly number[],
  { most, subject = '' }: Brief,
): Promise<LoggedRow[]> {
  const rows = await em.execute<(Omit<LoggedRow, 'at' | 'leftOut'> & { at: number; commandsLeft: number; recordsLeft: number })[]>(
    `select c.revision, (extract(epoch from c.at) * 1000)::float8 as at, c.actor_id as "actorId", c.actor_name as "actorName", kept.commands,
       jsonb_array_length(c.commands) - jsonb_array_length(kept.commands) as "commandsLeft",
       case when named.ids is null then c.difference
         else jsonb_build_object('added', ${namedIn('added')}, 'updated', ${namedIn('updated')}, 'removed', ${namedIn('removed')}) end as difference,
       cardinality(c.touched) - coalesce(cardinality(named.ids), cardinality(c.touched)) as "recordsLeft"
     from "change" as c,
     lateral (${subject === '' ? FIRST_COMMANDS : ABOUT_FIRST} offset 0) as kept,
     lateral (
       select case when cardinality(c.touched) > ${SMALL} then
         array(select id::text from unnest(c.touched) as id where id::text = ? or strpos(kept.said, id::text) > 0) end as ids offset 0
     ) as named,
     lateral (select c.difference -> 'added' as added, c.difference -> 'updated' as updated, c.difference -> 'removed' as removed offset 0) as did
     where c.estate_id = ? and c.revision = any (?::integer[]) order by c.revision desc`,
    [...(subject === '' ? [] : [subject]), most, subject, estateId, `{${revisions.join(',')}}`],
  )
  return rows.map(({ at, commandsLeft, recordsLeft, ...row }) => ({
    ...row,
    at: new Date(at),
    leftOut: { commands: commandsLeft, records: recordsLeft },
  }))
}

/** The first commands of a change. */
const FIRST_COMMANDS = `select first as commands, first::text as said from jsonb_path_query_array(c.commands, '$[0 to $last]', jsonb_build_object('last', ? - 1)) as first`
/** The first commands of a change that name a record; where these are few, then the others. */
const ABOUT_FIRST = `select coalesce(jsonb_agg(command order by is_about desc, place), '[]') as commands, string_agg(command::text, ' ') as said from (
  select command, place, strpos(command::text, ?) > 0 as is_about
  from jsonb_array_elements(c.commands) with ordinality as listed (command, place)
  order by is_about desc, place limit ?
) as first`
/** A part of what a change did, with those records only that are named. */
const namedIn = (part: 'added' | 'updated' | 'removed') =>
  `(select coalesce(jsonb_object_agg(id, did.${part} -> id), '{}') from unnest(named.ids) as id where did.${part} -> id is not null)`
