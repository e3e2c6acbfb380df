import { withArticle } from '../units/index.js'
import {
  changedFields,
  formatField,
  isKind,
  kinds,
  recordPhrase,
  recordTitle,
  type AnyRecord,
  type Difference,
  type Estate,
  type Field,
  type Kind,
} from '../estate/index.js'
import { commandShape, type Command } from './command.js'
import { verbOf, type Names } from './verb.js'

/** One record of a difference in words. */
export interface DescribedRecord {
  readonly id: string
  readonly kind: Kind
  readonly how: 'added' | 'changed' | 'removed'
  readonly title: string
  /** Of a changed record, each field with what it was and what it is; of an added one, what it holds beside its name, from null. */
  readonly fields: readonly { readonly label: string; readonly from: string | null; readonly to: string }[]
}

/**
 * A difference in words, record by record: added, changed, removed.
 *
 * @param after the estate after the difference
 */
export function describeDifference(after: Estate, { added, updated, removed }: Difference): readonly DescribedRecord[] {
  // Removed records are still named by what they were, so references among them are found in an estate that has them.
  const before = after.with({ added: removed, updated: {}, removed: {} })
  const present =
    (how: 'added' | 'removed', estate: Estate) =>
    (entry: [string, { kind: Kind; record: AnyRecord }]): DescribedRecord => ({
      id: entry[0],
      kind: entry[1].kind,
      how,
      title: recordPhrase(estate, entry[1].kind, entry[1].record),
      fields: how === 'added' ? valuesOf(estate, entry[1].kind, entry[1].record) : [],
    })
  return [
    ...Object.entries(added).map(present('added', after)),
    ...Object.entries(updated).map(([id, { kind, from, to }]): DescribedRecord => {
      const definitions = kinds[kind].fields as Readonly<Record<string, Field>>
      const value = (record: AnyRecord, field: string) => (record as unknown as Record<string, unknown>)[field]
      return {
        id,
        kind,
        how: 'changed',
        title: recordPhrase(after, kind, to),
        fields: changedFields(from, to).flatMap((name) => {
          const field = definitions[name]
          return field && !isKeptName(kind, name)
            ? [{ label: field.label, from: formatField(before, field, value(from, name)), to: formatField(after, field, value(to, name)) }]
            : []
        }),
      }
    }),
    ...Object.entries(removed).map(present('removed', before)),
  ]
}

/** Whether a field keeps the name of what another refers to, for when that is removed: the other says it. */
const isKeptName = (kind: Kind, field: string): boolean => Object.values(kinds[kind].remembers ?? {}).includes(field)

/** What a record holds: each field that is neither what it is called by nor empty nor as it is by default. */
function valuesOf(estate: Estate, kind: Kind, record: AnyRecord): DescribedRecord['fields'] {
  const values = record as unknown as Readonly<Record<string, unknown>>
  const title = recordTitle(estate, kind, record)
  return Object.entries<Field>(kinds[kind].fields).flatMap(([name, field]) => {
    const value = values[name]
    const isDefault = 'default' in field && JSON.stringify(field.default) === JSON.stringify(value)
    const isEmpty = value === null || value === undefined || value === '' || isDefault
    if (isEmpty || (name === 'name' && value === title)) return []
    const referred = field.type === 'ref' && isKind(field.to) ? estate.find(field.to, value as string) : undefined
    const to =
      referred && field.type === 'ref' && isKind(field.to) ? recordTitle(estate, field.to, referred) : formatField(estate, field, value)
    return [{ label: field.label, from: null, to }]
  })
}

/** A command as the log holds it: one of today's, or the reverting of a change. */
export type SaidCommand =
  Command | { readonly type: 'change.revert'; readonly revision: number } | { readonly type: 'item.revert'; readonly itemId: string }

/**
 * A command in words.
 *
 * @param estate where the records it names are found; after the command for what it adds
 * @example sayCommand(estate, { type: 'guest.power', guestId, state: 'stopped' }) // 'Power off vault'
 */
export function sayCommand(estate: Estate, command: SaidCommand): string {
  if (command.type === 'change.revert') return `Revert change ${command.revision}`
  if (command.type === 'item.revert') return `Revert “${estate.find('item', command.itemId)?.title ?? 'an item removed since'}”`
  const names: Names = {
    estate,
    nameOf(kind, id) {
      const record = estate.find(kind, id)
      if (!record) return `${withArticle(kinds[kind].label)} removed since`
      return 'name' in record && record.name !== null ? record.name : recordPhrase(estate, kind, record)
    },
  }
  const shape = commandShape(command.type)
  if (!shape) return command.type
  if ('verb' in shape) return verbOf(shape.verb)?.words(command as never, names) ?? command.type
  const { kind, action } = shape
  const { id, record } = command as { id?: string; record?: Record<string, unknown> & { id?: string } }
  if (action === 'add') {
    const added = estate.find(kind, record?.id)
    if (added) return `Add ${recordPhrase(estate, kind, added)}`
    return `Add ${typeof record?.['name'] === 'string' ? `${kinds[kind].label} ${record['name']}` : kinds[kind].label}`
  }
  const known = estate.find(kind, id)
  return `${action === 'update' ? 'Change' : 'Remove'} ${known ? recordPhrase(estate, kind, known) : `${withArticle(kinds[kind].label)} removed since`}`
}

/**
 * A command in words, and of a change which fields it is of, so that it is told from other changes of the same thing.
 *
 * @example sayWhole(estate, { type: 'guest.update', id, changes: { owner: 'News desk' } }) // 'Change guest vault: owner'
 */
export function sayWhole(estate: Estate, command: SaidCommand): string {
  const said = sayCommand(estate, command)
  const shape = commandShape(command.type)
  if (!shape || 'verb' in shape || shape.action !== 'update') return said
  const fields = kinds[shape.kind].fields as Readonly<Record<string, { readonly label: string } | undefined>>
  const labels = Object.keys((command as { readonly changes: object }).changes).flatMap((name) => fields[name]?.label.toLowerCase() ?? [])
  return labels.length === 0 ? said : `${said}: ${labels.join(', ')}`
}
