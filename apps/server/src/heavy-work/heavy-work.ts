import type { Problem } from '@insel/contract'
import { EntityManager } from '@mikro-orm/postgresql'
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common'
import { EstateCache } from '../cache/estate-cache.js'
import { DATABASE_URL } from '../database/database-url.js'
import { isHeavy } from './cost.js'
import { tasks, type Tasks } from './tasks.js'
import { Threads } from '../threads/threads.js'

/** What a thread is asked, and what it says. */
export interface Asked {
  readonly estateId: string
  readonly task: keyof Tasks
  readonly input: unknown
}
export type Reply = { readonly value: unknown } | { readonly problem: Problem }

/** Does what takes long: on a small estate at once, on a large one in its own thread, so that nobody else waits for it. */
@Injectable()
export class HeavyWork implements OnApplicationShutdown {
  readonly #threads: Threads<Asked, Reply>

  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    @Inject(DATABASE_URL) databaseUrl: string,
  ) {
    this.#threads = new Threads(new URL('./worker.ts', import.meta.url), {
      databaseUrl,
      threads: 2,
      waiting: 50,
      memoryMb: 1024,
      // And with it its copy of the estate.
      idleMs: 30_000,
      withinMs: 60_000,
      what: 'This',
    })
  }

  /**
   * @param estateId the estate, on which the task is done as it is now
   * @param isHeavyHere whether to use a thread; left out, the size of the estate and what the input costs decide
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
    const { value } = await this.#threads.run({ estateId, task, input: plain(input) })
    return value as ReturnType<Tasks[K]>
  }

  onApplicationShutdown(): Promise<void> {
    return this.#threads.end()
  }
}

/** Without the class that read it: only what is plain goes to another thread. */
const plain = (input: unknown): unknown => (input === undefined ? undefined : JSON.parse(JSON.stringify(input)))
