import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import { postgresPrograms } from '../workbench/cluster.js'
import { ensurePackages, postgresql } from './packages.js'
import { Refusal } from '../workbench/refusal.js'

/**
 * Runs one of PostgreSQL's programs. The password goes by a file that only this user can read: a command line is read by
 * everybody on the machine.
 *
 * @see PostgreSQL manual, section 34.16: the password file
 * @throws Refusal with what it said when it fails
 */
export function runPostgresProgram(program: string, databaseUrl: string | undefined, args: readonly string[]): string {
  ensurePackages([postgresql])
  const folder = mkdtempSync(join(tmpdir(), 'insel-pass-'))
  try {
    const env: NodeJS.ProcessEnv = { ...process.env }
    const target: string[] = []
    if (databaseUrl !== undefined) {
      const url = new URL(databaseUrl)
      const field = (text: string) => decodeURIComponent(text).replaceAll(/[\\:]/g, '\\$&')
      const file = join(folder, 'pgpass')
      writeFileSync(file, `*:*:*:${field(url.username)}:${field(url.password)}\n`, { mode: 0o600 })
      if (url.password) env['PGPASSFILE'] = file
      url.password = ''
      target.push(`--dbname=${url.toString()}`)
    }
    const done = spawnSync(join(postgresPrograms() ?? '', program), [...target, ...args], { encoding: 'utf8', maxBuffer: 1 << 28, env })
    if (done.status !== 0) throw new Refusal(`${program} failed: ${done.stderr || String(done.error)}`)
    return done.stdout
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/**
 * Runs one of PostgreSQL's programs that asks no database, and gives what it says as it comes.
 *
 * @returns its output, and what becomes of it: `ended` throws a Refusal with what it said when it failed
 */
export function readPostgresProgram(
  program: string,
  args: readonly string[],
): { readonly output: Readable; readonly ended: Promise<void> } {
  ensurePackages([postgresql])
  const child = spawn(join(postgresPrograms() ?? '', program), [...args], { stdio: ['ignore', 'pipe', 'pipe'] })
  let said = ''
  child.stderr.on('data', (chunk: Buffer) => (said = (said + chunk.toString()).slice(-4000)))
  const ended = new Promise<void>((resolve, reject) => {
    child.once('error', reject)
    child.once('close', (code) => (code === 0 ? resolve() : reject(new Refusal(`${program} failed: ${said || String(code)}`))))
  })
  // Whoever stops reading early has a reason that counts more.
  ended.catch(() => undefined)
  return { output: child.stdout, ended }
}
