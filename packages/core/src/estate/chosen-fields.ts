import type { Kind, RecordOf } from './kinds/index.js'

type FieldName<K extends Kind> = Exclude<keyof RecordOf<K> & string, 'id'>

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
