import {
  dayIn,
  formatExactBytes,
  MiB,
  parseSize,
  readAmount,
  readDay,
  readField,
  type Field,
  type SizeContext,
  type TextField,
} from '@insel/core'
import { now } from '../../lib/time'
import { instantAt, wallTime } from '../../lib/wall-time'

/** What a size in this field is typed as: a store's capacity as on its label, memory and disks in binary units. */
function contextOf(field: Field): SizeContext | undefined {
  if (field.type !== 'integer') return undefined
  if (field.unit === 'MiB') return 'memory'
  if (field.unit === 'bytes') return field.isLabel ? 'label' : 'disk'
  return undefined
}

/**
 * A field's value as an input shows it, so that reading it gives the value.
 *
 * @param zone the time zone in which days and times are shown
 */
export function inputText(field: Field, value: unknown, zone = 'UTC'): string {
  if (value === null || value === undefined) return ''
  if (Array.isArray(value)) return value.join(' ')
  const context = contextOf(field)
  if (field.type === 'text' && field.shape === 'instant') {
    const wall = wallTime(String(value), zone)
    // A time with seconds, or one of the two hours that clocks show twice, stands as it is stored.
    return instantAt(wall, zone) === value ? wall.replace('T', ' ') : String(value)
  }
  if (!context) return String(value)
  return formatExactBytes(context === 'memory' ? Number(value) * MiB : Number(value), context === 'label' ? 'label' : 'binary')
}

/**
 * What was typed, as the field's value; or the sentence that says what is wrong with it.
 *
 * @param zone the time zone in which days and times are meant
 */
export function inputValue(field: Field, text: string, zone = 'UTC'): { value: unknown } | { sentence: string } {
  const typed = rawValue(field, text, zone)
  if ('sentence' in typed) return typed
  const reading = readField(field, typed.value)
  return reading.ok ? { value: reading.value } : { sentence: reading.sentence }
}

function rawValue(field: Field, text: string, zone: string): { value: unknown } | { sentence: string } {
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
    case 'text':
      if (trimmed !== '' && (field.shape === 'date' || field.shape === 'instant')) return timeValue(field, trimmed, zone)
      return { value: field.shape === 'note' ? text : trimmed || null }
    default:
      return { value: trimmed || null }
  }
}

/** A time with its zone, as it is stored. */
const WHOLE = /^\d{4}-\d\d-\d\dT[\d:.]+(?:Z|[+-]\d\d:\d\d)$/i

/** A day or a time as people type it: a time is one of the zone, and without one the day begins. */
function timeValue(field: TextField, text: string, zone: string): { value: unknown } | { sentence: string } {
  if (field.shape === 'instant' && WHOLE.test(text)) return { value: text }
  const today = dayIn(zone, now())
  if (field.shape === 'instant' && /^now$/i.test(text)) return { value: now() }
  const cut = field.shape === 'instant' ? text.search(/[ t](?=\d{1,2}:\d\d(?::\d\d)?$)/i) : -1
  const clock = cut < 0 ? '' : (/^\d{1,2}:\d\d/.exec(text.slice(cut + 1))?.[0] ?? '')
  const reading = readDay(cut < 0 ? text : text.slice(0, cut), today)
  if (!reading.ok) return { sentence: `${field.label}: ${reading.sentence}.` }
  if (field.shape === 'date') return { value: reading.day }
  const at = instantAt(`${reading.day}T${clock === '' ? '00:00' : clock.padStart(5, '0')}`, zone)
  return at === undefined ? { sentence: `${field.label}: “${clock}” is not a time of day.` } : { value: at }
}
