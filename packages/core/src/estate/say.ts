import { formatBytes, formatLabelBytes, formatMiB, formatNumber } from '../units/index.js'
import { commandShape, type Command } from './commands/command.js'
import { recordPhrase, recordTitle } from './describe.js'
import { changedFields, type Difference } from './difference.js'
import type { Estate } from './estate.js'
import type { Field } from './field.js'
import { isKind, kinds, type AnyRecord, type Kind } from './kinds/index.js'

/**
 * A field's value as people read it: with its unit, references by name.
 *
 * @example formatField(estate, kinds.guest.fields.memoryMiB, 8192) // '8 GiB'
 */
export function formatField(estate: Estate, field: Field, value: unknown): string {
  if (value === null || value === undefined || value === '') return 'none'
  switch (field.type) {
    case 'integer':
    case 'real':
      return field.isLabel ? formatLabelBytes(Number(value)) : formatAmount(Number(value), field.unit)
    case 'bool':
      return value === true ? 'yes' : 'no'
    case 'tags':
      return (value as readonly string[]).join(', ') || 'none'
    case 'ref': {
      const record = isKind(field.to) ? estate.find(field.to, value as string) : undefined
      return record && isKind(field.to) ? recordPhrase(estate, field.to, record) : 'a removed record'
    }
    case 'refMap':
      return `${Object.keys(value).length} mapped`
    default:
      return String(value)
  }
}

function formatAmount(value: number, unit: string): string {
  if (unit === 'MiB') return formatMiB(value, 2)
  if (unit === 'bytes') return formatBytes(value, 2)
  return unit ? `${formatNumber(value, 2)} ${unit}` : formatNumber(value, 2)
}

/** One record of a difference in words. */
export interface SaidRecord {
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
export function sayDifference(after: Estate, { added, updated, removed }: Difference): readonly SaidRecord[] {
  // Removed records are still named by what they were, so references among them are found in an estate that has them.
  const before = after.with({ added: removed, updated: {}, removed: {} })
  const present =
    (how: 'added' | 'removed', estate: Estate) =>
    (entry: [string, { kind: Kind; record: AnyRecord }]): SaidRecord => ({
      id: entry[0],
      kind: entry[1].kind,
      how,
      title: recordPhrase(estate, entry[1].kind, entry[1].record),
      fields: how === 'added' ? valuesOf(estate, entry[1].kind, entry[1].record) : [],
    })
  return [
    ...Object.entries(added).map(present('added', after)),
    ...Object.entries(updated).map(([id, { kind, from, to }]): SaidRecord => {
      const definitions = kinds[kind].fields as Readonly<Record<string, Field>>
      const value = (record: AnyRecord, field: string) => (record as unknown as Record<string, unknown>)[field]
      return {
        id,
        kind,
        how: 'changed',
        title: recordPhrase(after, kind, to),
        fields: changedFields(from, to).flatMap((name) => {
          const field = definitions[name]
          return field
            ? [{ label: field.label, from: formatField(before, field, value(from, name)), to: formatField(after, field, value(to, name)) }]
            : []
        }),
      }
    }),
    ...Object.entries(removed).map(present('removed', before)),
  ]
}

/** What a record holds: each field that is neither its name nor empty nor as it is by default. */
function valuesOf(estate: Estate, kind: Kind, record: AnyRecord): SaidRecord['fields'] {
  const values = record as unknown as Readonly<Record<string, unknown>>
  return Object.entries<Field>(kinds[kind].fields).flatMap(([name, field]) => {
    const value = values[name]
    const isDefault = 'default' in field && JSON.stringify(field.default) === JSON.stringify(value)
    const isEmpty = value === null || value === undefined || value === '' || isDefault
    if (name === 'name' || isEmpty) return []
    const referred = field.type === 'ref' && isKind(field.to) ? estate.find(field.to, value as string) : undefined
    const to =
      referred && field.type === 'ref' && isKind(field.to) ? recordTitle(estate, field.to, referred) : formatField(estate, field, value)
    return [{ label: field.label, from: null, to }]
  })
}

/**
 * A command in words.
 *
 * @param estate where the records it names are found; after the command for what it adds
 * @example sayCommand(estate, { type: 'guest.power', guestId, state: 'stopped' }) // 'Power off vault'
 */
export function sayCommand(estate: Estate, command: Command | { readonly type: 'change.revert'; readonly revision: number }): string {
  const name = (kind: Kind, id: string | null | undefined) => {
    const record = estate.find(kind, id)
    if (!record) return `a ${kinds[kind].label} removed since`
    return 'name' in record && record.name !== null ? record.name : recordPhrase(estate, kind, record)
  }
  const prefixOfSubnet = (id: string) => estate.find('subnet', id)?.prefix ?? 'a subnet removed since'
  switch (command.type) {
    case 'change.revert':
      return `Revert change ${command.revision}`
    case 'guest.power':
      return `${command.state === 'running' ? 'Power on' : 'Power off'} ${name('guest', command.guestId)}`
    case 'guest.resize': {
      const parts = [
        ...(command.vcpu ? [`${command.vcpu} vCPU`] : []),
        ...(command.memoryMiB ? [formatMiB(command.memoryMiB)] : []),
        ...(command.sizeBytes ? [`${name('disk', command.diskId)} ${formatBytes(command.sizeBytes)}`] : []),
      ]
      return `Resize ${name('guest', command.guestId)} to ${parts.join(', ')}`
    }
    case 'guest.clone':
      return `Clone ${name('guest', command.guestId)} as ${command.name}`
    case 'guest.migrate':
      return `Migrate ${name('guest', command.guestId)} to ${name('host', command.toHostId)}`
    case 'address.assign':
      return `Assign ${command.ip ?? 'the next free address'} to ${command.hostId ? name('host', command.hostId) : name('adapter', command.adapterId)}`
    case 'address.release':
      return `Release ${name('address', command.addressId)}`
    case 'address.reserve':
      return `Reserve ${command.first}${command.last === command.first ? '' : ` to ${command.last}`}`
    case 'subnet.move':
      return `Move a subnet to ${command.prefix}`
    case 'subnet.split':
      return `Split ${prefixOfSubnet(command.subnetId)}`
    case 'subnet.merge':
      return `Merge ${prefixOfSubnet(command.subnetId)} with the other half`
    default: {
      const shape = commandShape(command.type)
      if (!shape || 'verb' in shape) return command.type
      const { kind, action } = shape
      const { id, record } = command as { id?: string; record?: Record<string, unknown> & { id?: string } }
      const added = estate.find(kind, record?.id)
      const title = added
        ? recordPhrase(estate, kind, added)
        : typeof record?.['name'] === 'string'
          ? `${kinds[kind].label} ${record['name']}`
          : kinds[kind].label
      if (action === 'add') return `Add ${title}`
      const known = estate.find(kind, id)
      return `${action === 'update' ? 'Change' : 'Remove'} ${known ? recordPhrase(estate, kind, known) : `a ${kinds[kind].label} removed since`}`
    }
  }
}
