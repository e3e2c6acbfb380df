import ipaddr from 'ipaddr.js'
import { formatBytes, formatMiB } from '../units/index.js'

/**
 * A field of a record or a command, as data. From this one definition come the TypeScript type, the database column,
 * the contract's validator, the JSON Schema, the label of the form and the sentence for a wrong value.
 */
export type Field =
  TextField | NumberField | BoolField | ChoiceField | RefField | RefListField | RefMapField | TextMapField | CommandsField | TagsField

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
/** A command as a record keeps it. */
export interface StoredCommand {
  readonly type: string
  readonly [field: string]: unknown
}
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
  | 'mac'
  | 'macPrefix'
  | 'sha256'
  | 'date'
  | 'instant'
  | 'timeZone'
  | 'domain'
  | 'id'
  | 'orderKey'

type Wording = Pick<Common, 'label' | 'doc'>

export const text = <X extends Partial<TextField> & Wording>(field: X) =>
  ({ type: 'text', shape: 'line', max: 120, ...field }) as { type: 'text'; shape: TextShape; max: number } & X
export const integer = <X extends Partial<NumberField> & Wording & Pick<NumberField, 'unit'>>(field: X) =>
  ({ type: 'integer', min: 0, max: Number.MAX_SAFE_INTEGER, ...field }) as { type: 'integer'; min: number; max: number } & X
export const real = <X extends Partial<NumberField> & Wording & Pick<NumberField, 'unit'>>(field: X) =>
  ({ type: 'real', min: 0, max: 1e9, ...field }) as { type: 'real'; min: number; max: number } & X
