/** The faces of `index.css`. */
const FACES = ['Atkinson Hyperlegible Next Variable', 'Atkinson Hyperlegible Mono Variable']
/** Longer than this the page does not wait for them: it is shown in the system's own. */
const WAIT_MS = 1500

/**
 * Waits for the fonts that the app brings. A page that is shown before them is laid out again when they come, and what was
 * under the pointer is somewhere else in the middle of a click.
 */
export async function fontsReady(): Promise<void> {
  const late = new Promise((resolve) => setTimeout(resolve, WAIT_MS))
  // One that cannot be had leaves the system's own in its place.
  await Promise.race([Promise.allSettled(FACES.map((face) => document.fonts.load(`1em "${face}"`))), late])
}
