import { fork, type ChildProcess } from 'node:child_process'
import { fileURLToPath } from 'node:url'

/** A server in its own process, from the built files, as `insel start` runs it. */
export interface ServerProcess {
  readonly url: string
  readonly child: ChildProcess
  /** Resolves when the process is gone, with its exit code or signal. */
  readonly gone: Promise<number | NodeJS.Signals | null>
}

export async function startProcess(databaseUrl: string): Promise<ServerProcess> {
  const main = fileURLToPath(new URL('../../dist/main.js', import.meta.url))
  // Without the test runner's own arguments: the built files are to be run, not the sources.
  const child = fork(main, {
    execArgv: [],
    env: { ...process.env, DATABASE_URL: databaseUrl, INSEL_PORT: '0', INSEL_LOG: 'silent' },
    stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
  })
  let errors = ''
  child.stderr?.on('data', (chunk: Buffer) => (errors += chunk.toString()))
  const gone = new Promise<number | NodeJS.Signals | null>((resolve) => child.once('exit', (code, signal) => resolve(code ?? signal)))
  const url = await new Promise<string>((resolve, reject) => {
    child.once('message', (message) => resolve((message as { listening: string }).listening))
    void gone.then((code) => reject(new Error(`the server ended (${String(code)}): ${errors}`)))
  })
  return { url: url.replace('[::1]', '127.0.0.1'), child, gone }
}
