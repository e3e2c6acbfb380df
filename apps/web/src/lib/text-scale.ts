/** The text size that pages are drawn for, px; it is the browser's usual 16 px at 87.5 %. */
const USUAL_PX = 14

/**
 * How much larger text is than usual, because the browser is set so: what is drawn to scale around words makes room for them.
 *
 * @returns 1 as usual, 2 at twice the text size
 */
export function textScale(): number {
  const size = typeof document === 'undefined' ? NaN : parseFloat(getComputedStyle(document.documentElement).fontSize)
  return size > 0 ? size / USUAL_PX : 1
}
