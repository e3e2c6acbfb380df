import type { Command } from '../commands/index.js'
import { derivedId, isId, recordTitle, referrersOf, type AnyRecord, type Estate, type Item, type Kind, type Plan } from '../estate/index.js'
import { commandsOf, estateAfter, expectedOf, itemsOf } from '../plans/index.js'
import { idsMadeBy, textsIn } from './plan-file-ids.js'

/** What a file of a plan begins with. */
export const PLAN_FORMAT = 'insel-plan'
/** Raised when the shape of the file changes so that an older Insel could not read it. */
export const PLAN_VERSION = 1
/** A file with more items than this is not read: a plan of so many is several. */
export const ITEMS_MAX = 2000

/** What a plan's file calls a record that the plan does not make. */
export interface NamedRecord {
  readonly kind: string
  readonly name: string
}

/** A plan as a file. Ids in it hold it together; where it is read, records are found by kind and name, and the rest is made new. */
export interface PlanFile {
  readonly format: typeof PLAN_FORMAT
  readonly version: typeof PLAN_VERSION
  readonly exportedAt: string
  readonly plan: Pick<Plan, 'name' | 'ownerId' | 'note'>
  readonly items: readonly FileItem[]
  /** The records that its commands name, by id. */
  readonly records: Readonly<Record<string, NamedRecord>>
  /** Ids of what commands make beside the record they are for: an id follows from two others. */
  readonly derived: Readonly<Record<string, { readonly for: string; readonly of: string }>>
}
type FileItem = Pick<Item, 'id' | 'title' | 'kind' | 'afterIds' | 'personId' | 'minutes' | 'otherwise' | 'isFinal' | 'note' | 'state'> & {
  readonly commands: readonly Command[]
}

/**
 * A plan as a file, with all its items, whatever became of them.
 *
 * @param exportedAt instant, ISO 8601
 * @example planFile(estate, plan, now).records[guestId] // { kind: 'guest', name: 'vault' }
 */
export function planFile(estate: Estate, plan: Plan, exportedAt: string): PlanFile {
  const items = itemsOf(estate, plan.id)
  const made = new Set(items.flatMap(commandsOf).flatMap(idsMadeBy))
  const named = new Set<string>([plan.ownerId, ...items.map(({ personId }) => personId)].filter((id) => id !== null))
  for (const item of items) textsIn(item.commands, (text) => isId(text) && !made.has(text) && named.add(text))
  const find = finderIn([estate, estateAfter(estate, plan.id)], items)
  const derived = derivedIn(items, [...named], find)
  for (const { of } of Object.values(derived)) if (isId(of) && !made.has(of)) named.add(of)
  return {
    format: PLAN_FORMAT,
    version: PLAN_VERSION,
    exportedAt,
    plan: { name: plan.name, ownerId: plan.ownerId, note: plan.note },
    items: items.map(({ id, title, kind, afterIds, personId, minutes, otherwise, isFinal, note, state, ...item }) => ({
      id,
      title,
      kind,
      afterIds,
      personId,
      minutes,
      otherwise,
      isFinal,
      note,
      state,
      commands: commandsOf(item),
    })),
    records: Object.fromEntries(
      [...named].flatMap((id) => {
        const found = derived[id] ? undefined : find(id)
        return found ? [[id, { kind: found.kind, name: recordTitle(found.estate, found.kind, found.record) }] as const] : []
      }),
    ),
    derived,
  }
}

interface Found {
  readonly kind: Kind
  readonly record: AnyRecord
  readonly estate: Estate
}

/** Finds a record in the first of some estates that has it, or in what items that are over did. */
function finderIn(estates: readonly [Estate, Estate], items: readonly Item[]): (id: string) => Found | undefined {
  const [now] = estates
  const gone = new Map<string, Found>()
  for (const item of items) {
    const { added = {}, removed = {} } = expectedOf(item) ?? {}
    for (const [id, entry] of [...Object.entries(added), ...Object.entries(removed)]) gone.set(id, { ...entry, estate: now })
  }
  return (id) => {
    for (const estate of estates) {
      const kind = estate.kindOf(id)
      const record = kind && estate.find(kind, id)
      if (kind && record) return { kind, record, estate }
    }
    return gone.get(id)
  }
}

/** From which two ids others follow: those of a copy’s disks from the copy’s and the original’s. */
function derivedIn(items: readonly Item[], wanted: readonly string[], find: (id: string) => Found | undefined): PlanFile['derived'] {
  const open = new Set(wanted)
  const derived: Record<string, { for: string; of: string }> = {}
  for (const command of open.size === 0 ? [] : items.flatMap(commandsOf)) {
    const texts = new Set<string>()
    textsIn(command, (text) => texts.add(text))
    for (const text of [...texts]) {
      const found = isId(text) ? find(text) : undefined
      if (found) for (const { record } of referrersOf(found.estate, found.kind, text)) texts.add(record.id)
    }
    for (const maker of idsMadeBy(command))
      for (const of of texts) {
        const beside = derivedId(maker, of)
        if (!find(beside)) continue
        if (open.delete(beside)) derived[beside] = { for: maker, of }
        // What was made beside it may have something made for it in turn: a copied adapter its address.
        for (const ofIt of texts) {
          const id = derivedId(beside, ofIt)
          if (open.delete(id)) Object.assign(derived, { [beside]: { for: maker, of }, [id]: { for: beside, of: ofIt } })
        }
      }
  }
  return derived
}
