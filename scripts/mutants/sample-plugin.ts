import type { Mutant, StrykerOptions } from '@stryker-mutator/api/core'
import { CheckStatus, type Checker, type CheckResult } from '@stryker-mutator/api/check'
import type { Ignorer } from '@stryker-mutator/api/ignore'
import { commonTokens, declareClassPlugin, declareValuePlugin, PluginKind, tokens } from '@stryker-mutator/api/plugin'
import { createHash } from 'node:crypto'

/** As much of a place in the syntax tree as is looked at; the tools leave the type of it to whoever looks. */
declare module '@stryker-mutator/api/ignore' {
  interface NodePath {
    readonly node: { readonly type: string; readonly key?: { readonly type: string; readonly name?: string } }
  }
}

/** Which mutants are tried: so many of all, the same for the same seed. */
export interface SampleOptions {
  readonly seed: string
  readonly size: number
}

/** Lets a sample of the mutants through, and no other: a mutant's place in it follows from the seed and from the mutant alone. */
class Sample implements Checker {
  static readonly inject = tokens(commonTokens.options)
  readonly #sample: SampleOptions

  constructor(options: StrykerOptions) {
    this.#sample = options['sample'] as SampleOptions
  }

  init(): Promise<void> {
    return Promise.resolve()
  }

  /** Those of the sample each by itself, all others together: by that they are told apart when they are checked. */
  group(mutants: Mutant[]): Promise<string[][]> {
    const { seed, size } = this.#sample
    const rank = ({ fileName, location, mutatorName, replacement }: Mutant) =>
      createHash('sha256')
        .update(JSON.stringify([seed, fileName.replace(/^.*\/packages\//, ''), location, mutatorName, replacement]))
        .digest('hex')
    const ids = mutants
      .map((mutant) => ({ id: mutant.id, rank: rank(mutant) }))
      .toSorted((one, other) => (one.rank < other.rank ? -1 : 1))
      .map(({ id }) => id)
    const others = ids.slice(size)
    return Promise.resolve([...ids.slice(0, size).map((id) => [id]), ...(others.length > 0 ? [others] : [])])
  }

  check(mutants: Mutant[]): Promise<Record<string, CheckResult>> {
    const result: CheckResult =
      mutants.length === 1 ? { status: CheckStatus.Passed } : { status: CheckStatus.CompileError, reason: 'not in the sample' }
    return Promise.resolve(Object.fromEntries(mutants.map(({ id }) => [id, result])))
  }
}

/** What explains a field or a verb to a reader: the tests of words read all of it, and no computation does. */
const EXPLAINS = new Set(['doc', 'label', 'placeholder', 'example'])
const words: Ignorer = {
  shouldIgnore: ({ node: { type, key } }) =>
    type === 'ObjectProperty' && EXPLAINS.has(key?.name ?? '') ? 'words for a reader' : undefined,
}

export const strykerPlugins = [
  declareClassPlugin(PluginKind.Checker, 'sample', Sample),
  declareValuePlugin(PluginKind.Ignore, 'words', words),
]
