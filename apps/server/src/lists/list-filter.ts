import { type Estate, type Kind, kinds, type RecordOf } from '@insel/core'
import { malformed } from '../problems/problem.js'

/** The value of a field, whatever the kind. */
export const valueOf = (record: object, field: string): unknown => (record as Readonly<Record<string, unknown>>)[field]

/** Whether a kind has a field by which a list may be filtered. */
export const hasField = (kind: Kind, field: string): boolean => field === 'id' || Object.hasOwn(kinds[kind].fields, field)

/** @throws ProblemError 400 for a field that the kind has not */
export function checkFilters(kind: Kind, names: readonly string[]): void {
  for (const name of names)
    if (!hasField(kind, name))
      throw malformed(`A ${kinds[kind].label} has no field “${name}”.`, [
        { path: name, code: 'unknown-field', message: `There is no field “${name}” here.` },
      ])
}

/**
 * The records of a kind that a list shows: those whose fields have the wanted values, and whose names or addresses hold a text.
 *
 * @param filters for each field, the value as text
 * @param text what is looked for
 */
export function filtered<K extends Kind>(
  estate: Estate,
  kind: K,
  filters: Readonly<Record<string, string>>,
  text: string | undefined,
): RecordOf<K>[] {
  const needle = text?.toLowerCase()
  return estate
    .all(kind)
    .filter((record) => Object.entries(filters).every(([field, wanted]) => isWanted(valueOf(record, field), wanted)))
    .filter(
      (record) =>
        !needle ||
        ['name', 'ip', 'mac', 'prefix'].some((field) =>
          String(valueOf(record, field) ?? '')
            .toLowerCase()
            .includes(needle),
        ),
    )
}

/** A list of words is wanted when it holds the word; an empty text wants an empty field. */
const isWanted = (value: unknown, wanted: string): boolean =>
  Array.isArray(value) ? value.includes(wanted) : String(value ?? '') === wanted
