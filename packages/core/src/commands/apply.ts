import {
  CommandError,
  DifferenceSum,
  isId,
  joinPath,
  kinds,
  readFields,
  type Difference,
  type Estate,
  type EstateBuilder,
  type Kind,
  type KindDefinition,
  type NewRecord,
} from '../estate/index.js'
import { commandShape, type Command, type RemoveCommand } from './command.js'
import { checkDifference, EstateEdit, removeWithReferring, type CommandContext, type PathOf } from './estate-edit.js'
import { arrivalOf, followOf, verbOf } from './verb.js'

/** The estate after a command, and what the command did. */
export interface Applied {
  readonly estate: Estate
  readonly difference: Difference
}

/**
 * Applies a command to an estate. The only way in which a record changes.
 *
 * @param estate the estate before; not changed
 * @param command what is asked
 * @param context ids, the time and the revision, which the core does not make up
 * @returns the estate after, and the difference
 * @throws CommandError with a code, a sentence and the field's path, when the command cannot be done
 * @example apply(estate, { type: 'guest.power', guestId, state: 'running' }, context).difference
 */
export function apply(estate: Estate, command: Command, context: CommandContext): Applied {
  const builder = estate.edit()
  const difference = applyTo(builder, [command], context, () => '')
  return { estate: builder.finish(), difference }
}

/**
 * Applies commands one after the other, all or none, in time that grows with their number alone. They are judged by what they come
 * to together: what only holds between two of them may be wrong.
 *
 * @throws CommandError of the first that cannot be done; its paths begin with the command's place in the list
 * @example applyAll(estate, [a, b], context).difference // what both did
 */
export function applyAll(estate: Estate, commands: readonly Command[], context: CommandContext): Applied {
  const builder = estate.edit()
  const difference = applyTo(builder, commands, context, inList)
  return { estate: builder.finish(), difference }
}

/**
 * Changes an estate by something that is no command but is logged like one, judged like commands.
 *
 * @throws CommandError
 */
export function applyWork(estate: Estate, context: CommandContext, pathOf: PathOf, work: (edit: EstateEdit) => void): Applied {
  const builder = estate.edit()
  const sum = new DifferenceSum()
  work(new EstateEdit(builder, context, (kind, from, to) => sum.put(kind, from, to)))
  const difference = sum.difference()
  checkDifference(() => estate, builder.estate, difference, pathOf)
  return { estate: builder.finish(), difference }
}

/** What became of one step of a list. */
export type StepOutcome = { readonly ok: true; readonly difference: Difference } | { readonly ok: false; readonly refusal: CommandError }

/** Steps laid over an estate: what each does, or why it cannot be done, and the estate after those that can. */
export interface Projection extends Applied {
  readonly steps: readonly StepOutcome[]
}

const projections = new WeakMap<object, { readonly on: Estate; readonly projection: Projection }>()

/**
 * Lays steps over an estate, one after the other, each a command or a list of them that is done as a whole. One that is refused does
 * nothing, and those behind it are tried all the same. The same list over the same estate is worked out once, and gives the same
 * records wherever it is worked out, as long as its commands name the ids of what they make: see `withIds`.
 *
 * @example project(estate, plan, context).steps[3] // { ok: false, refusal: … }
 */
export function project(estate: Estate, steps: readonly (Command | readonly Command[])[], context: CommandContext): Projection {
  const known = projections.get(steps)
  if (known?.on === estate) return known.projection
  const builder = estate.edit()
  const sum = new DifferenceSum()
  const outcomes = steps.map((step) => {
    const outcome = attempt(builder, step, context)
    if (outcome.ok) sum.add(outcome.difference)
    return outcome
  })
  const projection = { estate: builder.finish(), difference: sum.difference(), steps: outcomes }
  projections.set(steps, { on: estate, projection })
  return projection
}

/**
 * Does one step on an estate that is being changed: a command, or a list of them as a whole. One that is refused does nothing.
 *
 * @example attempt(estate.edit(), commands, context) // { ok: true, difference: … }
 */
export function attempt(builder: EstateBuilder, step: Command | readonly Command[], context: CommandContext): StepOutcome {
  const mark = builder.mark()
  try {
    return {
      ok: true,
      difference: 'type' in step ? applyTo(builder, [step], context, () => '') : applyTo(builder, step, context, inList),
    }
  } catch (error) {
    if (!(error instanceof CommandError)) throw error
    builder.rollBack(mark)
    return { ok: false, refusal: error }
  }
}

/**
 * What commands would come to in an estate that is being edited: nothing is done yet, see `EstateEdit.take`.
 *
 * @param where where its problems are in what was asked: one path for all, or that of each, which is `commands.N.field`
 * @throws CommandError as the first of them that is refused
 * @example edit.take(attemptIn(edit, commands, 'itemId'))
 */
