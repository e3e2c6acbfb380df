import { commandShape, type Command } from './command.js'
import { verbOf } from './verb.js'

/**
 * Commands with an id each for what they make, so that they make the same records wherever and whenever they are applied: on the page, on
 * the server, twice. What a verb makes besides has ids that follow from it.
 *
 * @param newId asked for each id that is missing
 * @returns the same list when none is missing
 * @example withIds([{ type: 'guest.clone', guestId, name: 'edge-2' }], newId)[0].id // the copy's id, known before it is made
 */
export function withIds(commands: readonly Command[], newId: () => string): readonly Command[] {
  const whole = commands.map((command) => withId(command, newId))
  return whole.some((command, index) => command !== commands[index]) ? whole : commands
}

function withId(command: Command, newId: () => string): Command {
  const shape = commandShape(command.type)
  if (!shape) return command
  if ('verb' in shape) {
    const isMaking = Object.hasOwn(verbOf(shape.verb)?.fields ?? {}, 'id')
    const { id } = command as { id?: string | null }
    return isMaking && (id === undefined || id === null) ? ({ ...command, id: newId() } as Command) : command
  }
  if (shape.action !== 'add') return command
  const { record } = command as { record?: { id?: string } }
  return record && record.id === undefined ? ({ ...command, record: { id: newId(), ...record } } as Command) : command
}
