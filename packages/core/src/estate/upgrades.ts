import type { Field, StoredDifference } from './field.js'
import { kinds, type AnyRecord, type Kind } from './kinds/index.js'

/**
 * What became of a kind, a command or fields of theirs, so that records, logged differences and files made before can be read. One is
 * written whenever something that was recorded is renamed or goes; what is new has its default and needs none.
 */
export interface Upgrade {
  /** What was changed, in words. */
  readonly name: string
  /** The kind or the verb it was of, as it was called then. */
  readonly of: string
  /** What the kind or the verb is called now; `null`: it is gone, with its records. */
  readonly isNow?: string | null
  /** What its fields are called now, by what they were called; `null`: gone. */
  readonly fields?: Readonly<Record<string, string | null>>
  /** What values of fields are called now, by what they were called. */
  readonly words?: Readonly<Record<string, Readonly<Record<string, string>>>>
  /** What follows for a record from fields that are gone, besides. */
  readonly follows?: (values: Values) => Values
  /** A command that meant such a field alone, as it is called now. */
  readonly command?: (command: Values) => unknown
}

type Values = Readonly<Record<string, unknown>>
const isObject = (value: unknown): value is Values => typeof value === 'object' && value !== null && !Array.isArray(value)

/** Every upgrade, the oldest first. */
const upgrades: readonly Upgrade[] = [
  {
    name: 'The system of a guest is a record of its own; the migration of the tables found it by its name.',
    of: 'guest',
    fields: { system: null },
  },
  {
    name: 'Whether a guest is generalised became whose identity it has: that of what it was copied from, where it was not.',
    of: 'guest',
    fields: { isGeneralised: null },
    follows: ({ isGeneralised, clonedFromId }) =>
      isGeneralised === false && typeof clonedFromId === 'string'
        ? { identity: 'copied', identityFromId: clonedFromId, identityKey: clonedFromId }
        : {},
    command({ type, id, changes }) {
      if (type !== 'guest.update' || !isObject(changes) || Object.keys(changes).join() !== 'isGeneralised') return undefined
      return changes['isGeneralised'] === true ? { type: 'guest.identity', guestId: id, identity: 'its own' } : undefined
    },
  },
  {
    name: 'A move is followed until nothing is left of it: its states have other words.',
    of: 'migration',
    words: { state: { 'under way': 'copying', done: 'closed', 'given up': 'cancelled' } },
  },
]

/** Values of a kind or a verb as they are called now. */
function renamed(of: string, values: Values, list: readonly Upgrade[], isRecord = false): { of: string; values: Values } | undefined {
  let current: { of: string; values: Values } = { of, values }
  for (const upgrade of list) {
    if (upgrade.of !== current.of) continue
    if (upgrade.isNow === null) return undefined
    const { fields = {}, follows } = upgrade
    const said = inWordsOfToday(current.values, upgrade.words)
    const isOld = Object.keys(fields).some((name) => name in current.values)
    current = {
      of: upgrade.isNow ?? current.of,
      values: isOld
        ? {
            ...Object.fromEntries(
              Object.entries(said).flatMap(([name, value]): [string, unknown][] => {
                const now = Object.hasOwn(fields, name) ? fields[name] : name
                return now === null || now === undefined ? [] : [[now, value]]
              }),
            ),
            ...(isRecord ? follows?.(current.values) : {}),
          }
        : said,
    }
  }
  return current
}

/** Values with the words of fields that are called otherwise now. */
function inWordsOfToday(values: Values, words: Upgrade['words'] = {}): Values {
  const changed = Object.entries(words).flatMap(([field, now]): [string, string][] => {
    const was = values[field]
    return typeof was === 'string' && Object.hasOwn(now, was) ? [[field, now[was] ?? was]] : []
  })
  return changed.length === 0 ? values : { ...values, ...Object.fromEntries(changed) }
}

const actions = /^(.+)\.(add|update|remove)$/

/**
 * A command that a record keeps, as it is called now.
 *
 * @returns undefined where what it was of is gone
 * @example upgradedCommand({ type: 'guest.add', record: { name: 'vault', system: 'Text-only server' } }) // without the system
 */
