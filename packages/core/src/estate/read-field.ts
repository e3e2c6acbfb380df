import { formatBytes, formatMiB, withArticle } from '../units/index.js'
import type { Field, NumberField } from './field.js'
import { NAME, shapes, unreadable, UUID } from './text-shapes.js'

/** A value in the form it is stored, or the sentence that says what is wrong with it. */
export type FieldReading = { ok: true; value: unknown } | { ok: false; sentence: string }

/**
 * Reads one field's value: checks it and brings it to the form in which it is stored. The only place where a field's
 * validity is decided; contract, server and forms all call it.
 *
 * @param field the definition
 * @param value what came in; `undefined` takes the default
 * @returns the stored form, or a sentence that begins with the field's label
 * @example readField(integer({ label: 'Memory', doc: '', unit: 'MiB', min: 1 }), 0) // { ok: false, sentence: 'Memory is at least 1 MiB; 0 MiB is too little.' }
 */
export function readField(field: Field, value: unknown): FieldReading {
  if (value === undefined && 'default' in field && field.default !== undefined) return { ok: true, value: field.default }
  if (value === undefined || value === null || (value === '' && !(field.type === 'text' && field.shape === 'note'))) {
    if (field.optional) return { ok: true, value: null }
    return { ok: false, sentence: `${field.label} is missing.` }
  }
  const wrong = (predicate: string): FieldReading => ({
    ok: false,
    sentence: `${predicate.startsWith('“') ? '' : `${field.label} `}${predicate}.`,
  })
  switch (field.type) {
    case 'text': {
      if (typeof value !== 'string') return wrong(`must be text, not ${describe(value)}`)
      const trimmed = value.trim()
      if (trimmed === '' && field.shape !== 'note')
        return field.optional ? { ok: true, value: null } : { ok: false, sentence: `${field.label} is missing.` }
      if (trimmed.length > field.max) return wrong(`can have at most ${field.max} characters; it has ${trimmed.length}`)
      const fault = unreadable(trimmed)
      if (fault !== undefined) return wrong(fault)
      const shaped = shapes[field.shape](trimmed)
      return 'value' in shaped ? { ok: true, value: shaped.value } : wrong(shaped.sentence)
    }
    case 'integer':
    case 'real': {
      if (typeof value !== 'number' || !Number.isFinite(value)) return wrong(`must be a number, not ${describe(value)}`)
      if (field.type === 'integer' && !Number.isInteger(value)) return wrong(`must be a whole number, not ${value}`)
      if (value < field.min) return wrong(`must be at least ${amount(field.min, field)}`)
      if (value > field.max) return wrong(`must be at most ${amount(field.max, field)}`)
      return { ok: true, value }
    }
    case 'bool':
      return typeof value === 'boolean' ? { ok: true, value } : wrong(`must be yes or no, not ${describe(value)}`)
    case 'choice':
      return field.options.includes(value as string)
        ? { ok: true, value }
        : wrong(`must be one of ${field.options.join(', ')}, not ${describe(value)}`)
    case 'ref':
      return isId(value) ? { ok: true, value } : wrong(`must be the id of ${withArticle(field.to)}; ${describe(value)} is not an id`)
    case 'refs': {
      if (!Array.isArray(value)) return wrong(`must be a list of ids, not ${describe(value)}`)
      const bad: unknown = value.find((id) => !isId(id))
      if (bad !== undefined) return wrong(`must be a list of ids of ${withArticle(field.to)}; ${describe(bad)} is not an id`)
      return value.length > REFS_MAX
        ? wrong(`can have at most ${REFS_MAX}; it has ${value.length}`)
        : { ok: true, value: [...new Set(value as string[])] }
    }
    case 'refMap': {
      const bad = entriesOf(value).find(([from, to]) => !isId(from) || !isId(to))
      return bad
        ? wrong(`must map ids of ${withArticle(field.from)} to ids of ${withArticle(field.to)}; ${describe(bad[1])} does not fit`)
        : { ok: true, value }
    }
    case 'textMap': {
      const read: Record<string, string> = {}
      for (const [from, of] of entriesOf(value)) {
        if (!isId(from)) return wrong(`must have ids of ${withArticle(field.from)}; ${describe(from)} is not an id`)
        const reading = readField({ type: 'text', shape: field.shape, max: field.max, label: field.label, doc: field.doc }, of)
        if (!reading.ok) return reading
        read[from] = reading.value as string
      }
      return { ok: true, value: read }
    }
    case 'commands': {
      if (!Array.isArray(value)) return wrong(`must be a list of commands, not ${describe(value)}`)
      if (value.length > field.max) return wrong(`can hold at most ${field.max} commands; it has ${value.length}`)
      const read: unknown[] = []
      for (const [index, command] of value.entries()) {
        const reading = readStoredCommand(command)
        if (!reading.ok) return wrong(`cannot hold command ${index + 1}: ${reading.sentence.replace(/\.$/, '')}`)
        read.push(reading.value)
      }
      return { ok: true, value: read }
    }
    case 'difference':
      return isDifference(value) ? { ok: true, value } : wrong(`must be a difference, not ${describe(value)}`)
    case 'tags': {
      if (!Array.isArray(value) || value.some((tag) => typeof tag !== 'string'))
        return wrong(`must be a list of words, not ${describe(value)}`)
      const words = [...new Set((value as string[]).map((tag) => tag.trim().toLowerCase()).filter(Boolean))].sort()
      const bad = words.find((tag) => tag.length > 40 || !NAME.test(tag))
      if (bad !== undefined) return wrong(`must be short words of letters, digits and hyphens; “${bad}” is not`)
      return words.length > 30 ? wrong(`can have at most 30; it has ${words.length}`) : { ok: true, value: words }
    }
  }
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value)
const isRecord = (id: string, value: unknown) => isObject(value) && value['id'] === id

