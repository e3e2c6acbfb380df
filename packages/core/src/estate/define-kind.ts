import { readField } from './read-field.js'
import { type Fields, type InputOf, type ValuesOf } from './field.js'
import { CommandError, joinPath, type FieldProblem } from './command-error.js'

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
  /** For a reference, the text field that keeps the name of what it named once that is removed: a history outlives what it tells of. */
  readonly remembers?: Readonly<Record<string, string>>
  /** Fields that refer to the change log: a file has no log, so they are empty in an estate that is read from one. */
  readonly ofLog?: readonly string[]
  /** What only verbs do: adding or removing one, and writing some of its fields. */
  readonly byVerbs?: { readonly actions?: readonly ('add' | 'remove')[]; readonly fields?: readonly string[] }
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
 * @param path the path of the values, for the problems
 * @throws CommandError `invalid` with every field's problem
 */
export function readFields<F extends Fields>(fields: F, values: Readonly<Record<string, unknown>>, path = ''): ValuesOf<F> {
  return readNames(fields, Object.keys(fields), values, path) as ValuesOf<F>
}

/**
 * Reads a record: its values, each in its stored form, and its id. The object is made once, since copying one of thirty fields costs more
 * than reading it.
 *
 * @throws CommandError `invalid` with every field's problem
 */
export function readRecord<F extends Fields>(
  fields: F,
  id: string,
  values: Readonly<Record<string, unknown>>,
  path = '',
): RecordOfFields<F> {
  return readNames(fields, Object.keys(fields), values, path, { id }) as RecordOfFields<F>
}

/**
 * Reads those values of a set of fields that are given.
 *
 * @throws CommandError `invalid` with every problem
 */
export const readSome = <F extends Fields>(fields: F, values: Readonly<Record<string, unknown>>, path = ''): Partial<ValuesOf<F>> =>
  readNames(fields, Object.keys(values), values, path)

function readNames(
  fields: Fields,
  names: readonly string[],
  values: Readonly<Record<string, unknown>>,
  path: string,
  begun: Record<string, unknown> = {},
): object {
  const { read, problems } = readingsOf(fields, names, values, path, begun)
  if (problems.length > 0) throw CommandError.invalid(problems)
  return read
}

/**
 * Every value as it is stored, and every problem: wrong ones and unknown ones.
 *
 * @param read what the values are written into
 */
function readingsOf(
  fields: Fields,
  names: readonly string[],
  values: Readonly<Record<string, unknown>>,
  path: string,
  read: Record<string, unknown> = {},
): { readonly read: Readonly<Record<string, unknown>>; readonly problems: readonly FieldProblem[] } {
  const problems: FieldProblem[] = []
  for (const name of names) {
    const field = Object.hasOwn(fields, name) ? fields[name] : undefined
    if (!field) continue
    const reading = readField(field, values[name])
    if (reading.ok) read[name] = reading.value
    else problems.push({ path: joinPath(path, name), code: 'invalid', message: reading.sentence })
  }
  for (const name of Object.keys(values))
    if (name !== 'id' && !Object.hasOwn(fields, name))
      problems.push({ path: joinPath(path, name), code: 'unknown-field', message: `There is no field “${name}” here.` })
  return { read, problems }
}

/** Every problem in a set of values: wrong ones and unknown ones. */
export const fieldProblems = (fields: Fields, values: Readonly<Record<string, unknown>>, path = ''): readonly FieldProblem[] =>
  readingsOf(fields, Object.keys(fields), values, path).problems
