import { fileURLToPath } from 'node:url'
import { createApp } from './create-app.js'
import { NewerSchemaError } from './database/migrate.js'

/** Exit codes that the start command tells apart. */
const EXIT = { portTaken: 3, newerSchema: 4, failed: 1 } as const

async function main(): Promise<void> {
  const databaseUrl = process.env['DATABASE_URL']
  if (!databaseUrl) throw new Error('DATABASE_URL is not set: the address of the PostgreSQL database.')
  const app = await createApp({
    databaseUrl,
    webRoot: process.env['INSEL_WEB_ROOT'] ?? fileURLToPath(new URL('../../web/dist', import.meta.url)),
    logLevel: process.env['INSEL_LOG'] ?? 'info',
  })
  await app.listen(Number(process.env['INSEL_PORT'] ?? 8100), process.env['INSEL_HOST'] ?? '127.0.0.1')
  // Without the command that started it, a server would run on unseen.
  process.on('disconnect', () => process.kill(process.pid, 'SIGTERM'))
  // The start command waits for this line.
  process.send?.({ listening: await app.getUrl() })
}

main().catch((error: unknown) => {
  const code = (error as { code?: string }).code
  process.stderr.write(`${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`)
  process.exit(code === 'EADDRINUSE' ? EXIT.portTaken : error instanceof NewerSchemaError ? EXIT.newerSchema : EXIT.failed)
})
