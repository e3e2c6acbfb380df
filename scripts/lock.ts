import { existsSync, linkSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { stateFolder } from '../workbench/places.js'
import { Refusal } from '../workbench/refusal.js'

/** What a running Insel tells other commands in the same checkout. */
export interface Running {
  readonly pid: number
  readonly url?: string
  readonly databaseUrl?: string
}

const file = join(stateFolder, 'lock')

/** Whether a process is one of Insel's commands and still there. */
function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('scripts/main.ts')
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException
    if (code === 'ESRCH' || code === 'ENOENT') return false
    throw error
  }
}

/** The Insel that runs in this checkout, if one does. */
export function runningInsel(): Running | undefined {
  if (!existsSync(file)) return undefined
  const running = runningIn(readFileSync(file, 'utf8'))
  return running && isAlive(running.pid) ? running : undefined
}

/** What a lock says; one that a kill left empty or half written says nothing. */
function runningIn(text: string): Running | undefined {
  try {
    const value = JSON.parse(text) as Partial<Running> | null
    return typeof value?.pid === 'number' ? (value as Running) : undefined
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
    return undefined
  }
}

/**
 * Takes the lock of this checkout.
 *
 * @throws Refusal when another Insel runs here
 */
export function takeLock(): { tell(more: Omit<Running, 'pid'>): void; release(): void } {
  mkdirSync(stateFolder, { recursive: true })
  const other = runningInsel()
  if (other)
    throw new Refusal(
      `Insel runs here already (process ${other.pid}${other.url ? `, at ${other.url}` : ''}). Use that one, or stop it with Ctrl-C in its terminal.`,
    )
  rmSync(file, { force: true })
  // Written aside and put in its place whole: a kill in between leaves the old one or the new one, never half of one.
  const aside = `${file}.${process.pid}`
  const write = (running: Running) => writeFileSync(aside, JSON.stringify(running), { mode: 0o600 })
  write({ pid: process.pid })
  try {
    linkSync(aside, file)
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
    throw new Refusal('Another Insel is starting here at this moment. Try again.', { cause: error })
  } finally {
    rmSync(aside, { force: true })
  }
  return {
    tell(more) {
      write({ pid: process.pid, ...more })
      renameSync(aside, file)
    },
    release: () => rmSync(file, { force: true }),
  }
}
