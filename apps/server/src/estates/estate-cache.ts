import type { Standing } from '@insel/contract'
import { Estate } from '@insel/core'
import type { EntityManager } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { changeEntity, differenceOf, estateHeadEntity, type EstateHead } from '../database/entities.js'
import { readRecords } from '../database/records-table.js'
import { FindingsOnDemand } from '../findings/findings-on-demand.js'
import { noEstate } from '../problems/problem.js'

/** An estate at a revision of an epoch, with its findings. */
export interface EstateVersion extends Standing {
  readonly estate: Estate
  readonly findings: FindingsOnDemand
}

/** How many estates are kept. */
const KEPT = 8
/** Further behind than this, all records are read again instead of the changes. */
const CATCH_UP_MAX = 500

/**
 * Estates as they were last seen, by revision. Only a shortcut: every use asks the database for the revision first and
 * catches up from the change log, so that a second server never leaves this one with an old record.
 */
@Injectable()
export class EstateCache {
  readonly #kept = new Map<string, EstateVersion>()

  /** The estate as this server saw it last, which it may no longer be. */
  lastSeen(estateId: string): EstateVersion | undefined {
    return this.#kept.get(estateId)
  }

  /** What was kept of an estate that is no longer there. */
  forget(estateId: string): void {
    this.#kept.delete(estateId)
  }

  /** The estate as its head says, just read in the same transaction. */
  async at(em: EntityManager, { estateId, revision, epoch }: EstateHead): Promise<EstateVersion> {
    const kept = this.#kept.get(estateId)
    // What was seen before a restore is of another history, whatever its number.
    const known = kept?.epoch === epoch ? kept : undefined
    if (known?.revision === revision) return known
    const missing = known ? revision - known.revision : Infinity
    const current =
      known && missing > 0 && missing <= CATCH_UP_MAX
        ? await this.#catchUp(em, estateId, known, revision)
        : await this.#load(em, estateId, { revision, epoch })
    this.keep(estateId, current)
    return current
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

  /** Keeps an estate after its change was committed. */
  keep(estateId: string, current: EstateVersion): void {
    const known = this.#kept.get(estateId)
    if (known?.epoch === current.epoch && known.revision > current.revision) return
    this.#kept.delete(estateId)
    this.#kept.set(estateId, current)
    const [oldest] = this.#kept.keys()
    if (this.#kept.size > KEPT && oldest) this.#kept.delete(oldest)
  }

  async #load(em: EntityManager, estateId: string, standing: Standing): Promise<EstateVersion> {
    const estate = Estate.fromRecords(await readRecords(em, estateId))
    return { ...standing, estate, findings: new FindingsOnDemand(estate) }
  }

  async #catchUp(em: EntityManager, estateId: string, known: EstateVersion, revision: number): Promise<EstateVersion> {
    const rows = await em.find(
      changeEntity,
      { estateId, revision: { $gt: known.revision, $lte: revision } },
      { orderBy: { revision: 'asc' }, fields: ['difference', 'revision'] },
    )
    return rows.reduce<EstateVersion>((at, row) => {
      const difference = differenceOf(row)
      const estate = at.estate.with(difference)
      const findings = new FindingsOnDemand(estate, { before: at.findings, difference })
      return { epoch: at.epoch, revision: row.revision, estate, findings }
    }, known)
  }
}
