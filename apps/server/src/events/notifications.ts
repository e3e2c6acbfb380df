import { Inject, Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common'
import { PinoLogger } from 'nestjs-pino'
import pg from 'pg'
import { Subject, type Observable } from 'rxjs'

/** The channel on which PostgreSQL tells every server of every committed change. */
export const CHANNEL = 'insel_changes'
export const DATABASE_URL = Symbol('DATABASE_URL')
const RETRY_MS = 1000

/** A change that was committed, here or on another server; or a lost connection, after which revisions must be asked for anew. */
export type Notification =
  { readonly kind: 'change'; readonly estateId: string; readonly revision: number } | { readonly kind: 'reconnected' }

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
      const { estateId, revision } = JSON.parse(payload ?? '{}') as { estateId: string; revision: number }
      this.#subject.next({ kind: 'change', estateId, revision })
    })
    this.#client = client
    try {
      await client.connect()
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
