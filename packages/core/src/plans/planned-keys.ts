import { attempt, commandShape, verbOf, withIds, type Command, type CommandContext } from '../commands/index.js'
import {
  changedFields,
  CommandError,
  derivedId,
  kinds,
  type Difference,
  type Estate,
  type Item,
  type KindDefinition,
  type RecordEntry,
  type StoredCommand,
} from '../estate/index.js'
import { checkBody } from './body.js'
import { aheadOf, contextOf, isOpenPlan, outcomesOf } from './projection.js'

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

const withPlanned = (on: Estate, planned: readonly Planned[]): Estate =>
  on.with({ added: Object.fromEntries(planned.map(({ kind, record }) => [record.id, { kind, record }])), updated: {}, removed: {} })

/** An estate with everything beside it that items of open plans would make: what is new there collides with none of it. */
export const crowdedBy = (on: Estate): Estate =>
  withPlanned(
    on,
    plannedIn(on, () => false).filter(({ kind, record }) => !on.find(kind, record.id)),
  )

/** Commands of an item as they are kept, and what they do. */
interface Written {
  readonly commands: readonly Command[]
  readonly difference: Difference
}

/** Writes the commands of the next item. @throws CommandError of the first that cannot be done */
export type ItemWriter = (itemId: string, commands: readonly Command[]) => Written

/**
 * Writes items one after the other: commands with everything in them that would otherwise be chosen when they are applied, which are ids,
 * MACs and addresses. What items of open plans would make counts as used, so that two plans do not collide.
 *
 * @param on the estate they are written for: after the items before them
 * @param leaveOut items whose own keys do not count, such as the one that is rewritten
 * @returns what writes each of them; it throws `not-unique` where another plan has the name, MAC or address
 */
export function writerOn(on: Estate, context: CommandContext, leaveOut: (item: Item) => boolean = () => false): ItemWriter {
  const planned = plannedIn(on, leaveOut).filter(({ kind, record }) => !on.find(kind, record.id))
  const crowded = withPlanned(on, planned).edit()
  const alone = on.edit()
  return (itemId, commands) => {
    const whole = withIds(commands, context.newId)
    const before = crowded.mark()
    const outcome = attempt(crowded, whole, context)
    if (!outcome.ok) {
      const mark = alone.mark()
      const wouldBe = attempt(alone, whole, context)
      alone.rollBack(mark)
      throw wouldBe.ok ? spokenFor(outcome.refusal, planned, crowded.estate) : wouldBe.refusal
    }
    const fixed = whole.map((command) => {
      const shape = commandShape(command.type)
      const verb = shape && 'verb' in shape ? verbOf(shape.verb) : undefined
      return verb?.fixed ? { ...command, ...verb.fixed(command as never, crowded.estate) } : command
    })
    const written = attempt(alone, fixed, contextOf(itemId))
    if (!written.ok) {
      // It rests on what another plan would make: nothing of it counts for those after it.
      crowded.rollBack(before)
      throw written.refusal
    }
    return { commands: fixed, difference: written.difference }
  }
}

/** The body of an item as it is kept, with what it is written for. @throws CommandError `invalid`, `not-allowed`, or what its commands are refused for */
export function writtenBody(
  write: ItemWriter,
  itemId: string,
  kind: Item['kind'] | undefined,
  given: readonly StoredCommand[] | undefined,
) {
  const body = (given ?? []) as unknown as readonly Command[]
  checkBodyOf(kind ?? 'change', body)
  checkBody(body, 'commands')
  const { commands, difference } = write(itemId, body)
  return { kind: kind ?? 'change', commands, expects: difference }
}

/** @throws CommandError `invalid`: a task has no commands, the others have */
function checkBodyOf(kind: Item['kind'], body: readonly Command[]): void {
  if ((kind === 'task') === (body.length === 0)) return
  throw new CommandError(
    'invalid',
    kind === 'task' ? 'A task has no commands; add them as a change.' : `A ${kind} needs at least one command; what has none is a task.`,
    'commands',
  )
}

/** A refusal for what another plan would make, with the plan and item that would. */
function spokenFor(refusal: CommandError, planned: readonly Planned[], estate: Estate): CommandError {
  const { taken } = refusal
  const holder = planned.find(({ record }) => record.id === taken?.by)
  const plan = holder && estate.find('plan', holder.item.planId)
  if (!taken || !holder || !plan) return refusal
  const sentence = `${taken.what} is planned already in “${plan.name}”, item “${holder.item.title}”; choose another.`
  return new CommandError(
    refusal.code,
    sentence,
    refusal.problems.map((problem) => ({ ...problem, message: sentence })),
  )
}
