import { commandShape, type Command } from '../commands/index.js'
import { CommandError, kinds, type Item, type Kind } from '../estate/index.js'

/** Kinds that no item changes by itself: plans and their like, what is followed while it is done, and who does it. */
const NOT_IN_ITEMS: ReadonlySet<string> = new Set<Kind | 'finding'>([
  'estate',
  'person',
  'plan',
  'item',
  'acceptance',
  'finding',
  'migration',
  'leftover',
  'batch',
  'copy',
  'sheet',
  'step',
])

/** The commands that an item holds. They were read when it was recorded. */
export const commandsOf = ({ commands }: Pick<Item, 'commands'>): readonly Command[] => commands as unknown as readonly Command[]

/**
 * Why an item may not hold a command, or undefined where it may.
 *
 * @example whyNotInItem({ type: 'plan.drop', planId }) // 'An item cannot hold “plan.drop”: …'
 */
export function whyNotInItem({ type }: Pick<Command, 'type'>): string | undefined {
  const shape = commandShape(type)
  if (!shape) return `Unknown command “${type}”.`
  if ('verb' in shape)
    return NOT_IN_ITEMS.has(type.split('.')[0] ?? '')
      ? `An item cannot hold “${type}”: plans do not change plans, and findings are accepted when they are seen.`
      : undefined
  return NOT_IN_ITEMS.has(shape.kind)
    ? `An item cannot hold “${type}”: ${kinds[shape.kind].plural} are recorded when they happen, not planned.`
    : undefined
}

/** What kind of item commands are: moves, copies, or another change. */
export function itemKindOf(commands: readonly Command[]): Item['kind'] {
  if (commands.length === 0) return 'task'
  // A move into another machine adds that one first.
  if (commands.at(-1)?.type === 'guest.migrate' && commands.every(({ type }) => type === 'guest.migrate' || type.endsWith('.add')))
    return 'move'
  return commands.every(({ type }) => type === 'guest.clone') ? 'copies' : 'change'
}

/** @throws CommandError `not-allowed` at the first command that an item may not hold */
export function checkBody(commands: readonly Command[], path: string): void {
  for (const [index, command] of commands.entries()) {
    const why = whyNotInItem(command)
    if (why) throw new CommandError('not-allowed', why, `${path}.${index}`)
  }
}
