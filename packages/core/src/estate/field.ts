/**
 * A field of a record or a command, as data. From this one definition come the TypeScript type, the database column,
 * the contract's validator, the JSON Schema, the label of the form and the sentence for a wrong value.
 */
export type Field =
  | TextField
  | NumberField
  | BoolField
  | ChoiceField
  | RefField
  | RefListField
  | RefMapField
  | TextMapField
  | CommandsField
  | DifferenceField
  | TagsField

interface Common {
  readonly label: string
  /** One line: what the value means. */
  readonly doc: string
  /** Absent means required. An optional field holds null when it has no value. */
  readonly optional?: boolean
}

export interface TextField extends Common {
  readonly type: 'text'
  readonly shape: TextShape
  readonly max: number
  readonly default?: string
}

export interface NumberField extends Common {
  readonly type: 'integer' | 'real'
  readonly unit:
    | 'MiB'
    | 'bytes'
    | 'vCPU'
    | 'cores'
    | 'sockets'
    | 'threads'
    | 'slots'
    | 'MHz'
    | 'MT/s'
    | 'Mbit/s'
    | 'W'
    | 'V'
    | 'A'
    | 'minutes'
    | 'seconds'
    | '%'
    | 'days'
    | ''
  readonly min: number
  readonly max: number
  readonly default?: number
  /** For bytes: typed and shown as a drive's label counts, decimal. */
  readonly isLabel?: boolean
}

export interface BoolField extends Common {
  readonly type: 'bool'
  readonly default?: boolean
}

export interface ChoiceField<O extends string = string> extends Common {
  readonly type: 'choice'
  readonly options: readonly O[]
  /** What a person reads for an option that is called otherwise on the wire. */
  readonly labels?: Readonly<Record<string, string>>
  readonly default?: O
}

interface RefField extends Common {
  readonly type: 'ref'
  readonly to: string
}

/** From ids of one kind to ids of another, such as disk to store in a migration. */
interface RefMapField extends Common {
  readonly type: 'refMap'
  readonly from: string
  readonly to: string
}

/** Records of one kind, each once, in the order given. */
interface RefListField extends Common {
  readonly type: 'refs'
  readonly to: string
  readonly default: readonly string[]
}

/** From ids of one kind to texts of one shape, such as adapter to MAC in a clone. */
export interface TextMapField extends Common {
  readonly type: 'textMap'
  readonly from: string
  readonly shape: TextShape
  readonly max: number
}

/** Commands kept for later: what they hold is a matter for the commands, see `readStoredCommand`. */
interface CommandsField extends Common {
  readonly type: 'commands'
  readonly max: number
  readonly default: readonly StoredCommand[]
}

/** What some commands did, or would do, kept to be compared later. */
interface DifferenceField extends Common {
  readonly type: 'difference'
}

/** A command as a record keeps it. */
export interface StoredCommand {
  readonly type: string
  readonly [field: string]: unknown
}

/** A difference as a record keeps it: see `Difference`, which is of kinds that are defined with fields. */
export interface StoredDifference {
  readonly added: Readonly<Record<string, StoredEntry>>
  readonly updated: Readonly<Record<string, { readonly kind: string; readonly from: StoredValues; readonly to: StoredValues }>>
  readonly removed: Readonly<Record<string, StoredEntry>>
}
interface StoredEntry {
  readonly kind: string
  readonly record: StoredValues
}
type StoredValues = { readonly id: string }

interface TagsField extends Common {
  readonly type: 'tags'
  readonly default?: readonly string[]
}

/** What a text must look like, and how it is brought to one form before it is stored. */
export type TextShape =
  | 'line'
  | 'note'
  | 'words'
  | 'name'
  | 'label'
  | 'ip'
  | 'ips'
  | 'vlans'
  | 'prefix'
  | 'subnet'
  | 'mac'
  | 'macPrefix'
  | 'sha256'
  | 'date'
  | 'instant'
  /** A date, which is its first instant in UTC, or an instant. */
  | 'moment'
  | 'timeZone'
  | 'domain'
  | 'id'
  | 'orderKey'

export type Wording = Pick<Common, 'label' | 'doc'>

export const text = <X extends Partial<TextField> & Wording>(field: X) =>
  ({ type: 'text', shape: 'line', max: 120, ...field }) as { type: 'text'; shape: TextShape; max: number } & X

