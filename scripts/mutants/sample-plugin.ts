import { CheckStatus, type Checker, type CheckResult } from '@stryker-mutator/api/check'
import type { Mutant, StrykerOptions } from '@stryker-mutator/api/core'
import { commonTokens, declareClassPlugin, declareValuePlugin, PluginKind, tokens } from '@stryker-mutator/api/plugin'
import { keyOf, words } from './sample.js'

/** Lets the mutants of a sample through, and none that only stand within the same lines. */
class Sample implements Checker {
  static readonly inject = tokens(commonTokens.options)
  readonly #keys: ReadonlySet<string>

  constructor(options: StrykerOptions) {
    this.#keys = new Set(options['sample'] as readonly string[])
  }

  init(): Promise<void> {
    return Promise.resolve()
  }

  check(mutants: Mutant[]): Promise<Record<string, CheckResult>> {
    const resultOf = (mutant: Mutant): CheckResult =>
      this.#keys.has(keyOf(mutant)) ? { status: CheckStatus.Passed } : { status: CheckStatus.CompileError, reason: 'not in the sample' }
    return Promise.resolve(Object.fromEntries(mutants.map((mutant) => [mutant.id, resultOf(mutant)])))
  }
}

export const strykerPlugins = [
  declareClassPlugin(PluginKind.Checker, 'sample', Sample),
  declareValuePlugin(PluginKind.Ignore, 'words', words),
]
