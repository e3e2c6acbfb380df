import type { Problem } from '@insel/contract'
import { EntityManager } from '@mikro-orm/postgresql'
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common'
import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import { EstateCache } from '../estates/estate-cache.js'
import { DATABASE_URL } from '../events/notifications.js'
import { problemErrorOf } from '../problems/problem.js'
import { isHeavy, tasks, type Tasks } from './tasks.js'

/** What a thread is asked, and what it says. */
export interface Asked {
  readonly estateId: string
  readonly task: keyof Tasks
  readonly input: unknown
}
export type Reply = { readonly value: unknown } | { readonly problem: Problem }

/** A thread that nobody needed for so long ends, and with it its copy of the estate. */
const IDLE_MS = 60_000

/** Does what takes long: on a small estate at once, on a large one in its own thread, so that nobody else waits for it. */
@Injectable()
export class HeavyWork implements OnApplicationShutdown {
  #pool: Piscina<Asked, Reply> | undefined

  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    @Inject(DATABASE_URL) private readonly databaseUrl: string,
  ) {}

  /**
   * @param estateId the estate, on which the task is done as it is now
   * @param isHeavyHere whether to use a thread; left out, the sizes of the estate and of the input decide
   * @throws ProblemError what the task refuses, and 404 when there is no such estate
   */
  async do<K extends keyof Tasks>(
    estateId: string,
    task: K,
    input: Parameters<Tasks[K]>[1],
    isHeavyHere?: boolean,
  ): Promise<ReturnType<Tasks[K]>> {
    const at = await this.cache.now(this.em.fork(), estateId)
    if (!(isHeavyHere ?? isHeavy(at, input))) return (tasks[task] as (at: unknown, input: unknown) => ReturnType<Tasks[K]>)(at, input)
    const reply = await this.#threads().run({ estateId, task, input: plain(input) })
    if ('problem' in reply) throw problemErrorOf(reply.problem)
    return reply.value as ReturnType<Tasks[K]>
  }

  async onApplicationShutdown(): Promise<void> {
    await this.#pool?.destroy()
  }

  #threads(): Piscina<Asked, Reply> {
    // Sources that are not built yet, as the tests run them, are read by the thread as this one reads them.
    const isSource = import.meta.url.endsWith('.ts')
    this.#pool ??= new Piscina<Asked, Reply>({
      filename: fileURLToPath(new URL(isSource ? './worker.ts' : './worker.js', import.meta.url)),
      workerData: { databaseUrl: this.databaseUrl },
      minThreads: 0,
      maxThreads: 2,
      idleTimeout: IDLE_MS,
      ...(isSource ? { execArgv: ['--conditions=@insel/source', '--import', 'tsx'] } : {}),
    })
    return this.#pool
  }
}

/** Without the class that read it: only what is plain goes to another thread. */
const plain = (input: unknown): unknown => (input === undefined ? undefined : JSON.parse(JSON.stringify(input)))
