import type { EstateSummary, Problem } from '@insel/contract'
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common'
import { DATABASE_URL } from '../database/database-url.js'
import { Threads } from '../threads/threads.js'

/** What the thread is handed, and what it says. */
export interface FileAsked {
  readonly file: Uint8Array
  readonly name?: string | undefined
}
export type FileReply = { readonly value: EstateSummary & { personId: string } } | { readonly problem: Problem }

/** What the largest file that is taken needs to be read and written, with room; more is taken for a file made to exhaust. */
const MEMORY_MB = 512
/** A thread that nobody needs ends soon, and all it took with it. */
const IDLE_MS = 1000
const WITHIN_MS = 110_000

/** Files of whole estates: one at a time, read in a thread that can be ended. */
@Injectable()
export class EstateFiles implements OnApplicationShutdown {
  readonly #threads: Threads<FileAsked, FileReply>

  constructor(@Inject(DATABASE_URL) databaseUrl: string) {
    this.#threads = new Threads(new URL('./estate-file-worker.ts', import.meta.url), {
      databaseUrl,
      threads: 1,
      waiting: 3,
      memoryMb: MEMORY_MB,
      idleMs: IDLE_MS,
      withinMs: WITHIN_MS,
      what: 'The file',
    })
  }

  /**
   * @param file its bytes, which are handed over: they are empty afterwards
   * @throws ProblemError what is wrong with it
   */
  async take(file: Uint8Array, name: string | undefined): Promise<EstateSummary & { personId: string }> {
    // What came in is a piece of a larger buffer at times, which cannot be handed over.
    const own = file.byteOffset === 0 && file.byteLength === file.buffer.byteLength ? file : new Uint8Array(file)
    const reply = await this.#threads.run({ file: own, name }, [own.buffer as ArrayBuffer])
    return reply.value
  }

  onApplicationShutdown(): Promise<void> {
    return this.#threads.end()
  }
}
