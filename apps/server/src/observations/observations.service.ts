import type { DailyResponse, ObservationsTaken, SummariesResponse } from '@insel/contract'
import {
  daysOf,
  groupBy,
  mergeSamples,
  sampleProblem,
  summariseDays,
  summaryDays,
  type Sample,
  type SampleDay,
  type Summary,
} from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { EstateCache } from '../cache/estate-cache.js'
import { notFound } from '../problems/problem.js'

/** A sample with the guest or store it is of. */
export interface SubjectSample extends Sample {
  readonly subjectId: string
}

/** A subject's samples of one day, in arrays side by side, ordered by time. */
interface DayRow {
  readonly subject_id: string
  readonly day: string
  readonly second: readonly number[]
  readonly cpu_percent: readonly (number | null)[]
  readonly memory_mib: readonly (number | null)[]
  readonly disk_bytes: readonly (number | null)[]
}

/** Subjects whose sums are made again in one go: a quarter of a year of each is in memory then, and nobody else is served meanwhile. */
const BATCH = 25
const DAYS_KEPT_IN_SUMS = 91
const ROW_COLUMNS = `subject_id, to_char(day, 'YYYY-MM-DD') as day, to_json(second) as second, to_json(cpu_percent) as cpu_percent,
  to_json(memory_mib) as memory_mib, to_json(disk_bytes) as disk_bytes`

const startOf = (day: string) => Date.parse(`${day}T00:00:00Z`)

function samplesOf({ day, second, cpu_percent: cpu, memory_mib: memory, disk_bytes: disk }: DayRow): Sample[] {
  const start = startOf(day)
  return second.map((at, index) => ({
    at: new Date(start + at * 1000).toISOString(),
    cpuPercent: cpu[index] ?? null,
    memoryMiB: memory[index] ?? null,
    diskBytes: disk[index] ?? null,
  }))
}

function rowOf(subjectId: string, day: string, samples: readonly Sample[]): DayRow & { disk_last: number | null } {
  const [columns] = daysOf(samples)
  return {
    subject_id: subjectId,
    day,
    second: columns?.second.map(Math.floor) ?? [],
    cpu_percent: columns?.cpuPercent ?? [],
    memory_mib: columns?.memoryMiB.map((used) => (used === null ? null : Math.round(used))) ?? [],
    disk_bytes: samples.map(({ diskBytes }) => (typeof diskBytes === 'number' ? Math.round(diskBytes) : null)),
    disk_last: typeof columns?.diskLast === 'number' ? Math.round(columns.diskLast) : null,
  }
}

