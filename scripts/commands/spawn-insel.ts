import { spawn, type ChildProcess } from 'node:child_process'
import { fileURLToPath } from 'node:url'

/** One call of the command, as the tests make it. */
export interface Call {
  readonly child: ChildProcess
  /** What it has said so far. */
  readonly output: () => string
  readonly ended: Promise<number | null>
}

/**
 * Calls the command with a separate state folder, so that a user's Insel in this checkout is left alone.
 *
 * @param state the folder
 */
export function spawnInsel(state: string, args: readonly string[], env: Readonly<Record<string, string>> = {}): Call {
  const child = spawn('node', ['--conditions=@insel/source', '--import', 'tsx', 'scripts/main.ts', ...args], {
    cwd: fileURLToPath(new URL('../..', import.meta.url)),
    env: {
      PATH: process.env['PATH'],
      HOME: process.env['HOME'],
      TSX_TSCONFIG_PATH: 'tsconfig.json',
      INSEL_STATE: state,
      INSEL_LOG: 'warn',
      ...env,
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let text = ''
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk: Buffer) => (text += chunk.toString()))
  return { child, output: () => text, ended: new Promise((resolve) => child.once('exit', (code) => resolve(code))) }
}
