import { optional, text, type AnyRecord, type Estate, type Fields, type InputOf, type Kind, type ValuesOf } from '../estate/index.js'
import type { EstateEdit } from './estate-edit.js'

/**
 * The verbs there are: commands that do more than add, update or remove one record. Empty here; each topic adds its own beside
 * their definitions, as in `guests/verbs.ts`, so that this floor knows none of them.
 */
// oxlint-disable-next-line typescript/no-empty-object-type
export interface Verbs {}

export type Verb = keyof Verbs
type FieldsOfVerb<V extends Verb> = Verbs[V] extends { readonly fields: infer F extends Fields } ? F : never
/** What a verb asks for, as one writes it. */
export type VerbInput<V extends Verb> = InputOf<FieldsOfVerb<V>>

/** One verb: what it asks for, what it does, and how it is said. */
export interface VerbDefinition<F extends Fields = Fields> {
  readonly doc: string
  readonly fields: F
  /** Does it. @throws CommandError */
  does(edit: EstateEdit, input: ValuesOf<F>): void
  /** The command as the logbook says it. @param names how the records are called that it names */
  words(input: InputOf<F>, names: Names): string
  /** The same command with everything in it that was chosen when it was done. @param made the estate after it */
  fixed?(input: InputOf<F>, made: Estate): InputOf<F>
}

/** Any verb, whatever it asks for: its input has been read by its fields. */
export interface AnyVerb extends Pick<VerbDefinition, 'doc' | 'fields'> {
  does(edit: EstateEdit, input: never): void
  words(input: never, names: Names): string
  fixed?(input: never, made: Estate): object
}

/** How records are called, also those that have been removed since. */
export interface Names {
  readonly estate: Estate
  nameOf(kind: Kind, id: string | null | undefined): string
}

export const defineVerb = <const F extends Fields>(definition: VerbDefinition<F>): VerbDefinition<F> => definition

/** The id of what a verb makes, which whoever asks may choose; what it makes besides has ids that follow from it. */
export const newIdField = (what: string) =>
  optional(text({ label: 'Id', doc: `Id for the new ${what}; made when left out.`, shape: 'id', max: 36 }))

const registered = new Map<string, AnyVerb>()

/** Makes verbs known: see `verbs.ts` above the topics. */
export function registerVerbs(verbs: Readonly<Record<string, AnyVerb>>): void {
  for (const [name, verb] of Object.entries(verbs)) registered.set(name, verb)
}

/** What follows when a record of a kind is changed by itself, before the change: whoever agreed to it agreed to what it was. */
export type Follow = (edit: EstateEdit, record: AnyRecord, changes: Readonly<Record<string, unknown>>) => void
const following = new Map<Kind, Follow>()
const arriving = new Map<Kind, Follow>()

/** Makes known what follows a change of a record of a kind, as for verbs: this floor knows none of them. */
export function registerFollow(kind: Kind, follow: Follow): void {
  following.set(kind, follow)
}
export const followOf = (kind: Kind): Follow | undefined => following.get(kind)

/** The same for a record that is added by itself, of which all that is said of it counts as changed. */
export function registerArrival(kind: Kind, follow: Follow): void {
  arriving.set(kind, follow)
}
export const arrivalOf = (kind: Kind): Follow | undefined => arriving.get(kind)

/** The definition of a verb. @returns undefined when there is none of that name */
export const verbOf = (name: string): AnyVerb | undefined => registered.get(name)
export const isVerb = (type: string): type is Verb => registered.has(type)
/** The names of all verbs. */
export const verbNames = (): readonly string[] => [...registered.keys()]
