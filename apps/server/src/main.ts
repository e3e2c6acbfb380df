import { fileURLToPath } from 'node:url'
import { createApp } from './create-app.js'
import { NewerSchemaError } from './database/migrate.js'
import { MayAskError } from './outgoing/may-ask.js'
import { LogFile } from './requests/log-file.js'
import { isLoopbackName, PublicUrlError } from './requests/names.js'

/** Exit codes that the start command tells apart. */
const EXIT = { portTaken: 3, newerSchema: 4, refused: 5, failed: 1 } as const

/**
 * How long a connection is kept that nobody uses. Longer than clients keep theirs: a server that closes first may do so just as the next
 * request is on its way, which then fails without a fault (RFC 9112, section 9.5).
 */
const KEPT_IDLE_MS = 65_000
/** A request has come in whole within this time, headers and body; the largest file takes a second on a local network. */
const REQUEST_WITHIN_MS = 120_000

/** Something the person who starts it has to mend. */
class StartRefused extends Error {}

async function main(): Promise<void> {
  const databaseUrl = process.env['DATABASE_URL']
  if (!databaseUrl) throw new Error('DATABASE_URL is not set: the address of the PostgreSQL database.')
  const host = process.env['INSEL_HOST'] ?? '127.0.0.1'
  const isOpenToNetwork = process.env['INSEL_OPEN_TO_NETWORK'] === '1'
  if (!isLoopbackName(host) && !isOpenToNetwork)
    throw new StartRefused(
      `Listening at ${host} would let everybody on that network read and change everything, since there are no accounts. Add --open-to-network if that is meant.`,
    )
  const app = await createApp({
    databaseUrl,
    webRoot: process.env['INSEL_WEB_ROOT'] ?? fileURLToPath(new URL('../../web/dist', import.meta.url)),
    logLevel: process.env['INSEL_LOG'] ?? 'info',
    log: process.env['INSEL_LOG_FILE'] ? new LogFile(process.env['INSEL_LOG_FILE']) : undefined,
    publicUrls: (process.env['INSEL_PUBLIC_URLS'] ?? '').split(' ').filter(Boolean),
    isOpenToNetwork: isOpenToNetwork && !isLoopbackName(host),
    awaitsDemo: process.env['INSEL_AWAITS_DEMO'] === '1',
    takesStory: process.env['INSEL_TAKES_STORY'] === '1' && isLoopbackName(host),
    mayAsk: process.env['INSEL_MAY_ASK']?.split(/[ ,]+/).filter(Boolean),
  })
  // A body that trickles in is not waited for longer.
  app.getHttpServer().requestTimeout = REQUEST_WITHIN_MS
  app.getHttpServer().keepAliveTimeout = KEPT_IDLE_MS
  await app.listen(Number(process.env['INSEL_PORT'] ?? 8100), host)
  // Without the command that started it, a server would run on unseen.
  process.on('disconnect', () => process.kill(process.pid, 'SIGTERM'))
  // The start command waits for this line.
  process.send?.({ listening: await app.getUrl() })
}

main().catch((error: unknown) => {
  const code = (error as { code?: string }).code
  process.stderr.write(`${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`)
  const isRefused = error instanceof StartRefused || error instanceof PublicUrlError || error instanceof MayAskError
  process.exit(
    code === 'EADDRINUSE' ? EXIT.portTaken : error instanceof NewerSchemaError ? EXIT.newerSchema : isRefused ? EXIT.refused : EXIT.failed,
  )
})
