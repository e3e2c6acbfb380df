import type { Standing } from '@insel/contract'
import { Estate } from '@insel/core'
import type { EntityManager } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { changeEntity, differenceOf, estateHeadEntity } from '../database/entities.js'
import { readRecords } from '../database/records-table.js'
import { CATCH_UP_MAX, type Head, type LoggedDifference } from '../database/turn.js'
import { FindingsOnDemand } from './findings-on-demand.js'
import { noEstate } from '../problems/problem.js'
import { bytesGrown, bytesOfAll } from './weight.js'

/** An estate at a revision of an epoch, with its findings. */
export interface EstateVersion extends Standing {
  readonly estate: Estate
  readonly findings: FindingsOnDemand
  /** About how much memory its records take. */
  readonly bytes: number
}

/** How much the estates that are kept may take together, bytes: in the server, and in each of its threads. One is kept whatever it takes. */
export const KEPT_BYTES = { server: 128 * 2 ** 20, thread: 32 * 2 ** 20 } as const

/**
 * Estates as they were last seen, by revision. Only a shortcut: every use asks the database for the revision first and
 * catches up from the change log, so that a second server never leaves this one with an old record.
 */
@Injectable()
export class EstateCache {
  /** The one that was used longest ago first. */
  readonly #kept = new Map<string, EstateVersion>()
  readonly #loading = new Map<string, Promise<EstateVersion>>()

  /** @param keptBytes how much the estates that are kept may take together */
  constructor(private readonly keptBytes: number) {}

  /** What was kept of an estate that is no longer there. */
  forget(estateId: string): void {
    this.#kept.delete(estateId)
  }

  /** Up to which revision an estate is known; 0 where it is not. */
  known(estateId: string): number {
    return this.#kept.get(estateId)?.revision ?? 0
  }

  /**
   * The estate as its head says, just read in the same transaction or turn, or as it was seen after that.
   *
   * @param since what was done to it, read with the head, as far as that is at hand
   */
  async at(em: EntityManager, head: Head, since: readonly LoggedDifference[] = []): Promise<EstateVersion> {
    const { estateId, revision, epoch } = head
    for (;;) {
      const kept = this.#kept.get(estateId)
      // What was seen before a restore is of another history, whatever its number.
      const missing = kept?.epoch === epoch ? revision - kept.revision : Infinity
      if (kept && missing <= 0) return this.keep(estateId, kept)
      if (kept && missing <= CATCH_UP_MAX) {
        const after = since.filter((change) => change.revision > kept.revision && change.revision <= revision)
        return this.keep(
          estateId,
          follow(kept, after.length === missing ? after : await changesBetween(em, estateId, kept.revision, revision)),
        )
      }
      const loading = this.#loading.get(estateId)
      if (!loading) return this.keep(estateId, await this.#loadOnce(em, head))
      // Who loads it hears what goes wrong; who waits tries it then.
      await loading.catch(() => undefined)
    }
  }

  /** The estate as it is now. @throws ProblemError 404 when there is none */
  async now(em: EntityManager, estateId: string): Promise<EstateVersion> {
    return em.transactional(
      async (tx) => {
        const head = await tx.findOne(estateHeadEntity, { estateId })
        if (!head) throw noEstate(estateId)
        return this.at(tx, head)
      },
      { isolationLevel: 'repeatable read' as never, readOnly: true, clear: true },
    )
  }

  /**
   * Keeps an estate as it was committed, unless it was seen later already; what was used longest ago is given up where that is too much
   * together.
   *
   * @returns it
   */
  keep(estateId: string, seen: EstateVersion): EstateVersion {
    const known = this.#kept.get(estateId)
    const isOld = known?.epoch === seen.epoch && known.revision > seen.revision
    this.#kept.delete(estateId)
    this.#kept.set(estateId, isOld ? known : seen)
    let bytes = [...this.#kept.values()].reduce((sum, version) => sum + version.bytes, 0)
    for (const [id, version] of this.#kept) {
      if (bytes <= this.keptBytes || id === estateId) break
      this.#kept.delete(id)
      bytes -= version.bytes
    }
    return seen
  }

  /** Reads all records, while whoever else wants them waits. */
  async #loadOnce(em: EntityManager, { estateId, revision, epoch }: Head): Promise<EstateVersion> {
    const loading = readRecords(em, estateId).then((records) => {
      const estate = Estate.fromRecords(records)
      return { revision, epoch, estate, findings: new FindingsOnDemand(estate), bytes: bytesOfAll(records) }
    })
    this.#loading.set(estateId, loading)
    try {
      return await loading
    } finally {
      this.#loading.delete(estateId)
    }
  }
}

/** What was done to an estate after a revision up to another, the oldest first. */
const changesBetween = (em: EntityManager, estateId: string, after: number, upTo: number): Promise<readonly LoggedDifference[]> =>
  em.find(
    changeEntity,
    { estateId, revision: { $gt: after, $lte: upTo } },
    { orderBy: { revision: 'asc' }, fields: ['difference', 'revision'] },
  )

/** An estate after changes that follow it. */
const follow = (from: EstateVersion, changes: readonly LoggedDifference[]): EstateVersion =>
  changes.reduce<EstateVersion>((at, row) => {
    const difference = differenceOf(row)
    const estate = at.estate.with(difference)
    const findings = new FindingsOnDemand(estate, { before: at.findings, difference })
    return { epoch: at.epoch, revision: row.revision, estate, findings, bytes: at.bytes + bytesGrown(difference) }
  }, from)
