import { spawn } from 'node:child_process'
import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { stripVTControlCharacters } from 'node:util'
import { build } from '../build.js'
import {
  chromium,
  ensurePackages,
  firstBootTools,
  imageMaker,
  machineTools,
  macRegistry,
  networkTools,
  postgresql,
  python,
  systemsDataset,
  dhcpServers,
  transferTools,
} from '../packages.js'
import { root, stateFolder } from '../../workbench/places.js'
import { Refusal } from '../../workbench/refusal.js'

/** How many checks of a part passed and failed, and which failed. */
interface Tally {
  readonly passed: number
  readonly failed: number
  /** What failed, each with its file and the first of what it says: the end of a log is what is kept of it. */
  readonly failures: readonly string[]
}
interface TestPart {
  readonly name: string
  /** @param processors how many it has for itself, where it can make use of them */
  readonly run: (processors: number) => Promise<Tally>
}

/** What a program of the tests is given beside the environment that is there; colours are for a terminal, and a log has none. */
function environment(env: Readonly<Record<string, string>>): NodeJS.ProcessEnv {
  const { FORCE_COLOR: _, ...there } = process.env
  return process.stdout.isTTY ? { ...process.env, ...env } : { ...there, NO_COLOR: '1', ...env }
}

/** Runs a program of the project's packages; what it says goes to the terminal as it comes. */
function run(program: string, args: readonly string[], env: Readonly<Record<string, string>> = {}): Promise<number> {
  return new Promise((resolve, reject) => {
    const child = spawn(join(root, 'node_modules/.bin', program), [...args], {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: environment(env),
    })
    // A test run that is stopped lets its runner clear away what it started.
    const stop = () => child.kill('SIGINT')
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, stop)
    child.on('error', reject)
    child.on('exit', (code) => {
      for (const signal of ['SIGINT', 'SIGTERM'] as const) process.off(signal, stop)
      resolve(code ?? 1)
    })
  })
}

/** A program that passes or fails as a whole. */
interface Check {
  readonly name: string
  readonly program: string
  readonly args: readonly string[]
  readonly env?: Readonly<Record<string, string>>
  /** Whether it is a part of the long run alone. */
  readonly isLong?: boolean
}

/** Runs a check and keeps what it says until it is over, so that checks side by side do not talk over each other. */
function runCheck({ name, program, args, env = {} }: Check): Promise<boolean> {
  return new Promise((resolve, reject) => {
    const start = Date.now()
    const child = spawn(join(root, 'node_modules/.bin', program), [...args], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: environment(env),
    })
    let said = ''
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk: Buffer) => (said += chunk.toString()))
    child.on('error', reject)
    child.on('exit', (code) => {
      const seconds = Math.round((Date.now() - start) / 1000)
      process.stdout.write(`${code === 0 ? 'passed' : 'FAILED'}: ${name}, ${seconds} s\n${code === 0 ? '' : said}`)
      resolve(code === 0)
    })
  })
}

/** Does so many at a time, in their order. */
async function sideBySide<T>(many: number, all: readonly T[], work: (one: T) => Promise<void>): Promise<void> {
  const waiting = [...all]
  const next = async (): Promise<void> => {
    for (let one = waiting.shift(); one !== undefined; one = waiting.shift()) await work(one)
  }
  await Promise.all(Array.from({ length: many }, next))
}

/** The checks of the sources. */
const staticChecks = (all: readonly Check[]): TestPart => ({
  name: 'static',
  async run(processors) {
    const checks = all.filter(({ isLong = false }) => !isLong || process.env['INSEL_LONG'] === '1')
    const failures: string[] = []
    await sideBySide(processors, checks, async (check) => {
      if (!(await runCheck(check))) failures.push(check.name)
    })
    return { passed: checks.length - failures.length, failed: failures.length, failures }
  },
})

/** A part whose runner writes its results as JSON; a runner that dies without results counts as one failure. */
function counted(
  name: string,
  program: string,
  args: readonly string[],
  env: Readonly<Record<string, string>>,
  resultFile: string,
  tally: (result: never) => Tally,
): TestPart {
  return {
    name,
    async run() {
      rmSync(resultFile, { force: true })
      const code = await run(program, args, env)
      if (!existsSync(resultFile)) return { passed: 0, failed: 1, failures: [`${program} left no results`] }
      const told = tally(JSON.parse(readFileSync(resultFile, 'utf8')) as never)
      // A failure outside of any test, such as in a setup, shows only in the exit code.
      return told.failed === 0 && code !== 0
        ? { ...told, failed: 1, failures: [`${program} ended with ${code}, outside of any test`] }
        : told
    },
  }
}

/** What this reads of the results that Vitest writes. */
interface VitestResult {
  readonly numPassedTests: number
  readonly numFailedTests: number
  readonly testResults: readonly {
    readonly name: string
    readonly assertionResults: readonly {
      readonly status: string
      readonly fullName: string
      readonly failureMessages: readonly string[]
    }[]
  }[]
}

/** What this reads of the results that Playwright writes. */
interface PlaywrightSuite {
  readonly file: string
  readonly suites?: readonly PlaywrightSuite[]
  readonly specs: readonly {
    readonly title: string
    readonly tests: readonly { readonly status: string; readonly results: readonly { readonly error?: { readonly message?: string } }[] }[]
  }[]
}
interface PlaywrightResult {
  readonly stats: { readonly expected: number; readonly unexpected: number; readonly flaky: number }
  readonly suites: readonly PlaywrightSuite[]
}

