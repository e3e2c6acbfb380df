import type { Standing } from '@insel/contract'
import type { EntityManager } from '@mikro-orm/postgresql'
import type { ChangeRow } from './entities.js'
import { LOCKS } from './locks.js'
import { ownConnection, type Run, type Statement } from './statement.js'

/** Further behind than this, all records are read again instead of the changes. */
export const CATCH_UP_MAX = 500

/** What a change did. */
export type LoggedDifference = Pick<ChangeRow, 'revision' | 'difference'>

/** Where an estate is, while nobody else changes it. */
export type Head = Standing & { readonly estateId: string }

/** A turn to change an estate. */
export interface Turn {
  /** Where it is; undefined where there is none. */
  readonly head: Head | undefined
  /** What others changed since a revision that was known, the oldest first; the first so many. */
  readonly since: readonly LoggedDifference[]
  /** Runs a statement, which is committed when it is answered. */
  readonly run: Run
}

const KEY = 'hashtextextended(?::text, ?::bigint)'
const SINCE = `select "revision", "difference" from "change"
  where "estate_id" = ?::uuid and "revision" > ?::integer order by "revision" limit ${CATCH_UP_MAX}`
const statement = (sql: string, ...values: readonly unknown[]): Statement => ({ sql, values, isPrepared: true })

/**
 * Does something while nobody else changes an estate, here or on another server: an advisory lock settles whose turn it is. What is written
 * is committed by itself, and the lock is given back beside the answer.
 *
 * @param known a revision that is known already
 * @see PostgreSQL manual, section 13.3.5
 */
export async function inTurn<T>(em: EntityManager, estateId: string, known: number, work: (turn: Turn) => Promise<T>): Promise<T> {
  const { run, release, end } = await ownConnection(em)
  let isLocked = false
  try {
    await run(statement(`select pg_advisory_lock(${KEY})`, estateId, LOCKS.turn))
    isLocked = true
    // Asked after the lock is there: whoever had it before has committed.
    const [row] = await run(statement('select "revision", "epoch" from "estate_head" where "estate_id" = ?::uuid', estateId))
    const head = row && { estateId, revision: row['revision'] as number, epoch: row['epoch'] as string }
    const since = head && head.revision > known ? await run(statement(SINCE, estateId, known)) : []
    return await work({ head, since: since as unknown as readonly LoggedDifference[], run })
  } finally {
    // A connection that does not answer, or may still hold the lock, is ended, and the lock with it.
    if (isLocked) void run(statement(`select pg_advisory_unlock(${KEY})`, estateId, LOCKS.turn)).then(release, end)
    else void end()
  }
}

/** Runs statements that are committed together, or not at all. */
export async function together<T>(run: Run, work: () => Promise<T>): Promise<T> {
  const say = (sql: string) => run({ sql, values: [] })
  await say('begin')
  try {
    const result = await work()
    await say('commit')
    return result
  } catch (error) {
    await say('rollback')
    throw error
  }
}
