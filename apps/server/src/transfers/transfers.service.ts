import type { ReadingsCount, ReadingsTaken, TransferResponse } from '@insel/contract'
import {
  bytesToMove,
  timeReadProblem,
  readField,
  readingRemarks,
  type NumberStyle,
  type Field,
  ESTIMATED_MAX,
  progressView,
  type Estate,
  type Migration,
  type TransferSample,
} from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { EstateCache } from '../cache/estate-cache.js'
import { HeavyWork } from '../heavy-work/heavy-work.js'
import { OutgoingClient } from '../outgoing/outgoing-client.js'
import { notFound, ProblemError } from '../problems/problem.js'
import { readAddress } from './progress-address.js'

/** A reading as it comes in. */
export interface Reading {
  readonly at: string
  readonly bytes: number
}

/** A move, and the estate it is of. */
interface MoveOf {
  readonly estateId: string
  readonly estate: Estate
  readonly move: Migration
}

const AT: Field = { type: 'text', shape: 'instant', max: 40, label: 'Time', doc: 'When it was read.' }
const BYTES_MAX = 2 ** 52
/** So many of the latest readings say how far apart they usually are. */
const LOOKED_BACK = 50

/** What is wrong with a reading, in a sentence; undefined where it is kept. */
function readingProblem({ at, bytes }: TransferSample, now: number): string | undefined {
  if (!Number.isFinite(at)) return 'Enter a time such as 2027-01-18T08:00:00Z.'
  const problem = timeReadProblem(at, now)
  if (problem) return problem
  return Number.isFinite(bytes) && bytes >= 0 && bytes <= BYTES_MAX ? undefined : 'Bytes are 0 or more, and at most 4 PiB.'
}

