import { chmodSync, existsSync } from 'node:fs'
import { basename, dirname } from 'node:path'
import { createStream, type RotatingFileStream } from 'rotating-file-stream'

/** How large a log may grow, and how many older ones are kept beside it: `server.log.1` is the last of them. */
interface LogLimits {
  readonly size: `${number}M` | `${number}K`
  readonly kept: number
}
const USUAL: LogLimits = { size: '10M', kept: 5 }
/** When a log that could not be written is tried again. */
const AGAIN_MS = 10_000

/**
 * A log that does not grow without end: for this user alone, and begun anew when it is full. When it cannot be written, as on a full
 * disk, what is logged is lost, and the server goes on.
 */
export class LogFile {
  #stream: RotatingFileStream | undefined
  #tryAgainAt = 0

  constructor(
    private readonly file: string,
    private readonly limits: LogLimits = USUAL,
  ) {
    // One that an earlier version made was readable by all.
    if (existsSync(file)) chmodSync(file, 0o600)
  }

  /** @param line what is logged, with its end */
  write(line: string): void {
    this.#open()?.write(line)
  }

  /** Writes what is still to be written. */
  end(): Promise<void> {
    return new Promise((resolve) => (this.#stream ? this.#stream.end(resolve) : resolve()))
  }

  #open(): RotatingFileStream | undefined {
    if (this.#stream || performance.now() < this.#tryAgainAt) return this.#stream
    const { size, kept } = this.limits
    const stream = createStream(basename(this.file), { path: dirname(this.file), size, rotate: kept, mode: 0o600 })
    stream.on('error', (error) => {
      process.stderr.write(`insel: the log ${this.file} cannot be written (${error.message}); it is tried again.\n`)
      this.#stream = undefined
      this.#tryAgainAt = performance.now() + AGAIN_MS
    })
    this.#stream = stream
    return stream
  }
}
