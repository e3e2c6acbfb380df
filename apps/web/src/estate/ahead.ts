import { applyAll, CommandError, type Command, type Estate } from '@insel/core'
import { browserContext } from '../lib/context'

/**
 * An estate with what is shown ahead of the server's answers; what has arrived already, or is refused, changes nothing.
 *
 * @param ahead lists of commands, each as it was submitted
 */
export function withAhead(recorded: Estate, ahead: readonly (readonly Command[])[], revision: number): Estate {
  let estate = recorded
  for (const commands of ahead) {
    try {
      estate = applyAll(estate, commands, browserContext(revision)).estate
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
    }
  }
  return estate
}
