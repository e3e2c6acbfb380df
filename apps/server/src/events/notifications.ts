import type { RevisionEvent } from '@insel/contract'
import { isId } from '@insel/core'
import { Inject, Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common'
import { PinoLogger } from 'nestjs-pino'
import pg from 'pg'
import { Subject, type Observable } from 'rxjs'
import { CHANNEL } from '../database/change-table.js'
import { DATABASE_URL } from '../database/database-url.js'
import { LOCKS } from '../database/locks.js'

const RETRY_MS = 1000

/** A change that was committed, here or on another server; or a lost connection, after which revisions must be asked for again. */
export type Notification = ({ readonly kind: 'change' } & RevisionEvent) | { readonly kind: 'reconnected' }

/** What a notification says; undefined for one that is none of ours. */
function eventIn(payload: string | undefined): RevisionEvent | undefined {
  let value: unknown
  try {
    value = JSON.parse(payload ?? '')
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
    return undefined
  }
  const { estateId, revision, epoch } = (value ?? {}) as Readonly<Record<string, unknown>>
  return isId(estateId) && Number.isSafeInteger(revision) && isId(epoch) ? { estateId, revision: revision as number, epoch } : undefined
}

/** Listens on PostgreSQL for changes and tells them to whoever serves events. Connects again when the connection is lost. */
@Injectable()
export class Notifications implements OnModuleInit, OnApplicationShutdown {
  readonly #subject = new Subject<Notification>()
  #client: pg.Client | undefined
  #retry: NodeJS.Timeout | undefined
  #isStopping = false

  constructor(
    @Inject(DATABASE_URL) private readonly databaseUrl: string,
    private readonly logger: PinoLogger,
  ) {}

  get stream(): Observable<Notification> {
    return this.#subject
  }

  async onModuleInit(): Promise<void> {
    await this.#connect()
  }

  async onApplicationShutdown(): Promise<void> {
    this.#isStopping = true
    clearTimeout(this.#retry)
    this.#subject.complete()
    await this.#client?.end()
  }

  /** Ends the streams first, so that open event connections do not hold up the server's stop. */
  beforeApplicationShutdown(): void {
    this.#isStopping = true
    this.#subject.complete()
  }

  async #connect(): Promise<void> {
    const client = new pg.Client({ connectionString: this.databaseUrl, application_name: 'insel events', keepAlive: true })
    client.on('error', (error) => this.#lost(client, error))
    client.on('end', () => this.#lost(client, new Error('the connection ended')))
    client.on('notification', ({ payload }) => {
      const event = eventIn(payload)
      // Whoever may use the database may write to the channel.
      if (event) this.#subject.next({ kind: 'change', ...event })
      else this.logger.warn({ payload: payload?.slice(0, 200) }, 'events: a notification that is none of ours')
    })
    this.#client = client
    try {
      await client.connect()
      await client.query('select pg_advisory_lock_shared($1)', [LOCKS.server])
      await client.query(`listen ${CHANNEL}`)
    } catch (error) {
      this.#lost(client, error)
      return
    }
    this.#subject.next({ kind: 'reconnected' })
  }

  #lost(client: pg.Client, error: unknown): void {
    if (this.#isStopping || this.#client !== client) return
    this.#client = undefined
    this.logger.warn({ err: error }, 'events: the connection to the database is lost; trying again')
    this.#retry = setTimeout(() => void this.#connect(), RETRY_MS)
  }
}
