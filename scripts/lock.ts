import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { stateFolder } from './places.js'
import { Refusal } from './refusal.js'

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
  const running = JSON.parse(readFileSync(file, 'utf8')) as Running
  return isAlive(running.pid) ? running : undefined
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
  const write = (running: Running, flag: string) => writeFileSync(file, JSON.stringify(running), { mode: 0o600, flag })
  write({ pid: process.pid }, 'wx')
  return {
    tell: (more) => write({ pid: process.pid, ...more }, 'w'),
    release: () => rmSync(file, { force: true }),
  }
}
