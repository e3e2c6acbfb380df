import { apply, type Command } from '../commands/index.js'
import { CommandError, kindNames, kinds, type Difference, type Estate, type Field } from '../estate/index.js'
import { testContext } from './small-estate.js'

/** What becomes of an estate when one thing in it is called otherwise. */
export interface Rename {
  readonly command: Command
  readonly estate: Estate
  readonly difference: Difference
}

/** Every thing of an estate, called so that it comes first, and last, among those of its kind; where that may be. */
export function* renamesOf(estate: Estate, most = Infinity): Generator<Rename> {
  for (const kind of kindNames) {
    const fields: Readonly<Record<string, Field>> = kinds[kind].fields
    if (fields['name']?.type !== 'text') continue
    for (const { id } of estate.all(kind).slice(0, most))
      for (const name of ['aa-renamed', 'zz-renamed']) {
        const command = { type: `${kind}.update`, id, changes: { name } } as unknown as Command
        try {
          yield { command, ...apply(estate, command, testContext(77)) }
        } catch (error) {
          // A kind that is changed by verbs alone has no such command.
          if (!(error instanceof CommandError)) throw error
        }
      }
  }
}
