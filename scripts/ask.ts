import { createInterface } from 'node:readline/promises'
import { Refusal } from '../workbench/refusal.js'

/**
 * Asks before something is lost.
 *
 * @param what what would be lost, as the end of “This …”
 * @param word what has to be typed
 * @param isSure `--yes` was given: nothing is asked
 * @throws Refusal where there is nobody to ask
 */
export async function isAgreed(what: string, word: string, isSure: boolean): Promise<boolean> {
  if (isSure) return true
  if (!process.stdin.isTTY) throw new Refusal(`This would ${what}. Add --yes to do so without being asked.`)
  const prompt = createInterface({ input: process.stdin, output: process.stdout })
  const answer = await prompt.question(`This would ${what}. Type “${word}” to go on: `)
  prompt.close()
  return answer.trim() === word
}
