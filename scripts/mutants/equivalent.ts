/** A mutant that changes nothing that anybody could see. */
export interface Equivalent {
  /** Its file, below `packages/core/src/`. */
  readonly file: string
  /** What stands there, and what stands there instead. */
  readonly original: string
  readonly replacement: string
  readonly because: string
}

/** Mutants of the samples that were looked at and that no test can tell from the original; they do not count in a score. */
export const equivalents: readonly Equivalent[] = []
