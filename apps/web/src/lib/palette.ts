import type { Theme } from './theme'

/**
 * Colours that tell things apart on the board, in the order they are given out. Found by a search for the
 * largest least difference under the common colour-vision deficiencies (a test simulates them); each carries
 * white text at 4.5 : 1 in the light theme, and dark text in the dark one.
 */
export const palette: Readonly<Record<Theme, readonly string[]>> = {
  light: ['#197c9f', '#37349a', '#7a7900', '#813b00', '#72757b', '#003825', '#724358', '#51083f'],
  dark: ['#63bfff', '#48962c', '#dbac8d', '#d96b79', '#b0b2b9', '#e5f46c', '#95769f', '#cbeeff'],
}

/** The colour of the nth thing. */
export const colourOf = (theme: Theme, index: number): string => palette[theme][index % palette[theme].length] ?? '#5c6570'
