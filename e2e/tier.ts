/** Whether `./insel test --long` runs: every journey, however long it takes. */
export const isLong = process.env['INSEL_LONG'] === '1'

/**
 * The mark of a journey that only the long run takes: of several through one part of the page the others, and those of which each step is
 * tested by itself, too.
 */
export const LONG = '@long'
