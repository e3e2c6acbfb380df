import { saidTime } from '../changes/story-clock.js'
import type { CreateEstateRequest, DifferenceResponse, EstateRemoved, EstateSummary, RecordsResponse } from '@insel/contract'
import { applyAll, compose, emptyDifference, Estate, type Command, type Difference } from '@insel/core'
import { EntityManager, LockMode } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { newId } from '../changes/new-id.js'
import { changeEntity, differenceOf, estateHeadEntity, recordEntities } from '../database/entities.js'
import { ProblemError, noEstate } from '../problems/problem.js'
import { EstateCache, type EstateVersion } from '../cache/estate-cache.js'
import { EstateFiles } from './estate-files.js'
import { writeNewEstate } from './new-estate.js'

/** Past this many changes, all records cost less than the differences. */
const SINCE_MAX = 1000

@Injectable()
export class EstatesService {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    private readonly files: EstateFiles,
  ) {}

  async list(): Promise<EstateSummary[]> {
    const em = this.em.fork()
    const heads = await em.find(estateHeadEntity, {}, { orderBy: { estateId: 'asc' } })
    const described = await em
      .createQueryBuilder(recordEntities.estate, 'e')
      .select(['id', 'name', 'archivedAt'])
      .execute<{ id: string; name: string; archivedAt: string | null }[]>('all')
    const descriptions = new Map(described.map((one) => [one.id, one]))
    return heads.map(({ estateId, revision, updatedAt }) => ({
      id: estateId,
      name: descriptions.get(estateId)?.name ?? estateId,
      revision,
      updatedAt: updatedAt.toISOString(),
      archivedAt: descriptions.get(estateId)?.archivedAt ?? null,
    }))
  }

  /** A new estate: its description, its policies, and its first person. */
  async create(request: CreateEstateRequest): Promise<EstateSummary & { personId: string }> {
    const [estateId, personId, now] = [newId(), newId(), saidTime() ?? new Date()]
    const commands: Command[] = [
      {
        type: 'person.add',
        record: { id: personId, name: request.recordedAs ?? 'Insel', kind: request.recordedAs ? 'person' : 'program' },
      },
      { type: 'policy.add', record: {} },
    ]
    const description = {
      id: estateId,
      name: request.name.trim(),
      domain: request.domain ?? null,
      timeZone: request.timeZone ?? 'UTC',
      archivedAt: null,
      note: '',
    }
    const described: Difference = { added: { [estateId]: { kind: 'estate', record: description } }, updated: {}, removed: {} }
    const applied = applyAll(Estate.empty.with(described), commands, { newId, now: now.toISOString(), revision: 1 })
    const difference = compose(described, applied.difference)
    await writeNewEstate(this.em.fork(), estateId, applied.estate, difference, { personId, commands, now })
    return { id: estateId, name: description.name, revision: 1, updatedAt: now.toISOString(), archivedAt: null, personId }
  }

  /**
   * A new estate with the records of a file, as its first change: read and written in a thread whose memory is limited.
   *
   * @param file the bytes of the file; they are handed over, and gone afterwards
   * @param name what it is called; as in the file where none is given
   * @throws ProblemError 422 with everything that is wrong
   */
  import(file: Uint8Array, name?: string): Promise<EstateSummary & { personId: string }> {
    return this.files.take(file, name)
  }

  /**
   * Removes an estate with everything of it: what the database keeps of an estate goes with its head.
   *
   * @param name its name, typed by whoever means it
   * @throws ProblemError 404 when there is none, 422 when it is called otherwise
   */
  async remove(estateId: string, name: string): Promise<EstateRemoved> {
    await this.em.fork().transactional(async (em) => {
      const head = await em.findOne(estateHeadEntity, { estateId }, { lockMode: LockMode.PESSIMISTIC_WRITE })
      if (!head) throw noEstate(estateId)
      const described = await em.findOne(recordEntities.estate, { estateId, id: estateId })
      if (described?.['name'] !== name) {
        const sentence = `The estate is called ${String(described?.['name'])}, not ${name}; type its name to remove it.`
        throw new ProblemError(422, 'invalid', 'Another estate is meant', sentence, {
          errors: [{ path: 'name', code: 'invalid', message: sentence }],
        })
      }
      await em.nativeDelete(estateHeadEntity, { estateId })
    })
    this.cache.forget(estateId)
    return { id: estateId, name }
  }

  /** The estate as it is. @throws ProblemError 404 when there is none */
  now(estateId: string): Promise<EstateVersion> {
    return this.cache.now(this.em.fork(), estateId)
  }

  /** What changed since a revision, or all records when that is too long ago or not a revision of this estate and epoch. */
  async since(estateId: string, since: number, epoch: string | undefined): Promise<RecordsResponse | DifferenceResponse> {
    const em = this.em.fork()
    const head = await em.findOne(estateHeadEntity, { estateId })
    if (!head) throw noEstate(estateId)
    const isOfAnother = since > head.revision || (epoch !== undefined && epoch !== head.epoch)
    if (isOfAnother || head.revision - since > SINCE_MAX) return recordsOf(await this.now(estateId))
    const rows = await em.find(
      changeEntity,
      { estateId, revision: { $gt: since, $lte: head.revision } },
      { orderBy: { revision: 'asc' }, fields: ['difference'] },
    )
    return {
      revision: head.revision,
      epoch: head.epoch,
      difference: rows.reduce((all, row) => compose(all, differenceOf(row)), emptyDifference),
    }
  }
}

/** All records of an estate, as they are answered. */
export const recordsOf = ({ revision, epoch, estate }: EstateVersion): RecordsResponse => ({
  revision,
  epoch,
  records: estate.toRecords(),
})