/** Whether a value is a difference: what was added, updated and removed, by id, each of a kind. */
const isDifference = (value: unknown): boolean =>
  isObject(value) &&
  Object.keys(value).length === 3 &&
  ['added', 'updated', 'removed'].every((how) => {
    const entries = value[how]
    return (
      isObject(entries) &&
      Object.entries(entries).every(
        ([id, entry]) =>
          isId(id) &&
          isObject(entry) &&
          typeof entry['kind'] === 'string' &&
          (how === 'updated' ? isRecord(id, entry['from']) && isRecord(id, entry['to']) : isRecord(id, entry['record'])),
      )
    )
  })

/** The most records that a list of references names. */
const REFS_MAX = 1000

/** The entries of a map; of what is none, one that fits nowhere. */
const entriesOf = (value: unknown): readonly (readonly [string, unknown])[] =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.entries(value) : [['', value]]

let readStoredCommand: (command: unknown) => FieldReading = () => ({ ok: false, sentence: 'Nothing here reads commands.' })

/**
 * Says how commands that records keep are read. Kinds are defined below the commands, and know of them only this.
 *
 * @see commands/stored.ts
 */
export function readCommandsWith(reader: (command: unknown) => FieldReading): void {
  readStoredCommand = reader
}

/** Whether a value is a record id: a UUID in lower case. */
export const isId = (value: unknown): value is string => typeof value === 'string' && UUID.test(value)

/** A limit with its unit, where the label does not say it: “Sockets must be at least 1”. */
function amount(value: number, { unit, label }: NumberField): string {
  if (unit === 'MiB') return value < 1024 ? `${value} MiB` : formatMiB(value)
  if (unit === 'bytes') return formatBytes(value)
  return unit && !label.toLowerCase().split(/\W+/).includes(unit) ? `${value} ${unit}` : String(value)
}

function describe(value: unknown): string {
  if (typeof value === 'string') return `“${value.length > 40 ? `${value.slice(0, 40)}…` : value}”`
  if (Array.isArray(value)) return 'a list'
  return typeof value === 'object' ? 'an object' : String(value)
}