export function upgradedCommand(command: unknown, list: readonly Upgrade[] = upgrades): unknown {
  if (!isObject(command) || typeof command['type'] !== 'string') return command
  const meant = list.map((upgrade) => upgrade.command?.(command)).find((one) => one !== undefined)
  if (meant !== undefined) return meant
  const { type, ...values } = command
  const [, kind, action] = actions.exec(type) ?? []
  if (kind === undefined || action === undefined || list.some(({ of }) => of === type)) {
    const verb = renamed(type, values, list)
    return verb && { type: verb.of, ...verb.values }
  }
  const part = action === 'add' ? 'record' : 'changes'
  const given = values[part]
  const now = renamed(kind, isObject(given) ? given : {}, list)
  return now && { type: `${now.of}.${action}`, ...values, ...(isObject(given) ? { [part]: now.values } : {}) }
}

/**
 * A record that was made by an earlier Insel, as its kind is called and defined now: what was renamed has its new name, what went is left
 * out, and commands in it are upgraded with it. Fields that are newer are not filled in.
 *
 * @returns undefined where its kind is gone
 * @example upgraded('guest', { id, name: 'vault', system: 'Text-only server' }) // { kind: 'guest', values: { id, name: 'vault' } }
 */
export function upgraded(kind: string, record: Values, list: readonly Upgrade[] = upgrades): { kind: string; values: Values } | undefined {
  const now = renamed(kind, record, list, true)
  if (!now) return undefined
  const fields = (kinds as Readonly<Record<string, { readonly fields: Readonly<Record<string, Field>> } | undefined>>)[now.of]?.fields ?? {}
  const held = Object.entries(now.values).flatMap(([name, value]): [string, unknown][] => {
    const type = fields[name]?.type
    if (type === 'commands' && Array.isArray(value))
      return [[name, value.map((command) => upgradedCommand(command, list)).filter((command) => command !== undefined)]]
    return type === 'difference' && isObject(value) ? [[name, upgradedDifference(value as unknown as StoredDifference, list)]] : []
  })
  return { kind: now.of, values: held.length === 0 ? now.values : { ...now.values, ...Object.fromEntries(held) } }
}

/** A difference that an earlier Insel logged or kept, with its records in the form of today. */
export function upgradedDifference({ added, updated, removed }: StoredDifference, list?: readonly Upgrade[]): StoredDifference {
  const now = (kind: string, record: object) => upgradedOf(kind, record as AnyRecord, list)
  const entries = (all: StoredDifference['added']) =>
    Object.fromEntries(
      Object.entries(all).flatMap(([id, { kind, record }]) => {
        const entry = now(kind, record)
        return entry ? [[id, entry] as const] : []
      }),
    )
  return {
    added: entries(added),
    updated: Object.fromEntries(
      Object.entries(updated).flatMap(([id, { kind, from, to }]) => {
        const [before, after] = [now(kind, from), now(kind, to)]
        return before && after ? [[id, { kind: after.kind, from: before.record, to: after.record }] as const] : []
      }),
    ),
    removed: entries(removed),
  }
}

/**
 * A record of an earlier Insel in the form of today: upgraded, and a field that is newer than the record has its default, or nothing.
 *
 * @returns undefined where its kind is gone
 * @throws Error when it has a field that nobody knows: an upgrade is missing
 */
export function upgradedOf(kind: string, record: AnyRecord, list?: readonly Upgrade[]): { kind: Kind; record: AnyRecord } | undefined {
  const now = upgraded(kind, record, list)
  if (!now) return undefined
  const fields = Object.entries<Field>(kinds[now.kind as Kind].fields)
  if (Object.keys(now.values).length === fields.length + 1 && fields.every(([name]) => name in now.values))
    return { kind: now.kind as Kind, record: now.values as unknown as AnyRecord }
  const known = new Set(['id', ...fields.map(([name]) => name)])
  const unknown = Object.keys(now.values).find((name) => !known.has(name))
  if (unknown !== undefined) throw new Error(`No upgrade says what became of “${unknown}” of a ${kind}.`)
  return {
    kind: now.kind as Kind,
    record: {
      id: record.id,
      ...Object.fromEntries(
        fields.map(([name, field]) => [name, name in now.values ? now.values[name] : 'default' in field ? field.default : null]),
      ),
    } as unknown as AnyRecord,
  }
}
