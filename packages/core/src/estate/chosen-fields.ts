import { kinds, type Kind, type RecordOf } from './kinds/index.js'
import type { Field } from './field.js'

type FieldName<K extends Kind> = Exclude<keyof RecordOf<K> & string, 'id'>

/**
 * What shows each field of a kind in a list, a table, a file; `null` for one that is left out on purpose. A field that is new to the
 * kind does not compile there until somebody has decided.
 *
 * @example const columns = { subnetId: 'subnet', first: 'from', last: 'to', note: null } satisfies FieldsOf<'pool', string>
 */
export type FieldsOf<K extends Kind, T> = Readonly<Record<FieldName<K>, T | null>>

/**
 * A record of a kind of whose fields something reads some and, on purpose, not the others: together they are all of them. With a field
 * that is new to the kind it is another type, and no record is of it until somebody has decided.
 *
 * @example type OnLabel = Decided<'pool', 'first' | 'last', 'subnetId' | 'note'>
 */
export type Decided<K extends Kind, Read extends FieldName<K>, Left extends Exclude<FieldName<K>, Read>> = [
  Exclude<FieldName<K>, Read | Left>,
] extends [never]
  ? RecordOf<K>
  : { readonly undecided: Exclude<FieldName<K>, Read | Left> }

/** The labels of the fields that nothing shows. @example leftOut('pool', { ...columns }) // ['Note'] */
export const leftOut = <K extends Kind>(kind: K, of: FieldsOf<K, unknown>): readonly string[] =>
  Object.entries<unknown>(of).flatMap(([name, one]) =>
    one === null ? ((kinds[kind].fields as Readonly<Record<string, Field>>)[name]?.label ?? name) : [],
  )

/**
 * Some fields of a kind, and those that are left out on purpose: together they are all of them. A field that is new to the kind does
 * not compile here until somebody has decided.
 *
 * @param kind the kind
 * @returns a function of the fields that are chosen, in their order, and of those that are left out; it gives those that are chosen
 * @example chosenFields('pool')(['first', 'last'], ['subnetId', 'note'])
 */
export const chosenFields =
  <K extends Kind>(_kind: K) =>
  <const Chosen extends readonly FieldName<K>[], const Left extends readonly FieldName<K>[]>(
    chosen: Chosen,
    _left: Left &
      ([Exclude<FieldName<K>, Chosen[number] | Left[number]>] extends [never]
        ? unknown
        : { readonly undecided: Exclude<FieldName<K>, Chosen[number] | Left[number]> }),
  ): Chosen =>
    chosen
