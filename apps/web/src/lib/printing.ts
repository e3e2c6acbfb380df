import { usePrinting } from './use-media'

/** How many of a long list are shown at once: all of them on paper. */
export const useMost = (most: number): number => (usePrinting() ? Infinity : most)