export const integer = <X extends Partial<NumberField> & Wording & Pick<NumberField, 'unit'>>(field: X) =>
  ({ type: 'integer', min: 0, max: Number.MAX_SAFE_INTEGER, ...field }) as { type: 'integer'; min: number; max: number } & X

export const real = <X extends Partial<NumberField> & Wording & Pick<NumberField, 'unit'>>(field: X) =>
  ({ type: 'real', min: 0, max: 1e9, ...field }) as { type: 'real'; min: number; max: number } & X

export const bool = <X extends Partial<BoolField> & Wording>(field: X) => ({ type: 'bool', ...field }) as { type: 'bool' } & X

export const choice = <
  const O extends string,
  const X extends Wording & { default?: string; optional?: boolean; labels?: Readonly<Record<string, string>> },
>(
  options: readonly O[],
  field: X,
) => ({ type: 'choice', options, ...field }) as { type: 'choice'; options: readonly O[] } & X

export const ref = <const K extends string, X extends Wording & { optional?: boolean }>(to: K, field: X) =>
  ({ type: 'ref', to, ...field }) as { type: 'ref'; to: K } & X

export const refMap = <X extends Wording & { optional?: boolean }>(from: string, to: string, field: X) =>
  ({ type: 'refMap', from, to, ...field }) as { type: 'refMap'; from: string; to: string } & X

export const refs = <const K extends string, X extends Wording>(to: K, field: X) =>
  ({ type: 'refs', to, default: [], ...field }) as { type: 'refs'; to: K; default: readonly string[] } & X

export const textMap = <X extends Wording & Partial<TextMapField> & Pick<TextMapField, 'shape'>>(from: string, field: X) =>
  ({ type: 'textMap', from, max: 120, ...field }) as { type: 'textMap'; from: string; shape: TextShape; max: number } & X

export const commands = <X extends Wording & { max?: number }>(field: X) =>
  ({ type: 'commands', max: 2000, default: [], ...field }) as { type: 'commands'; max: number; default: readonly StoredCommand[] } & X

export const difference = <X extends Wording>(field: X) => ({ type: 'difference', ...field }) as { type: 'difference' } & X

/** The place in an order that people make by dragging; see `orderBetween`. */
export const orderKey = <X extends Partial<Wording>>(field?: X) =>
  text({ label: 'Order', doc: 'Place among its like; texts compare.', shape: 'orderKey', max: 1000, ...field })

export const tags = <X extends Wording>(field: X) =>
  ({ type: 'tags', default: [], ...field }) as { type: 'tags'; default: readonly string[] } & X

export const note = () => text({ label: 'Note', doc: 'Anything worth keeping with it.', shape: 'note', max: 4000, default: '' })

/** A VLAN ID, IEEE 802.1Q. */
export const vlanId = (named: Wording) => optional(integer({ ...named, unit: '', min: 1, max: 4094 }))

/** The largest packet, bytes; IPv4 asks for 576 (RFC 791). */
export const mtu = (named: Wording) => integer({ ...named, unit: '', min: 576, max: 65535 })

export const optional = <const F>(field: F) => ({ ...field, optional: true as const })

type BaseValue<F> = F extends { type: 'text' | 'ref' }
  ? string
  : F extends { type: 'integer' | 'real' }
    ? number
    : F extends { type: 'bool' }
      ? boolean
      : F extends { type: 'choice'; options: readonly (infer O)[] }
        ? O
        : F extends { type: 'refMap' | 'textMap' }
          ? Readonly<Record<string, string>>
          : F extends { type: 'tags' | 'refs' }
            ? readonly string[]
            : F extends { type: 'commands' }
              ? readonly StoredCommand[]
              : F extends { type: 'difference' }
                ? StoredDifference
                : never

export type Fields = Readonly<Record<string, Field>>

type ValueOf<F> = F extends { optional: true } ? BaseValue<F> | null : BaseValue<F>

/** All fields, as a record holds them. */
export type ValuesOf<F extends Fields> = { readonly [N in keyof F]: ValueOf<F[N]> }

type OmittableKeys<F extends Fields> = { [N in keyof F]: F[N] extends { optional: true } | { default: unknown } ? N : never }[keyof F]

/** The fields as one writes them: those with a default, and optional ones, may be left out. */
export type InputOf<F extends Fields> = { readonly [N in Exclude<keyof F, OmittableKeys<F>>]: ValueOf<F[N]> } & {
  readonly [N in OmittableKeys<F>]?: ValueOf<F[N]>
}
