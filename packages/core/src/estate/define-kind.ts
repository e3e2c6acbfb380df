import { readField, type Fields, type InputOf, type ValuesOf } from './field.js'
import { CommandError, type FieldProblem } from './command-error.js'

/** A set of fields whose values together identify or find a record. A unique one is also a constraint in the database. */
export interface Key {
  readonly fields: readonly string[]
  readonly unique: boolean
}

/** The definition of one kind of record. */
export interface KindDefinition<F extends Fields = Fields> {
  readonly name: string
  readonly label: string
  readonly plural: string
  readonly doc: string
  readonly fields: F
  readonly keys: readonly Key[]
  /** Fields naming a record that this one is a part of: it goes when that one is removed together with what refers to it. */
  readonly partOf?: readonly string[]
}

export function defineKind<const F extends Fields>(definition: KindDefinition<F>): KindDefinition<F> {
  return definition
}

export type RecordOfFields<F extends Fields> = { readonly id: string } & ValuesOf<F>
export type InputOfFields<F extends Fields> = { readonly id?: string } & InputOf<F>

/**
 * Reads the values of a set of fields and brings each to its stored form.
 *
 * @param fields the definitions
 * @param values what came in
 * @param path where the values stand, for the problems' paths
 * @throws CommandError `invalid` with every field's problem
 */
export function readFields<F extends Fields>(fields: F, values: Readonly<Record<string, unknown>>, path = ''): ValuesOf<F> {
  const problems = fieldProblems(fields, values, path)
  if (problems.length > 0) throw CommandError.invalid(problems)
  return Object.fromEntries(
    Object.entries(fields).map(([name, field]) => {
      const reading = readField(field, values[name])
      return [name, reading.ok ? reading.value : null]
    }),
  ) as ValuesOf<F>
}

/** Every problem in a set of values: wrong ones and unknown ones. */
export function fieldProblems(fields: Fields, values: Readonly<Record<string, unknown>>, path = ''): FieldProblem[] {
  const at = (name: string) => (path ? `${path}.${name}` : name)
  const wrong = Object.entries(fields).flatMap(([name, field]): FieldProblem[] => {
    const reading = readField(field, values[name])
    return reading.ok ? [] : [{ path: at(name), code: 'invalid', message: reading.sentence }]
  })
  const unknown = Object.keys(values)
    .filter((name) => name !== 'id' && !(name in fields))
    .map((name): FieldProblem => ({ path: at(name), code: 'unknown-field', message: `There is no field “${name}” here.` }))
  return [...wrong, ...unknown]
}
