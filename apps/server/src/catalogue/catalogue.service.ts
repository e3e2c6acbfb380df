import type { CatalogueItem, CatalogueResponse } from '@insel/contract'
import { readOsinfo } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common'
import { LOCKS } from '../database/locks.js'
import { DATASET, datasetFiles, datasetVersion } from './dataset.js'

/** A change of how the dataset is read makes it be read again. */
const READING = 1

/** The open dataset of operating systems, read into the database when its version is new. */
@Injectable()
export class CatalogueService implements OnApplicationBootstrap {
  readonly #log = new Logger(CatalogueService.name)
  #loading: Promise<void> | undefined

  constructor(private readonly em: EntityManager) {}

  /** Begins to read; the server does not wait for it. */
  onApplicationBootstrap(): void {
    this.#loading = this.load().catch((error: unknown) => {
      this.#log.error(`the catalogue of systems could not be read: ${error instanceof Error ? error.message : String(error)}`)
    })
  }

  /** Reads the dataset into the database, unless this version of it is there. */
  async load(): Promise<void> {
    const installed = await datasetVersion()
    if (!installed) return
    const version = `${installed}.${READING}`
    await this.em.fork().transactional(async (tx) => {
      await tx.execute('select pg_advisory_xact_lock(?)', [LOCKS.catalogue])
      const [known] = await tx.execute<{ version: string }[]>('select version from catalogue where name = ?', [DATASET])
      if (known?.version === version) return
      const { systems, unread } = readOsinfo(await datasetFiles(), `${DATASET} ${installed}`)
      for (const { file, sentence } of unread) this.#log.warn(`${file}: ${sentence}`)
      await tx.execute('delete from catalogue_system')
      await tx.execute(
        `insert into catalogue_system (short_id, name, words, released_on, "values")
         select x.short_id, x.name, x.words, x.released_on, x."values"
         from jsonb_to_recordset(?::jsonb) as x(short_id text, name text, words text, released_on text, "values" jsonb)`,
        [
          JSON.stringify(
            systems.map(({ shortId, words, values }) => ({
              short_id: shortId,
              name: values.name,
              words: [values.name, ...words].join(' ').toLowerCase(),
              released_on: values.releasedOn ?? null,
              values,
            })),
          ),
        ],
      )
      await tx.execute(
        `insert into catalogue (name, version, systems, loaded_at) values (?, ?, ?, now())
         on conflict (name) do update set version = excluded.version, systems = excluded.systems, loaded_at = excluded.loaded_at`,
        [DATASET, version, systems.length],
      )
      this.#log.log(`read ${systems.length} systems from ${DATASET} ${installed}`)
    })
  }

  /**
   * Systems that have every word of a search in their name, short names, codename or maker, the newest first.
   *
   * @param search empty: all of them
   */
  async find(search: string, limit: number): Promise<CatalogueResponse> {
    await this.#loading
    const em = this.em.fork()
    const [dataset] =
      await em.execute<{ name: string; version: string; systems: number; loaded_at: Date | string }[]>('select * from catalogue')
    const words = search.toLowerCase().split(/\s+/).filter(Boolean)
    const where = words.map(() => 'strpos(words, ?) > 0').join(' and ') || 'true'
    const rows = await em.execute<{ short_id: string; values: CatalogueItem['values']; total: string }[]>(
      `select short_id, "values", count(*) over () as total from catalogue_system where ${where}
       order by released_on desc nulls last, name limit ?`,
      [...words, limit],
    )
    return {
      dataset: dataset
        ? {
            name: dataset.name,
            version: dataset.version.split('.')[0] ?? '',
            systems: dataset.systems,
            loadedAt: new Date(dataset.loaded_at).toISOString(),
          }
        : null,
      items: rows.map(({ short_id: shortId, values }) => ({ shortId, values })),
      total: Number(rows[0]?.total ?? 0),
    }
  }
}
