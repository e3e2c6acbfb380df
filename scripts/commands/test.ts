import { spawn } from 'node:child_process'
import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
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
import { root, stateFolder } from '../places.js'
import { Refusal } from '../refusal.js'

/** How many checks of a part passed and failed. */
interface Tally {
  readonly passed: number
  readonly failed: number
}
interface TestPart {
  readonly name: string
  /** @param processors how many it has for itself, where it can make use of them */
  readonly run: (processors: number) => Promise<Tally>
}

/** Runs a program of the project's packages; what it says goes to the terminal as it comes. */
function run(program: string, args: readonly string[], env: Readonly<Record<string, string>> = {}): Promise<number> {
  return new Promise((resolve, reject) => {
    const child = spawn(join(root, 'node_modules/.bin', program), [...args], {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
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
}

/** Runs a check and keeps what it says until it is over, so that checks side by side do not talk over each other. */
function runCheck({ name, program, args, env = {} }: Check): Promise<boolean> {
  return new Promise((resolve, reject) => {
    const start = Date.now()
    const child = spawn(join(root, 'node_modules/.bin', program), [...args], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ...env },
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
const staticChecks = (checks: readonly Check[]): TestPart => ({
  name: 'static',
  async run(processors) {
    let passed = 0
    await sideBySide(processors, checks, async (check) => {
      if (await runCheck(check)) passed++
    })
    return { passed, failed: checks.length - passed }
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
      if (!existsSync(resultFile)) return { passed: 0, failed: 1 }
      const { passed, failed } = tally(JSON.parse(readFileSync(resultFile, 'utf8')) as never)
      // A failure outside of any test, such as in a setup, shows only in the exit code.
      return { passed, failed: failed === 0 && code !== 0 ? 1 : failed }
    },
  }
}

function vitest(name: string): TestPart {
  const file = join(stateFolder, `${name}-results.json`)
  return counted(
    name,
    'vitest',
    ['run', '--project', name, '--reporter=dot', '--reporter=json', `--outputFile.json=${file}`],
    {},
    file,
    (result: { numPassedTests: number; numFailedTests: number }) => ({
      passed: result.numPassedTests,
      failed: result.numFailedTests,
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
    ({ stats }: { stats: { expected: number; unexpected: number; flaky: number } }) => ({
      passed: stats.expected,
      failed: stats.unexpected + stats.flaky,
    }),
  )
}

const parts: Readonly<Record<string, readonly TestPart[]>> = {
  static: [
    staticChecks([
      { name: 'lint', program: 'oxlint', args: ['--deny-warnings', '--report-unused-disable-directives'] },
      { name: 'types', program: 'tsc', args: ['-p', '.'] },
      { name: 'types of the page', program: 'tsc', args: ['-p', 'apps/web'] },
      {
        name: 'layers',
        program: 'depcruise',
        args: ['packages', 'apps', 'scripts', 'e2e', '--config', '.dependency-cruiser.cjs', '--output-type', 'err'],
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
  const sum = (of: keyof Tally) => tallies.reduce((total, tally) => total + tally[of], 0)
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
