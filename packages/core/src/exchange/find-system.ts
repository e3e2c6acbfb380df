import type { Estate, System } from '../estate/index.js'

/** Words that say nothing of which system it is. */
const IDLE = new Set(['gnu', 'the', 'edition', 'release', 'version', 'v', 'lts', 'bit', '64', '32', 'x64', 'x86', 'amd64', 'x86_64', 'os'])

/** The words of a system's name: `Debian GNU/Linux 12 (64-bit)` is `debian linux 12`. */
const wordsOf = (text: string): readonly string[] =>
  text
    .toLowerCase()
    .split(/[^a-z0-9.]+/)
    .flatMap((word) => word.match(/\d+(?:\.\d+)*|[a-z]+/g) ?? [])
    .filter((word) => !IDLE.has(word))

/**
 * The recorded system that a text means: by its name, or by being the only one whose words hold all of the text's, a version by its
 * beginning. Where two fit, it is neither.
 *
 * @example findSystem(estate, 'debian 12') // the system “Debian 12 server”
 */
export function findSystem(estate: Estate, text: string): System | undefined {
  const systems = estate.all('system')
  const same = systems.find(({ name }) => name.toLowerCase() === text.toLowerCase())
  if (same) return same
  const wanted = wordsOf(text)
  if (wanted.length === 0) return undefined
  const isHeld = (word: string, words: readonly string[]) =>
    words.some(
      (one) =>
        one === word ||
        (/^\d/.test(word) ? word.startsWith(`${one}.`) || one.startsWith(`${word}.`) : word.length > 2 && one.startsWith(word)),
    )
  const holds = (a: readonly string[], b: readonly string[]) => a.every((word) => isHeld(word, b))
  const fitting = systems.filter(({ name }) => {
    const words = wordsOf(name)
    return words.length > 0 && (holds(wanted, words) || (words.length > 1 && holds(words, wanted)))
  })
  return fitting.length === 1 ? fitting[0] : undefined
}
