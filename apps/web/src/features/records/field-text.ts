import { formatExactBytes, MiB, parseSize, readAmount, readField, type Field, type SizeContext } from '@insel/core'

/** What a size in this field is typed as: a store's capacity as on its label, memory and disks in binary units. */
function contextOf(field: Field): SizeContext | undefined {
  if (field.type !== 'integer') return undefined
  if (field.unit === 'MiB') return 'memory'
  if (field.unit === 'bytes') return field.isLabel ? 'label' : 'disk'
  return undefined
}

/** A field's value as an input shows it. */
export function inputText(field: Field, value: unknown): string {
  if (value === null || value === undefined) return ''
  if (Array.isArray(value)) return value.join(' ')
  const context = contextOf(field)
  if (!context) return String(value)
  return formatExactBytes(context === 'memory' ? Number(value) * MiB : Number(value), context === 'label' ? 'label' : 'binary')
}

/** What was typed, as the field's value; or the sentence that says what is wrong with it. */
export function inputValue(field: Field, text: string): { value: unknown } | { sentence: string } {
  const typed = rawValue(field, text)
  if ('sentence' in typed) return typed
  const reading = readField(field, typed.value)
  return reading.ok ? { value: reading.value } : { sentence: reading.sentence }
}

function rawValue(field: Field, text: string): { value: unknown } | { sentence: string } {
  const trimmed = text.trim()
  switch (field.type) {
    case 'integer':
    case 'real': {
      if (trimmed === '') return { value: null }
      const context = contextOf(field)
      if (!context) {
        const reading = readAmount(trimmed, field.unit)
        return reading.ok ? { value: reading.value } : { sentence: `${field.label}: ${reading.sentence}` }
      }
      const reading = parseSize(trimmed, context)
      if (!reading.ok) return { sentence: `${field.label}: ${reading.sentence}` }
      return { value: context === 'memory' ? Math.round(reading.bytes / MiB) : reading.bytes }
    }
    case 'bool':
      return { value: text === 'true' }
    case 'tags':
      return { value: trimmed.split(/[\s,#]+/).filter(Boolean) }
    default:
      return { value: field.type === 'text' && field.shape === 'note' ? text : trimmed || null }
  }
}
