import { fork, type ChildProcess } from 'node:child_process'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { root, stateFolder } from './places.js'
import { Refusal } from './refusal.js'

/** A server process of ours. */
export interface RunningServer {
  readonly url: string
  /** Resolves with the exit code when it is gone. */
  readonly gone: Promise<number | null>
  /** Asks it to finish what is in flight and end. */
  stop(): Promise<void>
}

/** Exit codes of the server that mean something: see its main.ts. */
const PORT_TAKEN = 3
const NEWER_SCHEMA = 4
const REFUSED = 5

/** What a server is started with. */
export interface ServerSettings {
  readonly databaseUrl: string
  readonly port: number
  readonly host: string
  readonly logName: string
  /** Names it goes by beside this machine's own. */
  readonly publicUrls?: readonly string[]
  /** Whether listening beyond this machine is meant. */
  readonly isOpenToNetwork?: boolean
  /** Whether it is ready only when the demo is loaded, or another estate is there. */
  readonly awaitsDemo?: boolean
  /** Whether requests may say when what they record was done: only for one that loads the demo and ends. */
  readonly takesStory?: boolean
  /** Where it may ask others: prefixes, and the words `loopback` and `private`. */
  readonly mayAsk?: readonly string[] | undefined
}

/**
 * Starts the built server.
 *
 * @throws Refusal when the port is taken or the database is newer than the program
 */
export async function startServer({
  databaseUrl,
  port,
  host,
  logName,
  publicUrls = [],
  isOpenToNetwork = false,
  awaitsDemo = false,
  takesStory = false,
  mayAsk,
}: ServerSettings): Promise<RunningServer> {
  mkdirSync(join(stateFolder, 'log'), { recursive: true, mode: 0o700 })
  const logFile = join(stateFolder, 'log', `${logName}.log`)
  const child: ChildProcess = fork(join(root, 'apps/server/dist/main.js'), {
    // Room for what a large estate makes again at each change: with the default, a quarter of the time goes to moving it about.
    execArgv: ['--max-semi-space-size=64'],
    // In its own group: Ctrl-C reaches only the start command, which then stops things in order.
    detached: true,
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      INSEL_PORT: String(port),
      INSEL_HOST: host,
      INSEL_PUBLIC_URLS: publicUrls.join(' '),
      INSEL_OPEN_TO_NETWORK: isOpenToNetwork ? '1' : '',
      INSEL_LOG_FILE: logFile,
      INSEL_AWAITS_DEMO: awaitsDemo ? '1' : '',
      INSEL_TAKES_STORY: takesStory ? '1' : '',
      ...(mayAsk ? { INSEL_MAY_ASK: mayAsk.join(',') } : {}),
    },
    stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
  })
  let errors = ''
  child.stderr?.on('data', (chunk: Buffer) => (errors = (errors + chunk.toString()).slice(-4000)))
  const gone = new Promise<number | null>((resolve) => child.once('exit', (code) => resolve(code)))
  const url = await new Promise<string>((resolve, reject) => {
    child.once('message', (message) => resolve((message as { listening: string }).listening))
    void gone.then((code) => {
      if (code === PORT_TAKEN)
        reject(new Refusal(`Port ${port} on ${host} is taken by another program. Choose another: ./insel start --port ${port + 1}`))
      else if (code === REFUSED) reject(new Refusal(/^(?:\w*Error|Error): (.*)/m.exec(errors)?.[1] ?? errors))
      else if (code === NEWER_SCHEMA) reject(new Refusal(/NewerSchemaError: (.*)/.exec(errors)?.[1] ?? errors))
      else reject(new Refusal(`The server did not start. Its log is ${logFile}.\n${errors}`))
    })
  })
  const shown = url.replace('[::1]', 'localhost')
  return {
    url: shown,
    gone,
    async stop() {
      child.kill('SIGTERM')
      await gone
    },
  }
}
