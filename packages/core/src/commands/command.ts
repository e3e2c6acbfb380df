import { withArticle } from '../units/index.js'
import { isKind, kindNames, kinds, type Kind, type KindDefinition, type NewRecord, type RecordOf } from '../estate/index.js'
import { isVerb, verbNames, verbOf, type Verb, type VerbInput } from './verb.js'

export type AddCommand<K extends Kind = Kind> = { [N in K]: { readonly type: `${N}.add`; readonly record: NewRecord<N> } }[K]
export type UpdateCommand<K extends Kind = Kind> = {
  [N in K]: { readonly type: `${N}.update`; readonly id: string; readonly changes: Partial<Omit<RecordOf<N>, 'id'>> }
}[K]
export type RemoveCommand<K extends Kind = Kind> = {
  [N in K]: { readonly type: `${N}.remove`; readonly id: string; readonly withReferring?: boolean }
}[K]
export type VerbCommand<V extends Verb = Verb> = { [N in V]: { readonly type: N } & VerbInput<N> }[V]

/** A typed intent to change the record. */
export type Command = AddCommand | UpdateCommand | RemoveCommand | VerbCommand

/** A command's type taken apart: one of a kind's three, or a verb. */
export type CommandShape = { readonly kind: Kind; readonly action: 'add' | 'update' | 'remove' } | { readonly verb: Verb }

/**
 * Takes a command's type apart.
 *
 * @returns undefined when there is no such command
 * @example commandShape('guest.add') // { kind: 'guest', action: 'add' }
 */
export function commandShape(type: string): CommandShape | undefined {
  if (isVerb(type)) return { verb: type }
  const [kind = '', action = '', ...rest] = type.split('.')
  if (rest.length > 0 || !isKind(kind)) return undefined
  if (action === 'update') return { kind, action }
  if ((kinds[kind] as KindDefinition).byVerbs?.actions?.includes(action as 'add')) return undefined
  // An estate is made and removed as a whole, not by a command inside it.
  if (kind === 'estate') return undefined
  return action === 'add' || action === 'remove' ? { kind, action } : undefined
}

/** The types of all commands there are. */
export const allCommandTypes = (): readonly string[] => [
  ...kindNames.flatMap((kind) => ['add', 'update', 'remove'].map((action) => `${kind}.${action}`)).filter((type) => commandShape(type)),
  ...verbNames(),
]

/** One line on what a type of command does. */
export function commandDoc(type: string): string {
  const shape = commandShape(type)
  if (!shape) return ''
  if ('verb' in shape) return verbOf(shape.verb)?.doc ?? ''
  return {
    add: `Adds ${withArticle(kinds[shape.kind].label)}.`,
    update: `Changes fields of ${withArticle(kinds[shape.kind].label)}.`,
    remove: `Removes ${withArticle(kinds[shape.kind].label)}.`,
  }[shape.action]
}
