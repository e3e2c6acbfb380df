import { inject } from 'vitest'

declare module 'vitest' {
  interface ProvidedContext {
    /** Whether `./insel test --long` runs: everything, however long it takes. */
    isLong: boolean
  }
}

/** Whether everything is tried, or what a change has to pass. */
export const isLong = inject('isLong')

/** How often a property is tried. @param often in the long run */
export const runs = (quick: number, often: number): number => (isLong ? often : quick)