export function attemptIn(edit: EstateEdit, commands: readonly Command[], where: string | ((path: string) => string)): Difference {
  const outcome = attempt(edit.estate.edit(), commands, edit.context)
  if (outcome.ok) return outcome.difference
  const { code, message, problems } = outcome.refusal
  throw new CommandError(
    code,
    message,
    typeof where === 'string' ? where : problems.map((problem) => ({ ...problem, path: where(problem.path) })),
  )
}

const inList = (index: number) => `commands.${index}`

/**
 * Applies commands to an estate that is being changed, and judges what they come to.
 *
 * @param placeOf the position of a command in what was asked, for the paths of problems
 * @throws CommandError; some of what they do may have been done by then
 */
function applyTo(
  builder: EstateBuilder,
  commands: readonly Command[],
  context: CommandContext,
  placeOf: (index: number) => string,
): Difference {
  const mark = builder.mark()
  const sum = new DifferenceSum()
  const lastToTouch = new Map<string, number>()
  for (const [index, command] of commands.entries()) {
    const edit = new EstateEdit(builder, context, (kind, from, to) => {
      sum.put(kind, from, to)
      const id = (to ?? from)?.id
      if (id !== undefined) lastToTouch.set(id, index)
    })
    try {
      perform(edit, command)
    } catch (error) {
      throw error instanceof CommandError ? error.under(placeOf(index)) : error
    }
  }
  const difference = sum.difference()
  const pathOf: PathOf = (field, id) => {
    const index = lastToTouch.get(id) ?? 0
    return joinPath(placeOf(index), fieldPath(commands[index], field))
  }
  checkDifference(
    () => {
      builder.rollBack(mark)
      return builder.estate
    },
    builder.estate,
    difference,
    pathOf,
  )
  // It was gone back to look at what was before.
  if (builder.mark() === mark) builder.take(difference)
  return difference
}

/** Where a field of a record is in the command that made or changed it. */
function fieldPath(command: Command | undefined, field: string): string {
  const shape = command && commandShape(command.type)
  if (!shape || 'verb' in shape || shape.action === 'remove') return field
  return shape.action === 'add' ? `record.${field}` : `changes.${field}`
}

/**
 * @param isNew whether it is of a record that is added: what a field has at first anyway may be said
 * @throws CommandError `not-allowed` for a field that follows from what is done, and is not written by itself
 */
function refuseFieldsOfVerbs(kind: Kind, values: object, path: string, isNew: boolean): void {
  const { byVerbs, fields, label } = kinds[kind] as KindDefinition
  const isAtFirst = (name: string) => {
    const field = fields[name]
    return (values as Readonly<Record<string, unknown>>)[name] === (field && 'default' in field ? field.default : null)
  }
  const field = byVerbs?.fields?.find((name) => name in values && !(isNew && isAtFirst(name)))
  if (field)
    throw new CommandError(
      'not-allowed',
      `${fields[field]?.label ?? field} follows from what is done with the ${label} and is not set by itself; leave it out.`,
      joinPath(path, field),
    )
}

/** Does one command. @throws CommandError; what it had done by then is still there */
function perform(edit: EstateEdit, command: Command): void {
  const shape = commandShape(command.type)
  const verb = shape && 'verb' in shape ? verbOf(shape.verb) : undefined
  if (verb) {
    const { type: _, ...values } = command as { type: string } & Record<string, unknown>
    verb.does(edit, readFields(verb.fields, values) as never)
    return
  }
  if (!shape || 'verb' in shape) throw new CommandError('unknown-command', `Unknown command “${command.type}”.`, 'type')
  switch (shape.action) {
    case 'add': {
      const { record } = command as { record: NewRecord<Kind> }
      refuseFieldsOfVerbs(shape.kind, record, 'record', true)
      if (record.id !== undefined && !isId(record.id)) throw new CommandError('invalid', 'Id is a UUID in lower case.', 'record.id')
      arrivalOf(shape.kind)?.(edit, record as never, record)
      edit.add(shape.kind, record)
      return
    }
    case 'update': {
      const { id, changes } = command as { id: string; changes: Record<string, unknown> }
      refuseFieldsOfVerbs(shape.kind, changes, 'changes', false)
      if ('id' in changes) throw new CommandError('invalid', 'An id does not change.', 'changes.id')
      const follow = followOf(shape.kind)
      if (follow) follow(edit, edit.require(shape.kind, id, 'id'), changes)
      edit.update(shape.kind, id, changes)
      return
    }
    case 'remove': {
      const { id, withReferring } = command as RemoveCommand
      edit.require(shape.kind, id, 'id')
      if (withReferring) removeWithReferring(edit, shape.kind, id)
      else edit.remove(shape.kind, id)
    }
  }
}
