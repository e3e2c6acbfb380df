import { counted, formatBytes, formatLabelBytes, formatMiB, formatNumber } from '../units/index.js'
import { formatInstant, timeZoneOf } from './day.js'
import { recordPhrase } from './describe.js'
import type { Estate } from './estate.js'
import type { ChoiceField, Field } from './field.js'
import { isKind } from './kinds/index.js'

/**
 * A field's value as people read it: with its unit, references by name, times in the estate's zone.
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
    case 'refs': {
      const { to } = field
      const names = (value as readonly string[]).map((id) => {
        const record = isKind(to) ? estate.find(to, id) : undefined
        return record && isKind(to) ? recordPhrase(estate, to, record) : 'a removed record'
      })
      return names.join(', ') || 'none'
    }
    case 'refMap':
    case 'textMap':
      return `${Object.keys(value).length} mapped`
    case 'difference':
      return 'recorded'
    case 'commands':
      return counted((value as readonly unknown[]).length, 'command')
    case 'choice':
      return optionLabel(field, String(value))
    case 'text':
      return field.shape === 'instant' ? formatInstant(String(value), timeZoneOf(estate)) : String(value)
    default:
      return String(value)
  }
}

/**
 * What a person reads for an option of a choice.
 *
 * @example optionLabel(kinds.attachment.fields.kind, 'translated') // 'NAT'
 */
export const optionLabel = (field: Pick<ChoiceField, 'labels'>, option: string): string => field.labels?.[option] ?? option

function formatAmount(value: number, unit: string): string {
  if (unit === 'MiB') return formatMiB(value, 2)
  if (unit === 'bytes') return formatBytes(value, 2)
  // Units that are counted stand in the plural: 1 socket, 2 sockets.
  const said = value === 1 && /^[a-z]{4,}s$/.test(unit) ? unit.slice(0, -1) : unit
  return said ? `${formatNumber(value, 2)} ${said}` : formatNumber(value, 2)
}