/** Dated measured values of guests and stores: kept by the day, and summed up as they come in. */
@Injectable()
export class ObservationsService {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
  ) {}

  /** Takes samples in: later ones of the same second replace what they measure. Wrong ones are named and left out. */
  async take(estateId: string, samples: readonly SubjectSample[]): Promise<ObservationsTaken> {
    const { estate } = await this.cache.now(this.em.fork(), estateId)
    const now = new Date().toISOString()
    const rejected: { index: number; reason: string }[] = []
    const days = new Map<string, { subjectId: string; day: string; samples: Sample[] }>()
    for (const [index, { subjectId, ...given }] of samples.entries()) {
      const reason =
        (estate.find('guest', subjectId) ?? estate.find('store', subjectId))
          ? sampleProblem(given, now)
          : 'subjectId is not a guest or store of this estate.'
      if (reason) {
        rejected.push({ index, reason })
        continue
      }
      const sample = { ...given, at: new Date(Math.floor(Date.parse(given.at) / 1000) * 1000).toISOString() }
      const day = sample.at.slice(0, 10)
      const key = `${subjectId} ${day}`
      const known = days.get(key)
      if (known) known.samples.push(sample)
      else days.set(key, { subjectId, day, samples: [sample] })
    }
    if (days.size > 0) await this.#write(estateId, [...days.values()])
    return { taken: samples.length - rejected.length, rejected }
  }

  async #write(estateId: string, days: readonly { subjectId: string; day: string; samples: readonly Sample[] }[]): Promise<void> {
    await this.em.fork().transactional(async (tx) => {
      // One at a time for each estate: what is read is merged and written back.
      await tx.execute('select pg_advisory_xact_lock(hashtextextended(?, 1953722))', [estateId])
      const keys = JSON.stringify(days.map(({ subjectId, day }) => ({ subject_id: subjectId, day })))
      const known = await tx.execute<DayRow[]>(
        `select ${ROW_COLUMNS} from observation_day where estate_id = ?
         and (subject_id, day) in (select x.subject_id, x.day from jsonb_to_recordset(?::jsonb) as x(subject_id uuid, day date))`,
        [estateId, keys],
      )
      const before = new Map(known.map((row) => [`${row.subject_id} ${row.day}`, samplesOf(row)]))
      const rows = days.map(({ subjectId, day, samples }) => {
        const byTime = new Map<string, Sample>()
        for (const sample of [...(before.get(`${subjectId} ${day}`) ?? []), ...samples]) {
          const other = byTime.get(sample.at)
          byTime.set(sample.at, other ? mergeSamples(other, sample) : sample)
        }
        return rowOf(
          subjectId,
          day,
          [...byTime.values()].sort((a, b) => (a.at < b.at ? -1 : 1)),
        )
      })
      await tx.execute(
        `insert into observation_day (estate_id, subject_id, day, second, cpu_percent, memory_mib, disk_bytes, disk_last)
         select ?, x.* from jsonb_to_recordset(?::jsonb)
           as x(subject_id uuid, day date, second integer[], cpu_percent real[], memory_mib integer[], disk_bytes bigint[], disk_last bigint)
         on conflict (estate_id, subject_id, day) do update set second = excluded.second, cpu_percent = excluded.cpu_percent,
           memory_mib = excluded.memory_mib, disk_bytes = excluded.disk_bytes, disk_last = excluded.disk_last`,
        [estateId, JSON.stringify(rows)],
      )
      const subjects = [...new Set(days.map(({ subjectId }) => subjectId))]
      for (let at = 0; at < subjects.length; at += BATCH) await this.#sumUp(tx, estateId, subjects.slice(at, at + BATCH))
    })
  }

  async #sumUp(tx: EntityManager, estateId: string, subjects: readonly string[]): Promise<void> {
    const rows = await tx.execute<(Omit<SampleDay, 'diskLast'> & { subject_id: string; diskLast: string | null })[]>(
      `select d.subject_id, to_char(d.day, 'YYYY-MM-DD') as day, to_json(d.second) as second, to_json(d.cpu_percent) as "cpuPercent",
         to_json(d.memory_mib) as "memoryMiB", d.disk_last as "diskLast"
       from observation_day d
       join (select subject_id as id, max(day) as last from observation_day where estate_id = ? and subject_id = any(?::uuid[]) group by 1) l
         on l.id = d.subject_id
       where d.estate_id = ? and d.subject_id = any(?::uuid[]) and d.day > l.last - ${DAYS_KEPT_IN_SUMS}
       order by d.day`,
      [estateId, `{${subjects.join(',')}}`, estateId, `{${subjects.join(',')}}`],
    )
    const sums = [...groupBy(rows, (row) => row.subject_id)].flatMap(([subjectId, own]) => {
      const list = own.map(({ subject_id: _, diskLast, ...day }): SampleDay => ({
        ...day,
        diskLast: diskLast === null ? null : Number(diskLast),
      }))
      return summaryDays.flatMap((days) => {
        const values = summariseDays(list, days)
        return values ? [{ subject_id: subjectId, days, until: values.until, values }] : []
      })
    })
    await tx.execute(
      `insert into observation_summary (estate_id, subject_id, days, until, "values")
       select ?, x.* from jsonb_to_recordset(?::jsonb) as x(subject_id uuid, days integer, until timestamptz, "values" jsonb)
       on conflict (estate_id, subject_id, days) do update set until = excluded.until, "values" = excluded."values"`,
      [estateId, JSON.stringify(sums)],
    )
  }

  /** The sums of every guest and store over some days before its last observation. */
  async summaries(estateId: string, days: number): Promise<SummariesResponse> {
    const em = this.em.fork()
    await this.cache.now(em, estateId)
    const rows = await em.execute<{ subject_id: string; values: Summary }[]>(
      'select subject_id, "values" from observation_summary where estate_id = ? and days = ?',
      [estateId, days],
    )
    const lastSeen = rows.reduce<string | null>((last, { values }) => (last === null || values.until > last ? values.until : last), null)
    return { lastSeen, summaries: Object.fromEntries(rows.map(({ subject_id: id, values }) => [id, values])) }
  }

  /** Samples of one guest or store, oldest first. */
  async samples(estateId: string, subjectId: string, days: number): Promise<readonly Sample[]> {
    const em = this.em.fork()
    await this.cache.now(em, estateId)
    const rows = await em.execute<DayRow[]>(
      `select ${ROW_COLUMNS} from observation_day where estate_id = ? and subject_id = ?
       and day > (select max(day) from observation_day where estate_id = ? and subject_id = ?) - ?::integer order by observation_day.day`,
      [estateId, subjectId, estateId, subjectId, days],
    )
    return rows.flatMap(samplesOf)
  }

  /**
   * Bytes in use by day of a store and of the guests with disks on it.
   *
   * @throws ProblemError 404
   */
  async dailyOfStore(estateId: string, storeId: string, days: number): Promise<DailyResponse> {
    const em = this.em.fork()
    const { estate } = await this.cache.now(em, estateId)
    if (!estate.find('store', storeId)) throw notFound(`There is no store with the id ${storeId} in this estate.`)
    return this.#daily(
      em,
      estateId,
      [storeId, ...new Set(estate.referring('disk', 'storeId', storeId).map(({ guestId }) => guestId))],
      days,
    )
  }

  /** Bytes in use by day of everything that was observed. */
  async dailyOfAll(estateId: string, days: number): Promise<DailyResponse> {
    const em = this.em.fork()
    const { estate } = await this.cache.now(em, estateId)
    const subjects = [...estate.all('store'), ...estate.all('guest')].map(({ id }) => id)
    return this.#daily(em, estateId, subjects, days)
  }

  async #daily(em: EntityManager, estateId: string, subjects: readonly string[], days: number): Promise<DailyResponse> {
    const rows = await em.execute<{ subject_id: string; days: string[]; bytes: number[] }[]>(
      `select subject_id, json_agg(to_char(day, 'YYYY-MM-DD') order by day) as days, json_agg(disk_last order by day) as bytes
       from observation_day where estate_id = ? and subject_id = any(?::uuid[]) and disk_last is not null
         and day > (select max(day) from observation_day where estate_id = ?) - ?::integer
       group by subject_id`,
      [estateId, `{${subjects.join(',')}}`, estateId, days],
    )
    return {
      daily: Object.fromEntries(
        rows.map(({ subject_id: id, days: list, bytes }) => [id, list.map((day, index) => [day, Number(bytes[index])] as const)]),
      ),
    }
  }
}
