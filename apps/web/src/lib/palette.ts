import type { Theme } from './theme'

/**
 * Colours that tell things apart on the board, in the order they are given out. Chosen to differ in lightness as well
 * as in hue, so that they stay apart with the common colour-vision deficiencies (a test simulates them); each carries
 * white text at 4.5 : 1 in the light theme, and dark text in the dark one.
 */
export const palette: Readonly<Record<Theme, readonly string[]>> = {
  light: ['#2f6b4f', '#3b5f9e', '#8c4a86', '#5c6570', '#a4551e', '#6f6a1b', '#1f3a5f', '#a03a5b'],
  dark: ['#7fc09c', '#8fb2ea', '#d39bd0', '#a9b3bd', '#e5a06a', '#c9c163', '#c4d6f0', '#ee9bb2'],
}

/** The colour of the nth thing. */
export const colourOf = (theme: Theme, index: number): string => palette[theme][index % palette[theme].length] ?? '#5c6570'
