import { attempt, commandShape, verbOf, withIds, type Command, type CommandContext } from '../commands/index.js'
import {
  changedFields,
  CommandError,
  derivedId,
  kinds,
  recordPhrase,
  type Estate,
  type Item,
  type KindDefinition,
  type RecordEntry,
} from '../estate/index.js'
import { aheadOf, isOpenPlan, outcomesOf } from './projection.js'

/** A record that an item of an open plan would make, or give another name or number. */
interface Planned extends RecordEntry {
  readonly item: Item
}

/** Whether a field is part of what identifies a record of a kind. */
const isInKey = (definition: KindDefinition, field: string): boolean =>
  definition.keys.some(({ unique, fields }) => unique && fields.includes(field))

/** What items of all open plans would make: their names, MACs and addresses are spoken for. */
function plannedIn(estate: Estate, leaveOut: (item: Item) => boolean): readonly Planned[] {
  return estate
    .all('plan')
    .filter(isOpenPlan)
    .flatMap(({ id }) => {
      const items = aheadOf(estate, id)
      const outcomes = outcomesOf(estate, items)
      return items.flatMap((item, index): Planned[] => {
        const outcome = outcomes[index]
        if (!outcome?.ok || leaveOut(item)) return []
        const { added, updated } = outcome.difference
        return [
          ...Object.values(added).map((entry) => ({ ...entry, item })),
          ...Object.values(updated).flatMap(({ kind, from, to }) =>
            changedFields(from, to).some((field) => isInKey(kinds[kind], field))
              ? [{ kind, record: { ...to, id: derivedId(item.id, to.id) }, item }]
              : [],
          ),
        ]
      })
    })
}

/**
 * Commands with everything in them that would otherwise be chosen when they are applied: ids, MACs, addresses. What items of open plans
 * would make counts as used, so that two plans do not collide.
 *
 * @param on the estate they are written for: after the items before them
 * @param leaveOut items whose own keys do not count, such as the one that is rewritten
 * @throws CommandError of the first command that cannot be done; `not-unique` where another plan has the name, MAC or address
 */
export function fixCommands(
  on: Estate,
  commands: readonly Command[],
  context: CommandContext,
  leaveOut: (item: Item) => boolean = () => false,
): readonly Command[] {
  const whole = withIds(commands, context.newId)
  const planned = plannedIn(on, leaveOut).filter(({ kind, record }) => !on.find(kind, record.id))
  const crowded = on.with({
    added: Object.fromEntries(planned.map(({ kind, record }) => [record.id, { kind, record }])),
    updated: {},
    removed: {},
  })
  const builder = crowded.edit()
  const outcome = attempt(builder, whole, context)
  if (!outcome.ok) {
    const alone = attempt(on.edit(), whole, context)
    throw alone.ok ? spokenFor(outcome.refusal, planned, crowded) : alone.refusal
  }
  const made = builder.finish()
  return whole.map((command) => {
    const shape = commandShape(command.type)
    const verb = shape && 'verb' in shape ? verbOf(shape.verb) : undefined
    return verb?.fixed ? { ...command, ...verb.fixed(command as never, made) } : command
  })
}

/** A refusal for what another plan would make, with the plan and item that would. */
function spokenFor(refusal: CommandError, planned: readonly Planned[], estate: Estate): CommandError {
  const holder = planned.find(({ kind, record }) => refusal.message.includes(recordPhrase(estate, kind, record)))
  const plan = holder && estate.find('plan', holder.item.planId)
  if (!holder || !plan) return refusal
  const [field] = refusal.message.split(' is already used by ')
  const sentence = `${field ?? 'It'} is planned already in “${plan.name}”, item “${holder.item.title}”; choose another.`
  return new CommandError(
    refusal.code,
    sentence,
    refusal.problems.map((problem) => ({ ...problem, message: sentence })),
  )
}
