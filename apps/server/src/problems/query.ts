import { schemaOfField } from '@insel/contract'
import { readField, type Field, type FieldReading, type Fields, type ValuesOf } from '@insel/core'
import { applyDecorators } from '@nestjs/common'
import { ApiQuery } from '@nestjs/swagger'
import { malformed } from './problem.js'

/** A query as it comes in: texts, or several of one name, which nothing here takes. */
export type RawQuery = Readonly<Record<string, unknown>>

/** Describes what may follow the `?` of a route. */
export const QueryOf = (fields: Fields) =>
  applyDecorators(
    ...Object.entries<Field>(fields).map(([name, field]) =>
      ApiQuery({
        name,
        required: !field.optional && !('default' in field),
        description: field.doc,
        schema: schemaOfField(field) as Record<string, unknown>,
      }),
    ),
  )

/**
 * What is behind the `?`, read by its fields: a number from its digits, `true` and `false`, and what is left out as its default or
 * null. Names that no field has are let be.
 *
 * @throws ProblemError 400 with the problem of every field
 * @example readQuery({ limit: integer({ unit: '', min: 1, max: 500, default: 50, label: 'limit', doc: '' }) }, {}) // { limit: 50 }
 */
export function readQuery<F extends Fields>(fields: F, query: RawQuery): ValuesOf<F> {
  const readings = Object.entries<Field>(fields).map(([name, field]) => [name, readOne(name, field, query[name])] as const)
  const problems = readings.flatMap(([path, reading]) =>
    reading.ok ? [] : [{ path, code: 'invalid' as const, message: reading.sentence }],
  )
  if (problems.length > 0) throw malformed(problems.map(({ message }) => message).join(' '), problems)
  return Object.fromEntries(readings.map(([name, reading]) => [name, reading.ok ? reading.value : null])) as ValuesOf<F>
}

/** A text of a query as the value that its field takes. */
function readOne(name: string, field: Field, value: unknown): FieldReading {
  if (typeof value !== 'string') return readField(field, value)
  if (field.type === 'bool')
    return value === 'true' || value === 'false'
      ? { ok: true, value: value === 'true' }
      : { ok: false, sentence: `${name} is true or false.` }
  // What is no number stays a text, for the field to refuse.
  return readField(field, field.type === 'integer' && /^\d{1,15}$/.test(value) ? Number(value) : value)
}

/** A whole number from an address. @throws ProblemError 400 */
export const wholeNumber = (text: string, name: string, { min = 0, max = 2 ** 31 - 1 } = {}): number =>
  readQuery({ [name]: { type: 'integer', unit: '', min, max, label: name, doc: '' } }, { [name]: text })[name] as number
