import { Stryker } from '@stryker-mutator/core'
import type { MutantResult, PartialStrykerOptions } from '@stryker-mutator/api/core'
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { join, relative } from 'node:path'
import { root } from '../../workbench/places.js'
import { Refusal } from '../../workbench/refusal.js'
import { equivalents } from './equivalent.js'
import { keyOf, sampleOf } from './sample.js'

const CORE = 'packages/core/src'
/** Where what is computed must be right; a sample is of all of it together. */
const JUDGED = ['capacity', 'commands', 'estate', 'exchange', 'migrations', 'placement', 'plans', 'reach', 'transfers']
/** So many are tried, always the same: a smaller sample is the beginning of a larger one. */
const SEED = 'insel'
export const SAMPLE_SIZE = 200
/** Of the mutants of a sample, so many must be found by a test. */
const LEAST = 0.8

/**
 * Changes the core in one place at a time, and looks whether a test notices: a seeded sample of 200 such changes, and all tests that reach
 * the place.
 *
 * @param size how many; a minute each on a slow machine
 * @param path a file or folder, from the checkout's root or from `packages/core/src`; what matters most where left out
 * @returns 0 when at least 80 % are noticed
 * @throws Refusal where the path names nothing of the core
 */
export async function mutants(path: string | undefined, size: number): Promise<number> {
  const names = path === undefined ? JUDGED.flatMap((folder) => sourcesIn(`${CORE}/${folder}`)) : sourcesIn(found(path))
  const sample = await sampleOf(
    names.map((name) => ({ name, content: readFileSync(join(root, name), 'utf8') })),
    { seed: SEED, size },
  )
  const options: PartialStrykerOptions = {
    mutate: sample.map(
      ({ fileName, location: { start, end } }) => `${fileName}:${start.line + 1}:${start.column}-${end.line + 1}:${end.column}`,
    ),
    testRunner: 'vitest',
    vitest: { configFile: 'scripts/mutants/vitest.config.ts', related: false },
    plugins: ['@stryker-mutator/vitest-runner', join(root, 'scripts/mutants/sample-plugin.ts')],
    checkers: ['sample'],
    checkerNodeArgs: ['--import', 'tsx'],
    testRunnerNodeArgs: ['--import', 'tsx', '--max-old-space-size=6144'],
    ignorers: ['words'],
    coverageAnalysis: 'perTest',
    // One of them lets through what the sample has, the others try.
    concurrency: 3,
    dryRunTimeoutMinutes: 20,
    reporters: ['progress-append-only'],
    tempDirName: '.insel/mutants',
    ignorePatterns: ['.insel', 'docs', 'e2e', 'apps', '**/dist'],
    disableTypeChecks: true,
    timeoutMS: 20_000,
    timeoutFactor: 3,
    warnings: false,
  }
  process.env['INSEL_MUTANTS'] = '1'
  const results = await new Stryker({ ...options, sample: sample.map(keyOf) }).runMutationTest()
  const tried = results.filter(({ status }) => status !== 'CompileError' && status !== 'Ignored')
  if (tried.length === 0) throw new Refusal('There is nothing to change there.')
  const same = tried.filter((mutant) => equivalentOf(mutant) !== undefined)
  const counted = tried.filter((mutant) => equivalentOf(mutant) === undefined)
  const missed = counted.filter(({ status }) => status === 'Survived' || status === 'NoCoverage')
  const share = (counted.length - missed.length) / counted.length
  const [low, high] = interval(share, counted.length)
  const percent = (value: number) => `${(value * 100).toFixed(1)} %`
  process.stdout.write(
    [
      ...missed.map((mutant) => `\nnot noticed: ${described(mutant)}`),
      ...same.map((mutant) => `\nequivalent: ${described(mutant)}\n  ${equivalentOf(mutant)?.because ?? ''}`),
      `\n${counted.length - missed.length} of ${counted.length} noticed: ${percent(share)}, ${percent(low)} to ${percent(high)} of all with 95 % confidence; ${same.length} equivalent.\n`,
    ].join(''),
  )
  return share >= LEAST ? 0 : 1
}

/** Where a file or folder of the core is, from the checkout’s root. */
function found(path: string): string {
  const at = [path, `${CORE}/${path}`].map((given) => relative(root, join(root, given))).find((given) => existsSync(join(root, given)))
  if (at === undefined || !at.startsWith(CORE))
    throw new Refusal(`There is no file or folder “${path}” in the core; name one such as capacity or ${CORE}/plans/body.ts.`)
  return at
}

/** The sources at a place, without tests. */
const sourcesIn = (at: string): readonly string[] =>
  statSync(join(root, at)).isDirectory()
    ? readdirSync(join(root, at), { recursive: true, encoding: 'utf8' })
        .map((name) => join(at, name))
        .filter((name) => name.endsWith('.ts') && !/\.test\.ts$|\/testing\//.test(name))
        .toSorted()
    : [at]

/** Wilson’s interval for a share of so many, 95 % (Wilson 1927, in NIST’s Engineering Statistics Handbook 7.2.4.1). */
function interval(share: number, count: number): readonly [number, number] {
  const z = 1.96
  const middle = share + (z * z) / (2 * count)
  const reach = z * Math.sqrt((share * (1 - share)) / count + (z * z) / (4 * count * count))
  const whole = 1 + (z * z) / count
  return [(middle - reach) / whole, (middle + reach) / whole]
}

const fileOf = ({ fileName }: MutantResult): string => relative(join(root, CORE), fileName)

/** What stands in the source where a mutant is: a report counts lines and columns from 1. */
function originalOf({ fileName, location: { start, end } }: MutantResult): string {
  const lines = readFileSync(fileName, 'utf8')
    .split('\n')
    .slice(start.line - 1, end.line)
  return lines
    .map((line, index) => line.slice(index === 0 ? start.column - 1 : 0, index === lines.length - 1 ? end.column - 1 : undefined))
    .join('\n')
}

const equivalentOf = (mutant: MutantResult) =>
  equivalents.find(
    ({ file, original, replacement }) => file === fileOf(mutant) && replacement === mutant.replacement && original === originalOf(mutant),
  )

const described = (mutant: MutantResult): string =>
  `${fileOf(mutant)}:${mutant.location.start.line}: ${originalOf(mutant).slice(0, 300)}  ->  ${mutant.replacement.slice(0, 200)}`