/** Dated readings of moves that are copied: kept by move, and estimated when they are asked for. */
@Injectable()
export class TransfersService {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    private readonly outgoing: OutgoingClient,
    private readonly work: HeavyWork,
  ) {}

  /** Takes readings in; of the same millisecond the later one counts. Wrong ones are named and left out. */
  async take(estateId: string, migrationId: string, readings: readonly Reading[]): Promise<ReadingsTaken> {
    const of = await this.#move(estateId, migrationId)
    return this.#keep(
      of,
      readings.map(({ at, bytes }) => ({ at: readField(AT, at).ok ? Date.parse(at) : NaN, bytes })),
      0,
    )
  }

  /**
   * Takes in what a tool said of its progress.
   *
   * @param saidAt when it said the last line, milliseconds since 1970
   * @param style how the text writes its numbers, where somebody said so
   * @throws ProblemError 404, 422 where the lines do not say how far the whole is
   */
  async takeLines(
    estateId: string,
    migrationId: string,
    text: string,
    saidAt: number,
    style: NumberStyle | undefined,
  ): Promise<ReadingsTaken> {
    const of = await this.#move(estateId, migrationId)
    // A log of days has a line a second.
    const { samples, unread, doubt, refusal } = await this.work.do(estateId, 'progressLines', {
      kind: 'lines',
      migrationId,
      text,
      saidAt,
      style,
    })
    if (refusal) throw new ProblemError(422, 'invalid', 'Not how far the whole is', refusal)
    return doubt ? { taken: 0, rejected: [], unread, doubt, remarks: [] } : this.#keep(of, samples, unread)
  }

  /** Asks the address at which the tool that copies says how far it is, and keeps what it says. @throws ProblemError 422, 502 */
  async ask(estateId: string, migrationId: string): Promise<ReadingsTaken> {
    const of = await this.#move(estateId, migrationId)
    const { estate, move } = of
    if (!move.progressAt)
      throw new ProblemError(422, 'invalid', 'No address', 'No address is recorded at which the tool says its progress; enter it first.')
    const bytes = await readAddress(this.outgoing, move.progressAt, bytesToMove(estate, move))
    return this.#keep(of, [{ at: Date.now(), bytes }], 0)
  }

  /** Forgets all readings of a move. @returns how many there are then */
  async forget(estateId: string, migrationId: string): Promise<ReadingsCount> {
    await this.#move(estateId, migrationId)
    await this.em.fork().execute('delete from transfer_sample where estate_id = ? and migration_id = ?', [estateId, migrationId])
    return { count: 0 }
  }

  /** How a move's transfer stands, thinned to what is drawn. */
  async progress(estateId: string, migrationId: string): Promise<TransferResponse> {
    const { estate, move } = await this.#move(estateId, migrationId)
    const of = 'from transfer_sample where estate_id = ? and migration_id = ?'
    const ask = <T>(sql: string, values: readonly unknown[]) => this.em.fork().execute<T[]>(sql, [...values])
    const key = [estateId, migrationId]
    const [span] = await ask<{ isMany: boolean; first: number; last: number }>(
      `select (select count(*) from (select 1 ${of} limit ?) as few) > ? as "isMany",
       (select min(at)::float ${of}) as first, (select max(at)::float ${of}) as last`,
      [...key, ESTIMATED_MAX + 1, ESTIMATED_MAX, ...key, ...key],
    )
    // Of many, of each stretch of the time the last one, found one by one in the index: to read a hundred thousand and
    // throw most of them away takes ten times as long.
    const samples = span?.isMany
      ? await ask<TransferSample>(
          `select distinct s.at::float as at, s.bytes::float as bytes from generate_series(0, ?) as stretch,
           lateral (select at, bytes ${of} and at <= ?::bigint + ?::bigint * stretch / ? order by at desc limit 1) as s order by at`,
          [ESTIMATED_MAX - 1, ...key, span.first, span.last - span.first, ESTIMATED_MAX - 1],
        )
      : await ask<TransferSample>(`select at::float as at, bytes::float as bytes ${of} order by at`, key)
    const totalBytes = Math.max(bytesToMove(estate, move), 1)
    return { ...progressView(totalBytes, samples), count: span?.isMany ? null : samples.length, totalBytes }
  }

  /** How many readings of a move there are. */
  async count(estateId: string, migrationId: string): Promise<ReadingsCount> {
    await this.#move(estateId, migrationId)
    const [row] = await this.em
      .fork()
      .execute<ReadingsCount[]>('select count(*)::float as count from transfer_sample where estate_id = ? and migration_id = ?', [
        estateId,
        migrationId,
      ])
    return { count: row?.count ?? 0 }
  }

  async #keep(of: MoveOf, samples: readonly TransferSample[], unread: number): Promise<ReadingsTaken> {
    const now = Date.now()
    const rejected: { index: number; reason: string }[] = []
    const kept = new Map<number, number>()
    for (const [index, sample] of samples.entries()) {
      const reason = readingProblem(sample, now)
      if (reason) rejected.push({ index, reason })
      else kept.set(Math.round(sample.at), Math.round(sample.bytes))
    }
    const remarks = await this.#remarksOn(
      of,
      [...kept].map(([at, bytes]) => ({ at, bytes })),
    )
    if (kept.size > 0)
      await this.em.fork().execute(
        `insert into transfer_sample (estate_id, migration_id, at, bytes)
         select ?, ?, x.at, x.bytes from jsonb_to_recordset(?::jsonb) as x(at bigint, bytes bigint)
         on conflict (estate_id, migration_id, at) do update set bytes = excluded.bytes`,
        [of.estateId, of.move.id, JSON.stringify([...kept].map(([at, bytes]) => ({ at, bytes })))],
      )
    return { taken: samples.length - rejected.length, rejected, unread, remarks }
  }

  /** What is odd about readings that are not kept yet, a sentence each. */
  async #remarksOn({ estateId, estate, move }: MoveOf, samples: readonly TransferSample[]): Promise<readonly string[]> {
    if (samples.length === 0) return []
    const [known] = await this.em
      .fork()
      .execute<{ first: number; last: number; count: number; bytes: number }[]>(
        'select min(at)::float as first, max(at)::float as last, count(*)::float as count, (array_agg(bytes order by at desc))[1]::float as bytes from (select at, bytes from transfer_sample where estate_id = ? and migration_id = ? order by at desc limit ?) as latest',
        [estateId, move.id, LOOKED_BACK],
      )
    return readingRemarks(samples, {
      begunAt: move.copyingAt ?? move.startedAt,
      known: known?.count ? known : undefined,
      totalBytes: bytesToMove(estate, move),
    })
  }

  /** @throws ProblemError 404 */
  async #move(estateId: string, migrationId: string): Promise<MoveOf> {
    const { estate } = await this.cache.now(this.em.fork(), estateId)
    const move = estate.find('migration', migrationId)
    if (!move) throw notFound(`There is no migration with the id ${migrationId} in this estate.`)
    return { estateId, estate, move }
  }
}
