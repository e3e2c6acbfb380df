import type { Problem } from '@insel/contract'
import { fileURLToPath } from 'node:url'
import type { Transferable } from 'node:worker_threads'
import { Piscina } from 'piscina'
import { busy, problemErrorOf, ProblemError } from '../problems/problem.js'

/** What threads may take. */
export interface ThreadLimits {
  /** Handed to each, so that it reads the database itself. */
  readonly databaseUrl: string
  readonly threads: number
  /** How many may wait for one. */
  readonly waiting: number
  /** Of each, MB of what it makes. */
  readonly memoryMb: number
  /** One that nobody needed for so long ends, and what it holds with it. */
  readonly idleMs: number
  readonly withinMs: number
  /** What is worked on, as sentences begin with it. */
  readonly what: string
}

/** Threads for what takes long: of limited memory, number and time, so that whatever they are given they stop nobody else. */
export class Threads<A extends object, R extends { readonly value: unknown } | { readonly problem: Problem }> {
  #pool: Piscina<A, R> | undefined

  /** @param file the source of what they run; built or not, it is found */
  constructor(
    private readonly file: URL,
    private readonly limits: ThreadLimits,
  ) {}

  /** @throws ProblemError what it refuses, and 422 or 503 where it takes too much */
  async run(asked: A, handedOver: readonly Transferable[] = []): Promise<Extract<R, { readonly value: unknown }>> {
    const { what, withinMs, memoryMb } = this.limits
    const signal = AbortSignal.timeout(withinMs)
    let reply: R
    try {
      reply = await this.#threads().run(asked, { signal, transferList: [...handedOver] })
    } catch (error) {
      if (signal.aborted)
        throw new ProblemError(
          422,
          'too-long',
          'It takes too long',
          `${what} takes longer than ${Math.round(withinMs / 1000)} s to work out. Split it.`,
        )
      const code = (error as { code?: string }).code
      if (code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new ProblemError(
          422,
          'too-much-memory',
          'It takes too much memory',
          `${what} needs more than ${memoryMb} MB to be worked out. Split it.`,
        )
      if (error instanceof Error && error.message === 'Task queue is at limit')
        throw busy('Insel is working on others of this kind; nothing was changed. Try again in a moment.')
      throw error
    }
    if ('problem' in reply) throw problemErrorOf(reply.problem)
    return reply as Extract<R, { readonly value: unknown }>
  }

  async end(): Promise<void> {
    await this.#pool?.destroy()
  }

  #threads(): Piscina<A, R> {
    // Sources that are not built yet, as the tests run them, are read by the thread as this one reads them.
    const isSource = import.meta.url.endsWith('.ts')
    const { databaseUrl, threads, waiting, memoryMb, idleMs } = this.limits
    this.#pool ??= new Piscina<A, R>({
      filename: fileURLToPath(this.file).replace(/\.ts$/, isSource ? '.ts' : '.js'),
      workerData: { databaseUrl },
      minThreads: 0,
      maxThreads: threads,
      maxQueue: waiting,
      idleTimeout: idleMs,
      resourceLimits: { maxOldGenerationSizeMb: memoryMb },
      ...(isSource ? { execArgv: ['--conditions=@insel/source', '--import', 'tsx'] } : {}),
    })
    return this.#pool
  }
}
