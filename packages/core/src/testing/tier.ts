import { inject } from 'vitest'

declare module 'vitest' {
  interface ProvidedContext {
    /** Whether `./insel test --long` runs: everything, however long it takes. */
    isLong: boolean
  }
}

/** Whether everything is tried, or what a change has to pass. */
export const isLong = inject('isLong')

/** A mutant is looked for by every test that reaches it, one after the other: a few runs of each are enough. */
const FEW = 20

/** How often a property is tried. @param often in the long run */
export const runs = (quick: number, often: number): number =>
  isLong ? often : process.env['INSEL_MUTANTS'] === '1' ? Math.min(quick, FEW) : quick
