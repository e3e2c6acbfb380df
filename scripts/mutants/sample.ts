import { createHash } from 'node:crypto'
import type { Location } from '@stryker-mutator/api/core'
import type { Ignorer } from '@stryker-mutator/api/ignore'
import type { Logger } from '@stryker-mutator/api/logging'
import { Instrumenter } from '@stryker-mutator/instrumenter'

/** As much of a place in the syntax tree as is looked at; the tools leave the type of it to whoever looks. */
declare module '@stryker-mutator/api/ignore' {
  interface NodePath {
    readonly node: { readonly type: string; readonly key?: { readonly type: string; readonly name?: string } }
  }
}

/** One change of the sources, and where it is. */
export interface Place {
  readonly fileName: string
  /** Lines and columns from 0. */
  readonly location: Location
  readonly mutatorName: string
  readonly replacement: string
}

/** What tells a mutant from all others, in whichever copy of the sources. */
export const keyOf = ({ fileName, location: { start, end }, mutatorName, replacement }: Place): string =>
  [fileName.replace(/^(.*\/)?packages\//, ''), start.line, start.column, end.line, end.column, mutatorName, replacement].join(' ')

/** What explains a field or a verb to a reader: the tests of words read all of it, and no computation does. */
const EXPLAINS = new Set(['doc', 'label', 'placeholder', 'example'])
export const words: Ignorer = {
  shouldIgnore: ({ node: { type, key } }) =>
    type === 'ObjectProperty' && EXPLAINS.has(key?.name ?? '') ? 'words for a reader' : undefined,
}

const silent = () => undefined
const logger: Logger = {
  isTraceEnabled: () => false,
  isDebugEnabled: () => false,
  isInfoEnabled: () => false,
  isWarnEnabled: () => false,
  isErrorEnabled: () => false,
  isFatalEnabled: () => false,
  trace: silent,
  debug: silent,
  info: silent,
  warn: silent,
  error: silent,
  fatal: silent,
}

/**
 * So many of all mutants of some sources, the same ones for the same seed: a mutant's turn follows from the seed and from itself alone.
 *
 * @param files names and contents
 */
export async function sampleOf(
  files: readonly { readonly name: string; readonly content: string }[],
  { seed, size }: { readonly seed: string; readonly size: number },
): Promise<readonly Place[]> {
  const { mutants } = await new Instrumenter(logger).instrument(
    files.map((file) => ({ ...file, mutate: true })),
    { plugins: null, excludedMutations: [], ignorers: [words] },
  )
  const rank = (place: Place) =>
    createHash('sha256')
      .update(`${seed} ${keyOf(place)}`)
      .digest('hex')
  return mutants
    .filter(({ status }) => status !== 'Ignored')
    .map((place) => ({ place, rank: rank(place) }))
    .toSorted((one, other) => (one.rank < other.rank ? -1 : 1))
    .slice(0, size)
    .map(({ place }) => place)
}
