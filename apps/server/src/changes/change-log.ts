import type { Change, ChangesPage, LoggedCommand, Problem } from '@insel/contract'
import type { Estate } from '@insel/core'
import { EntityManager, raw } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { EstateCache } from '../cache/estate-cache.js'
import { changeEntity, differenceOf, type ChangeRow } from '../database/entities.js'
import { notFound } from '../problems/problem.js'
import { briefChanges, thatFit, wholeChanges, type LoggedRow } from './logged-changes.js'

/** What to show of the logbook. */
export interface ChangesQuery {
  readonly before?: number
  readonly limit: number
  /** Only changes that touched this record or a part of it. */
  readonly subject?: string
  /** Only changes with all of these words in what they changed, or about records whose names hold them. */
  readonly text?: string
  /** Only changes by this person. */
  readonly actor?: string
  readonly from?: Date
  readonly until?: Date
  /** Each in brief: at most so many of its commands, and what these did. */
  readonly most?: number
}

/** What a change that is being made may ask the log. */
export interface LogInTurn {
  /** Changes after a revision that touched any of some records, oldest first. */
  touching(after: number, ids: readonly string[]): Promise<readonly ChangeRow[]>
  change(revision: number): Promise<ChangeRow | null>
}

/** The logbook: reads the change log. Writing it is the pipeline's. */
@Injectable()
export class ChangeLog {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
  ) {}

  async page(estateId: string, query: ChangesQuery): Promise<ChangesPage> {
    const em = this.em.fork()
    const qb = em
      .createQueryBuilder(changeEntity, 'c')
      .select(['c.revision', raw(`pg_column_size(c.commands) + pg_column_size(c.difference) as bytes`)])
      .where({ estateId })
      .orderBy({ revision: 'desc' })
      .limit(query.limit + 1)
    if (query.before !== undefined) qb.andWhere({ revision: { $lt: query.before } })
    if (query.actor) qb.andWhere({ actorId: query.actor })
    if (query.from) qb.andWhere({ at: { $gte: query.from } })
    if (query.until) qb.andWhere({ at: { $lt: query.until } })
    if (query.subject) qb.andWhere('c.about @> array[?]::uuid[]', [query.subject])
    const words = query.text?.toLowerCase().split(/\s+/).filter(Boolean) ?? []
    if (words.length > 0) {
      const { estate } = await this.cache.now(this.em.fork(), estateId)
      for (const word of words)
        qb.andWhere(
          `(c.about && ?::uuid[] or lower(c.actor_name) like ? or lower(c.commands::text) like ? or lower(c.difference::text) like ?)`,
          [`{${namedLike(estate, word).join(',')}}`, like(word), like(jsonText(word)), like(jsonText(word))],
        )
    }
    const found = await qb.execute<{ revision: number; bytes: number }[]>('all')
    // Every estate has a first change: of one that has none it is asked whether it is there.
    if (found.length === 0) await this.cache.now(this.em.fork(), estateId)
    const { most, subject, limit } = query
    const shown = (most === undefined ? thatFit(found) : found).slice(0, limit).map(({ revision }) => revision)
    const [rows, reverted] = await Promise.all([
      most === undefined ? wholeChanges(em, estateId, shown) : briefChanges(em, estateId, shown, { most, subject }),
      this.#reverted(em.fork(), estateId, shown),
    ])
    return {
      changes: rows.map((row) => changeOf(row, reverted.get(row.revision) ?? null)),
      nextBefore: found.length > shown.length ? (shown.at(-1) ?? null) : null,
    }
  }

  /** One change, whole. @throws ProblemError 404 */
  async one(estateId: string, revision: number): Promise<Change> {
    const em = this.em.fork()
    const [row] = await wholeChanges(em, estateId, [revision])
    if (!row) throw notFound(`There is no change ${revision} in this estate.`)
    return changeOf(row, (await this.#reverted(em, estateId, [revision])).get(revision) ?? null)
  }

  /** What the log has of changes after a revision that touched any of some records, oldest first. */
  async #touching(em: EntityManager, estateId: string, after: number, ids: readonly string[]): Promise<ChangeRow[]> {
    if (ids.length === 0) return []
    return em
      .createQueryBuilder(changeEntity, 'c')
      .select('*')
      .where({ estateId, revision: { $gt: after } })
      .andWhere(`c.touched && array[${ids.map(() => '?').join(',')}]::uuid[]`, [...ids])
      .orderBy({ revision: 'asc' })
      .limit(50)
      .getResultList()
  }

  /** The log of an estate, read in a turn to change it. @param pending what the turn is going to write, which goes on from it */
  inTurn(em: EntityManager, estateId: string, pending: readonly ChangeRow[]): LogInTurn {
    return {
      touching: async (after, ids) => [
        ...(await this.#touching(em, estateId, after, ids)),
        ...pending.filter(({ revision, touched }) => revision > after && touched.some((id) => ids.includes(id))),
      ],
      change: async (revision) => pending.find((one) => one.revision === revision) ?? em.findOne(changeEntity, { estateId, revision }),
    }
  }

  /** For each of some changes, the change that reverted it, if that one is not reverted itself. */
  async #reverted(em: EntityManager, estateId: string, revisions: readonly number[]): Promise<Map<number, number>> {
    if (revisions.length === 0) return new Map()
    const reverts = await em.find(
      changeEntity,
      { estateId, reverts: { $ne: null } },
      { fields: ['revision', 'reverts'], orderBy: { revision: 'asc' } },
    )
    const undone = new Set<number>()
    // A revert that was itself taken back no longer counts; later ones are looked at first.
    for (const { revision, reverts: target } of [...reverts].reverse()) if (target !== null && !undone.has(revision)) undone.add(target)
    return new Map(
      reverts.flatMap(({ revision, reverts: target }) =>
        target !== null && undone.has(target) && !undone.has(revision) && revisions.includes(target) ? [[target, revision]] : [],
      ),
    )
  }
}

/** A pattern that finds a text as it is. @see PostgreSQL, pattern matching: `LIKE` */
const like = (text: string) => `%${text.replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`
/** A text as it stands within JSON. */
const jsonText = (text: string) => JSON.stringify(text).slice(1, -1)

/** Ids of the things whose names hold a text. */
const namedLike = (estate: Estate, text: string): readonly string[] =>
  (['host', 'guest', 'network', 'store', 'system', 'image', 'platform', 'person', 'plan'] as const).flatMap((kind) =>
    estate.all(kind).flatMap(({ id, name }) => (name.toLowerCase().includes(text) ? [id] : [])),
  )

const changeOf = (row: LoggedRow, revertedBy: number | null): Change => ({
  revision: row.revision,
  at: row.at.toISOString(),
  actor: { id: row.actorId, name: row.actorName },
  commands: row.commands as LoggedCommand[],
  difference: differenceOf(row),
  revertedBy,
  leftOut: row.leftOut,
})

/** Changes as a 409 lists them: which records, and who. */
export const meanwhileOf = (rows: readonly ChangeRow[], ids: readonly string[]): Problem['meanwhile'] =>
  rows.map((row) => ({
    revision: row.revision,
    actor: row.actorName,
    at: row.at.toISOString(),
    records: row.touched.filter((id) => ids.includes(id)),
  }))
