import { CommandError } from '../command-error.js'
import { readFields } from '../define-kind.js'
import { DifferenceSum, type Difference } from '../difference.js'
import { Draft, referredTo, referrersOf, type CommandContext } from '../draft.js'
import type { Estate, EstateEdit } from '../estate.js'
import { isId } from '../field.js'
import { kinds, type Kind, type NewRecord } from '../kinds/index.js'
import { commandShape, type Command, type RemoveCommand, type VerbCommand } from './command.js'
import { assignAddress, releaseAddress } from './addresses.js'
import { cloneGuest, migrateGuest, powerGuest, resizeGuest } from './guests.js'
import { mergeSubnets, moveSubnet, reserveRun, splitSubnet } from './subnets.js'
import { verbs, type Verb } from './verbs.js'

/** The estate after a command, and what the command did. */
export interface Applied {
  readonly estate: Estate
  readonly difference: Difference
}

type Handler<V extends Verb> = (draft: Draft, input: VerbCommand<V>) => void
const handlers: { readonly [V in Verb]: Handler<V> } = {
  'guest.resize': resizeGuest,
  'guest.power': powerGuest,
  'guest.clone': cloneGuest,
  'guest.migrate': migrateGuest,
  'address.assign': assignAddress,
  'address.release': releaseAddress,
  'address.reserve': reserveRun,
  'subnet.move': moveSubnet,
  'subnet.split': splitSubnet,
  'subnet.merge': mergeSubnets,
}

/**
 * Applies a command to an estate. The only way in which a record changes.
 *
 * @param estate the estate before; not changed
 * @param command what is asked
 * @param context ids and the time, which the core does not make up
 * @returns the estate after, and the difference
 * @throws CommandError with a code, a sentence and the field's path, when the command cannot be done
 * @example apply(estate, { type: 'guest.power', guestId, state: 'running' }, context).difference
 */
export function apply(estate: Estate, command: Command, context: CommandContext): Applied {
  const edit = estate.edit()
  const difference = applyTo(edit, command, context)
  return { estate: edit.finish(), difference }
}

/**
 * Applies commands one after the other, all or none, in time that grows with their number alone.
 *
 * @throws CommandError of the first that cannot be done; its paths begin with the command's place in the list
 * @example applyAll(estate, [a, b], context).difference // what both did
 */
export function applyAll(estate: Estate, commands: readonly Command[], context: CommandContext): Applied {
  const edit = estate.edit()
  const sum = new DifferenceSum()
  for (const [index, command] of commands.entries()) {
    try {
      sum.add(applyTo(edit, command, context))
    } catch (error) {
      throw error instanceof CommandError ? error.under(`commands.${index}`) : error
    }
  }
  return { estate: edit.finish(), difference: sum.difference() }
}

/** What became of one step of a list. */
export type StepOutcome = { readonly ok: true; readonly difference: Difference } | { readonly ok: false; readonly refusal: CommandError }

/** A list of commands laid over an estate: what each step does, or why it cannot be done, and the estate after those that can. */
export interface Projection extends Applied {
  readonly steps: readonly StepOutcome[]
}

const projections = new WeakMap<readonly Command[], { readonly on: Estate; readonly projection: Projection }>()

/**
 * Lays commands over an estate, one after the other. One that is refused does nothing, and those behind it are tried all the
 * same. The same list over the same estate is worked out once.
 *
 * @example project(estate, plan, context).steps[3] // { ok: false, refusal: … }
 */
export function project(estate: Estate, commands: readonly Command[], context: CommandContext): Projection {
  const known = projections.get(commands)
  if (known?.on === estate) return known.projection
  const edit = estate.edit()
  const sum = new DifferenceSum()
  const steps = commands.map((command): StepOutcome => {
    const mark = edit.mark()
    try {
      const difference = applyTo(edit, command, context)
      sum.add(difference)
      return { ok: true, difference }
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
      edit.rollBack(mark)
      return { ok: false, refusal: error }
    }
  })
  const projection = { estate: edit.finish(), difference: sum.difference(), steps }
  projections.set(commands, { on: estate, projection })
  return projection
}

/** Applies one command to an estate that is being changed. @throws CommandError; what it had done by then is still there */
function applyTo(edit: EstateEdit, command: Command, context: CommandContext): Difference {
  const shape = commandShape(command.type)
  if (!shape) throw new CommandError('unknown-command', `There is no command “${command.type}”.`, 'type')
  const draft = new Draft(edit, context)
  if ('verb' in shape) {
    const { type: _, ...given } = command
    const { id, ...values } = given as { id?: string } & Record<string, unknown>
    if (id && !isId(id)) throw new CommandError('invalid', 'Id is a UUID in lower case.', 'id')
    const fields = verbs[shape.verb].fields
    const input = readFields(fields, 'id' in fields ? { ...values, id } : values)
    ;(handlers[shape.verb] as Handler<Verb>)(draft, { type: shape.verb, ...input } as VerbCommand)
    return draft.finish((field) => field)
  }
  switch (shape.action) {
    case 'add': {
      const { record } = command as { record: NewRecord<Kind> }
      if (record.id !== undefined && !isId(record.id)) throw new CommandError('invalid', 'Id is a UUID in lower case.', 'record.id')
      draft.add(shape.kind, record)
      return draft.finish()
    }
    case 'update': {
      const { id, changes } = command as { id: string; changes: Record<string, unknown> }
      if ('id' in changes) throw new CommandError('invalid', 'An id does not change.', 'changes.id')
      draft.update(shape.kind, id, changes)
      return draft.finish((field) => `changes.${field}`)
    }
    case 'remove':
      remove(draft, shape.kind, command as RemoveCommand)
      return draft.finish()
  }
}

function remove(draft: Draft, kind: Kind, command: RemoveCommand): void {
  const record = draft.require(kind, command.id, 'id')
  const referrers = referrersOf(draft.estate, kind, command.id)
  if (referrers.length > 0 && !command.withReferring) throw referredTo(draft.estate, kind, record, referrers)
  removeWithReferring(draft, kind, command.id)
}

/** Removes a record, what is a part of it, and clears optional references to it; a required reference stops it. */
function removeWithReferring(draft: Draft, kind: Kind, id: string): void {
  const record = draft.estate.find(kind, id)
  if (!record) return
  for (const referrer of referrersOf(draft.estate, kind, id)) {
    const definition = kinds[referrer.kind]
    const field = (definition.fields as Record<string, { optional?: boolean }>)[referrer.field]
    if (definition.partOf?.includes(referrer.field)) removeWithReferring(draft, referrer.kind, referrer.record.id)
    else if (field?.optional) draft.update(referrer.kind, referrer.record.id, { [referrer.field]: null })
    else throw referredTo(draft.estate, kind, record, [referrer])
  }
  draft.remove(kind, id)
}