export const bool = <X extends Partial<BoolField> & Wording>(field: X) => ({ type: 'bool', ...field }) as { type: 'bool' } & X
export const choice = <const O extends string, const X extends Wording & { default?: string; optional?: boolean }>(
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
/** The place in an order that people make by dragging; see `orderBetween`. */
export const orderKey = <X extends Partial<Wording>>(field?: X) =>
  text({ label: 'Order', doc: 'Place among its like; texts compare.', shape: 'orderKey', max: 1000, ...field })
export const tags = <X extends Wording>(field: X) =>
  ({ type: 'tags', default: [], ...field }) as { type: 'tags'; default: readonly string[] } & X
export const note = () => text({ label: 'Note', doc: 'Anything worth keeping with it.', shape: 'note', max: 4000, default: '' })
/** A VLAN ID, IEEE 802.1Q. */
export const vlanId = (label: string, doc: string) => optional(integer({ label, doc, unit: '', min: 1, max: 4094 }))
/** The largest packet, bytes; IPv4 asks for 576 (RFC 791). */
export const mtu = (label: string, doc: string) => integer({ label, doc, unit: '', min: 576, max: 65535 })
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

const NAME = /^[a-z0-9]([a-z0-9._-]*[a-z0-9])?$/i
const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/
// Control characters other than tab and line feed: they break exports and screens, and nobody means them.
// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u0008\u000b-\u001f\u007f]/

/** A shape's own form of a text, or the sentence for a text that is not of that shape. */
type Shaping = { value: string } | { sentence: string }

const shapes: Record<TextShape, (text: string) => Shaping> = {
  line: (t) => (t.includes('\n') ? { sentence: 'is one line; take out the line break' } : { value: t }),
  note: (t) => ({ value: t }),
  words: (t) => ({
    value: [
      ...new Set(
        t
          .toLowerCase()
          .split(/[\s,;]+/)
          .filter(Boolean),
      ),
    ]
      .sort()
      .join(' '),
  }),
  sha256: (t) => {
    const digits = t.toLowerCase().replace(/[\s:]/g, '')
    return /^[0-9a-f]{64}$/.test(digits)
      ? { value: digits }
      : {
          sentence: `is 64 hexadecimal digits (SHA-256); these are ${digits.length} characters${/^[0-9a-f]*$/.test(digits) ? '' : ', not all hexadecimal'}`,
        }
  },
  name: (t) =>
    t.length <= 63 && NAME.test(t)
      ? { value: t }
      : {
          sentence: `takes letters, digits, hyphens, dots and underscores, up to 63, and starts and ends with a letter or digit; “${t}” does not`,
        },
  domain: (t) => {
    const ok = t.length <= 253 && t.split('.').every((l) => l.length <= 63 && /^[a-z0-9]([a-z0-9-]*[a-z0-9])?$/i.test(l))
    return ok ? { value: t.toLowerCase() } : { sentence: `is a domain such as skerry.example (RFC 1123); “${t}” is not` }
  },
  ip: (t) => {
    const value = canonicalIp(t)
    return value ? { value } : { sentence: `is an IPv4 or IPv6 address such as 10.61.30.47; “${t}” is not` }
  },
  ips: (t) => {
    const words = t.split(/[\s,;]+/).filter(Boolean)
    const bad = words.find((word) => !canonicalIp(word))
    return bad === undefined
      ? { value: [...new Set(words.map((word) => canonicalIp(word) ?? word))].join(' ') }
      : { sentence: `takes addresses with a space or comma between; “${bad}” is no address` }
  },
  vlans: shapeVlans,
  label: (t) =>
    isHostLabel(t)
      ? { value: t.toLowerCase() }
      : { sentence: `takes letters, digits and hyphens, up to 63, no hyphen at an end (RFC 1123); “${t}” does not` },
  prefix: shapePrefix,
  mac: (t) => {
    const digits = t.toLowerCase().replace(/[:.-]/g, '')
    if (!/^[0-9a-f]{12}$/.test(digits)) return { sentence: `is twelve hexadecimal digits such as 02:1a:4b:30:00:2f; “${t}” is not` }
    if (parseInt(digits.slice(0, 2), 16) & 1)
      return { sentence: `“${t}” is a group address (its first octet is odd); an adapter needs an individual one` }
    return { value: digits.match(/../g)?.join(':') ?? '' }
  },
  macPrefix: (t) => {
    const digits = t.toLowerCase().replace(/[:.-]/g, '')
    if (!/^[0-9a-f]{6}$/.test(digits)) return { sentence: `is six hexadecimal digits such as 02:1a:4b; “${t}” is not` }
    return { value: digits.match(/../g)?.join(':') ?? '' }
  },
  date: (t) => (/^\d{4}-\d\d-\d\d$/.test(t) && isRealDate(t) ? { value: t } : { sentence: `is a date such as 2027-03-09; “${t}” is not` }),
  instant: (t) => {
    const time = /^\d{4}-\d\d-\d\dT/.test(t) ? Date.parse(t) : NaN
    return Number.isNaN(time)
      ? { sentence: `is a time such as 2027-03-09T22:00:00Z; “${t}” is not` }
      : { value: new Date(time).toISOString() }
  },
  id: (t) => (UUID.test(t) ? { value: t } : { sentence: `is a UUID in lower case; “${t}” is not` }),
  orderKey: (t) => (/^[0-9A-Za-z]+$/.test(t) ? { value: t } : { sentence: `is made of letters and digits; “${t}” is not` }),
  timeZone: (t) => {
    try {
      return { value: new Intl.DateTimeFormat('en', { timeZone: t }).resolvedOptions().timeZone }
    } catch (error) {
      if (!(error instanceof RangeError)) throw error
      return { sentence: `is a time zone such as Europe/Lisbon; “${t}” is not known` }
    }
  },
}

function isRealDate(text: string): boolean {
  const date = new Date(`${text}T00:00:00Z`)
  return !Number.isNaN(date.getTime()) && date.toISOString().startsWith(text)
}

/** Characters of an address, with at least two of what stands between its parts. */
const ADDRESS = /^(?:\d{1,3}\.){3}\d{1,3}$|^(?=[^:]*:[^:]*:)[0-9a-f:.]{2,45}$/i

/** The one text form of an address (RFC 5952 for IPv6), or undefined when the text is no address. */
export function canonicalIp(input: string): string | undefined {
  // What cannot be one is told before the library is asked, which tries by throwing.
  if (!ADDRESS.test(input)) return undefined
  if (!input.includes(':')) return ipaddr.IPv4.isValidFourPartDecimal(input) && !/(^|\.)0\d/.test(input) ? input : undefined
  if (!ipaddr.IPv6.isValid(input)) return undefined
  return ipaddr.IPv6.parse(input).toRFC5952String()
}

function shapePrefix(input: string): Shaping {
  const [address = '', length = '', ...rest] = input.split('/')
  const ip = canonicalIp(address)
  const bits = ip?.includes(':') ? 128 : 32
  if (!ip || rest.length > 0 || !/^(0|[1-9]\d{0,2})$/.test(length) || Number(length) > bits)
    return { sentence: `is a prefix such as 10.61.30.0/24; “${input}” is not` }
  const cidr = `${ip}/${length}`
  const start =
    bits === 32 ? ipaddr.IPv4.networkAddressFromCIDR(cidr).toString() : ipaddr.IPv6.networkAddressFromCIDR(cidr).toRFC5952String()
  return start === ip ? { value: cidr } : { sentence: `${cidr} is an address inside a prefix; the prefix itself is ${start}/${length}` }
}

/**
 * Whether a text is one label of a host name: letters, digits and hyphens, up to 63, no hyphen at an end.
 *
 * @see RFC 1123, section 2.1; RFC 952
 * @example isHostLabel('stream-edge-1') // true
 */
export const isHostLabel = (text: string): boolean => /^[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?$/i.test(text)

/** VLAN IDs and ranges of them, sorted and joined where they touch: `10,20-30`. */
function shapeVlans(input: string): Shaping {
  const ranges: [number, number][] = []
  for (const word of input.toLowerCase() === 'all' ? ['1-4094'] : input.split(/[\s,;]+/).filter(Boolean)) {
    const match = /^(\d{1,4})(?:-(\d{1,4}))?$/.exec(word)
    const [first, last] = [Number(match?.[1]), Number(match?.[2] ?? match?.[1])]
    if (!match || first < 1 || last > 4094 || first > last)
      return { sentence: `takes VLAN IDs from 1 to 4094 (IEEE 802.1Q) such as 10,20-30; “${word}” is none` }
    ranges.push([first, last])
  }
  const joined: [number, number][] = []
  for (const [first, last] of ranges.sort((a, b) => a[0] - b[0])) {
    const before = joined.at(-1)
    if (before && first <= before[1] + 1) before[1] = Math.max(before[1], last)
    else joined.push([first, last])
  }
  return { value: joined.map(([first, last]) => (first === last ? String(first) : `${first}-${last}`)).join(',') }
}

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
      if (typeof value !== 'string') return wrong(`is a text, not ${describe(value)}`)
      const trimmed = value.trim()
      if (trimmed === '' && field.shape !== 'note')
        return field.optional ? { ok: true, value: null } : { ok: false, sentence: `${field.label} is missing.` }
      if (trimmed.length > field.max) return wrong(`has room for ${field.max} characters; these are ${trimmed.length}`)
      if (CONTROL.test(trimmed)) return wrong('holds a control character; take it out')
      const shaped = shapes[field.shape](trimmed)
      return 'value' in shaped ? { ok: true, value: shaped.value } : wrong(shaped.sentence)
    }
    case 'integer':
    case 'real': {
      if (typeof value !== 'number' || !Number.isFinite(value)) return wrong(`is a number, not ${describe(value)}`)
      if (field.type === 'integer' && !Number.isInteger(value)) return wrong(`is a whole number; ${value} is not`)
      if (value < field.min) return wrong(`is at least ${amount(field.min, field.unit)}; ${amount(value, field.unit)} is too little`)
      if (value > field.max) return wrong(`is at most ${amount(field.max, field.unit)}; ${amount(value, field.unit)} is too much`)
      return { ok: true, value }
    }
    case 'bool':
      return typeof value === 'boolean' ? { ok: true, value } : wrong(`is yes or no, not ${describe(value)}`)
    case 'choice':
      return field.options.includes(value as string)
        ? { ok: true, value }
        : wrong(`is one of ${field.options.join(', ')}; not ${describe(value)}`)
    case 'ref':
      return isId(value) ? { ok: true, value } : wrong(`names a ${field.to} by its id; ${describe(value)} is no id`)
    case 'refs': {
      if (!Array.isArray(value)) return wrong(`is a list of ids, not ${describe(value)}`)
      const bad: unknown = value.find((id) => !isId(id))
      if (bad !== undefined) return wrong(`names each ${field.to} by its id; ${describe(bad)} is no id`)
      return value.length > REFS_MAX
        ? wrong(`has room for ${REFS_MAX}; these are ${value.length}`)
        : { ok: true, value: [...new Set(value as string[])] }
    }
    case 'refMap': {
      const bad = entriesOf(value).find(([from, to]) => !isId(from) || !isId(to))
      return bad
        ? wrong(`takes ids of a ${field.from} each with the id of a ${field.to}; ${describe(bad[1])} does not fit`)
        : { ok: true, value }
    }
    case 'textMap': {
      const read: Record<string, string> = {}
      for (const [from, of] of entriesOf(value)) {
        if (!isId(from)) return wrong(`takes ids of a ${field.from}; ${describe(from)} is no id`)
        const reading = readField({ type: 'text', shape: field.shape, max: field.max, label: field.label, doc: field.doc }, of)
        if (!reading.ok) return reading
        read[from] = reading.value as string
      }
      return { ok: true, value: read }
    }
    case 'commands': {
      if (!Array.isArray(value)) return wrong(`is a list of commands, not ${describe(value)}`)
      if (value.length > field.max) return wrong(`has room for ${field.max} commands; these are ${value.length}`)
      const read: unknown[] = []
      for (const [index, command] of value.entries()) {
        const reading = readStoredCommand(command)
        if (!reading.ok) return wrong(`cannot hold command ${index + 1}: ${reading.sentence.replace(/\.$/, '')}`)
        read.push(reading.value)
      }
      return { ok: true, value: read }
    }
    case 'tags': {
      if (!Array.isArray(value) || value.some((tag) => typeof tag !== 'string')) return wrong(`is a list of words, not ${describe(value)}`)
      const words = [...new Set((value as string[]).map((tag) => tag.trim().toLowerCase()).filter(Boolean))].sort()
      const bad = words.find((tag) => tag.length > 40 || !NAME.test(tag))
      if (bad !== undefined) return wrong(`takes short words of letters, digits and hyphens; “${bad}” is not one`)
      return words.length > 30 ? wrong(`has room for 30; these are ${words.length}`) : { ok: true, value: words }
    }
  }
}

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

function amount(value: number, unit: NumberField['unit']): string {
  if (unit === 'MiB') return value < 1024 ? `${value} MiB` : formatMiB(value)
  if (unit === 'bytes') return formatBytes(value)
  return unit ? `${value} ${unit}` : String(value)
}

function describe(value: unknown): string {
  if (typeof value === 'string') return `“${value.length > 40 ? `${value.slice(0, 40)}…` : value}”`
  if (Array.isArray(value)) return 'a list'
  return typeof value === 'object' ? 'an object' : String(value)
}