/** A test that failed, with what it said first. */
const failure = (path: string, title: string, said = '') =>
  `${path.replace(root, '')}: ${title}: ${stripVTControlCharacters(said).split('\n').slice(0, 3).join(' | ').slice(0, 300)}`

const failuresOf = ({ file, suites = [], specs }: PlaywrightSuite): readonly string[] => [
  ...specs.flatMap(({ title, tests }) =>
    tests
      .filter(({ status }) => status === 'unexpected' || status === 'flaky')
      .map(({ results }) => failure(`e2e/${file}`, title, results.find(({ error }) => error)?.error?.message)),
  ),
  ...suites.flatMap(failuresOf),
]

function vitest(name: string): TestPart {
  const file = join(stateFolder, `${name}-results.json`)
  return counted(
    name,
    'vitest',
    ['run', '--project', name, '--reporter=dot', '--reporter=json', `--outputFile.json=${file}`],
    {},
    file,
    (result: VitestResult) => ({
      passed: result.numPassedTests,
      failed: result.numFailedTests,
      failures: result.testResults.flatMap(({ name: path, assertionResults }) =>
        assertionResults
          .filter(({ status }) => status === 'failed')
          .map(({ fullName, failureMessages }) => failure(path, fullName, failureMessages[0])),
      ),
    }),
  )
}

function playwright(): TestPart {
  const file = join(stateFolder, 'e2e-results.json')
  return counted(
    'e2e',
    'playwright',
    ['test', '--config', 'e2e/playwright.config.ts'],
    { PLAYWRIGHT_JSON_OUTPUT_NAME: file },
    file,
    ({ stats, suites }: PlaywrightResult) => ({
      passed: stats.expected,
      failed: stats.unexpected + stats.flaky,
      failures: suites.flatMap(failuresOf),
    }),
  )
}

const parts: Readonly<Record<string, readonly TestPart[]>> = {
  static: [
    staticChecks([
      { name: 'lint', program: 'oxlint', args: ['--deny-warnings', '--report-unused-disable-directives'] },
      // It searches for the worst text of each expression, by chance and for a time: on a busy machine it finds other things.
      { name: 'expressions', program: 'oxlint', args: ['-c', '.oxlintrc.redos.json', '--deny-warnings'], isLong: true },
      { name: 'types', program: 'tsc', args: ['-p', '.'] },
      { name: 'types of the page', program: 'tsc', args: ['-p', 'apps/web'] },
      {
        name: 'layers',
        program: 'depcruise',
        args: ['packages', 'apps', 'workbench', 'scripts', 'e2e', '--config', '.dependency-cruiser.cjs', '--output-type', 'err'],
      },
      { name: 'nothing unused', program: 'knip', args: [] },
    ]),
  ],
  core: [vitest('core')],
  web: [vitest('web')],
  kernel: [vitest('kernel')],
  server: [vitest('server')],
  commands: [vitest('commands')],
  e2e: [playwright()],
}

/**
 * All parts in rounds; in each, two are at work side by side, and who is done takes the next: two processors are kept busy, since what
 * waits much of its time (the one command, the server, the kernel's machines) is beside what never does.
 */
const allRounds: readonly (readonly string[])[] = [['commands', 'static', 'server', 'core', 'web', 'kernel'], ['e2e']]

/**
 * Checks everything, or one part.
 *
 * @param isLong everything that there is, however long it takes; otherwise what each change has to pass
 * @returns 0 when nothing failed
 */
export async function test(only: string | undefined, isLong: boolean): Promise<number> {
  const rounds = only === undefined ? allRounds : parts[only] && [[only]]
  if (!rounds) throw new Refusal(`There is no part “${only ?? ''}”; the parts are ${Object.keys(parts).join(', ')}.`)
  if (isLong) process.env['INSEL_LONG'] = '1'
  ensurePackages([
    postgresql,
    chromium,
    python,
    macRegistry,
    systemsDataset,
    imageMaker,
    ...machineTools,
    ...networkTools,
    ...firstBootTools,
    ...transferTools,
    ...dhcpServers,
  ])
  build()
  const start = Date.now()
  const tallies: Tally[] = []
  for (const round of rounds) {
    const waiting = round.flatMap((name) => parts[name] ?? [])
    const isAlone = waiting.length === 1
    await sideBySide(2, waiting, async (part) => void tallies.push(await runPart(part, isAlone ? 2 : 1)))
  }
  const sum = (of: 'passed' | 'failed') => tallies.reduce((total, tally) => total + tally[of], 0)
  const failures = tallies.flatMap((tally) => tally.failures)
  if (failures.length > 0) process.stdout.write(`\nFailed:\n${failures.map((said) => `  ${said}\n`).join('')}`)
  const minutes = ((Date.now() - start) / 60_000).toFixed(1)
  process.stdout.write(`\n${sum('passed')} passed, ${sum('failed')} failed, in ${minutes} minutes${isLong ? ', the long run' : ''}\n`)
  return sum('failed') === 0 ? 0 : 1
}

async function runPart(part: TestPart, processors: number): Promise<Tally> {
  process.stdout.write(`\n== ${part.name}\n`)
  const start = Date.now()
  const tally = await part.run(processors)
  process.stdout.write(`\n== ${part.name}: ${tally.passed} passed, ${tally.failed} failed, ${Math.round((Date.now() - start) / 1000)} s\n`)
  return tally
}
