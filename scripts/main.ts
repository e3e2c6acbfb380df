import { parseArgs } from 'node:util'
import { Refusal } from '../workbench/refusal.js'

const usage = `Insel plans and records hypervisor hosts and their guests.

  ./insel start [--port N] [--empty]                    start; the first time with the demo estate
        [--public-url URL]                              a name under which people open it, such as that of a proxy
        [--may-ask PREFIX,...]                          where it may ask transfers and controllers, such as 10.61.10.0/24,
                                                        or the words loopback and private
        [--host ADDRESS --open-to-network]              listen beyond this machine, where everybody may then change everything
  ./insel test [PART]                                   check what a change has to pass, or a part of it:
                                                        static, core, web, kernel, server, commands, e2e
        [--long]                                        everything there is, however long it takes
  ./insel test mutants [PATH] [--sample N]              change the core in 200 places, one at a time, and see whether a test
                                                        notices; of PATH, or of what computes
  ./insel screenshots                                   make the pictures in docs/screenshots
  ./insel bench                                         measure against the budgets
  ./insel demo reset [--yes]                            put the demo estate back as it was; others stay
  ./insel backup FILE                                   write the whole database to a file
  ./insel restore FILE [--yes]                          replace the database by a backup

DATABASE_URL, when set, names the PostgreSQL to use; otherwise Insel runs one of its own.
`

async function main(): Promise<number> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      port: { type: 'string' },
      host: { type: 'string' },
      empty: { type: 'boolean' },
      'public-url': { type: 'string', multiple: true },
      'open-to-network': { type: 'boolean' },
      'may-ask': { type: 'string', multiple: true },
      yes: { type: 'boolean' },
      long: { type: 'boolean' },
      sample: { type: 'string' },
      help: { type: 'boolean', short: 'h' },
    },
  })
  const [command, argument, path, ...rest] = positionals
  const isMutants = command === 'test' && argument === 'mutants'
  if (values.help || command === undefined || rest.length > 0 || (path !== undefined && !isMutants)) {
    process.stdout.write(usage)
    return values.help ? 0 : 2
  }
  // Each command brings only what it needs: a start does not wait for the browser driver of the pictures.
  switch (command) {
    case 'start':
      return (await import('./commands/start.js')).start({
        port: portOf(values.port),
        host: values.host ?? '127.0.0.1',
        isEmpty: values.empty ?? false,
        publicUrls: values['public-url'] ?? [],
        isOpenToNetwork: values['open-to-network'] ?? false,
        mayAsk: values['may-ask'],
      })
    case 'test':
      if (isMutants) {
        const { mutants, SAMPLE_SIZE } = await import('./mutants/mutants.js')
        return mutants(path, sampleOf(values.sample, SAMPLE_SIZE))
      }
      return (await import('./commands/test.js')).test(argument, values.long ?? false)
    case 'screenshots':
      return (await import('./commands/screenshots.js')).screenshots()
    case 'bench':
      return (await import('./commands/bench.js')).bench()
    case 'demo':
      if (argument !== 'reset') throw new Refusal('It is “./insel demo reset”.')
      return (await import('./commands/demo.js')).demoReset(values.yes ?? false)
    case 'backup':
      return (await import('./commands/backup.js')).backup(fileOf(argument, 'backup'))
    case 'restore':
      return (await import('./commands/restore.js')).restore(fileOf(argument, 'restore'), values.yes ?? false)
    default:
      throw new Refusal(`Unknown command “${command}”.\n\n${usage}`)
  }
}

function portOf(text: string | undefined): number {
  const port = text === undefined ? 8100 : Number(text)
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw new Refusal(`A port must be a number from 1 to 65535, not “${text}”.`)
  return port
}

function sampleOf(text: string | undefined, usual: number): number {
  const size = text === undefined ? usual : Number(text)
  if (!Number.isInteger(size) || size < 1) throw new Refusal(`A sample must be a number from 1, not “${text}”.`)
  return size
}

function fileOf(argument: string | undefined, command: string): string {
  if (!argument) throw new Refusal(`Name the file: ./insel ${command} FILE`)
  return argument
}

main().then(
  (code) => process.exit(code),
  (error: unknown) => {
    const isExpected = error instanceof Refusal || (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS')
    process.stderr.write(
      `insel: ${isExpected ? (error as Error).message : error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`,
    )
    process.exit(1)
  },
)
