import { CommandError } from './command-error.js'
import { recordPhrase } from './describe.js'
import type { Estate } from './estate.js'
import { kindNames, referencesOf, type AnyRecord, type Kind } from './kinds/index.js'

/** A record that refers to another, and the field by which it does. */
export interface Referrer {
  readonly kind: Kind
  readonly record: AnyRecord
  readonly field: string
}

/** Every record that refers to one. */
export function referrersOf(estate: Estate, kind: Kind, id: string): readonly Referrer[] {
  return kindNames.flatMap((other) =>
    referencesOf(other)
      .filter((reference) => reference.to === kind)
      .flatMap(({ field }) => estate.referring(other, field as never, id).map((record) => ({ kind: other, record, field }))),
  )
}

/** The refusal to remove a record that others refer to, with the list of them. */
export function referredTo(estate: Estate, kind: Kind, record: AnyRecord, referrers: readonly Referrer[], path: string): CommandError {
  const named = referrers.slice(0, 5).map((r) => recordPhrase(estate, r.kind, r.record))
  const more = referrers.length > named.length ? ` and ${referrers.length - named.length} more` : ''
  return new CommandError(
    'referred-to',
    `${recordPhrase(estate, kind, record)} is still referred to by ${named.join(', ')}${more}. Remove them first, or together with it.`,
    referrers.map((r) => ({ path, code: 'referred-to', message: recordPhrase(estate, r.kind, r.record) })),
  )
}
