import { apply, type Command, type CommandContext } from '../commands/index.js'
import { CommandError, kinds, readField, readFields, type Estate, type Item } from '../estate/index.js'
import { isObject, type JsonObject } from '../formats/index.js'
import { planVerbs, writerOn, writtenBody, type ItemWriter } from '../plans/index.js'
import { NamesInFile, type NameInFile, type ParsedFile } from './names-in-file.js'
import { openOwnFile } from './own-file.js'
import { ITEMS_MAX, PLAN_FORMAT, PLAN_VERSION } from './plan-file.js'

/** An item of a file, as it would be added. */
interface ItemInFile {
  readonly title: string
  readonly kind: Item['kind']
  readonly commands: number
  /** Why it cannot be taken as it is in the file, and becomes a task; null where it can. */
  readonly why: string | null
  /** Whether it takes the next free addresses, as those in the file are used here. */
  readonly hasOtherAddresses: boolean
}

/** Members and elements of a file of a plan: a hundred for each of its items. */
const VALUES_MAX = ITEMS_MAX * 100

/** What a file of a plan holds, as it would be added. */
export interface PlanImport {
  readonly name: string
  readonly items: readonly ItemInFile[]
  readonly names: readonly NameInFile[]
  /** The one that adds it. */
  readonly commands: readonly Command[]
}
export type PlanFileReading = PlanImport | { readonly problems: readonly string[] }

/**
 * Reads a file of a plan, of this Insel or an earlier one. Ids and MACs of what it makes are new; records that it names are found by kind
 * and name. An item that cannot be taken becomes a task that says why, so that none is missing from the order.
 *
 * @param chosen for ids in the file, the records here that are meant
 * @returns the plan as it would be added, or what is wrong with the file as a whole, in sentences
 * @example readPlanFile(estate, text, context).commands // [{ type: 'plan.write', … }]
 */
export function readPlanFile(
  estate: Estate,
  text: string,
  context: CommandContext,
  chosen: Readonly<Record<string, string>> = {},
): PlanFileReading {
  const file = parsedFile(text)
  if ('problem' in file) return { problems: [file.problem] }
  const names = new NamesInFile(estate, file, context, chosen)
  const planId = context.newId()
  const write = writerOn(estate, context)
  // An id that comes twice is that of the first: the other is another item all the same.
  const itemIds = new Map<unknown, string>()
  const newIds = file.items.map(({ id }) => {
    const made = context.newId()
    if (!itemIds.has(id)) itemIds.set(id, made)
    return made
  })
  const read = file.items.map((item, index) => {
    const given = {
      ...Object.fromEntries(ITEM_FIELDS.flatMap((field) => (Object.hasOwn(item, field) ? [[field, item[field]]] : []))),
      id: newIds[index] ?? context.newId(),
      planId,
      afterIds: (Array.isArray(item['afterIds']) ? item['afterIds'] : []).flatMap((id) => itemIds.get(id) ?? []),
      personId: names.person(item['personId']),
    }
    try {
      const stray = Object.keys(item).find((field) => !FIELDS_IN_FILE.has(field))
      if (stray !== undefined) throw new CommandError('invalid', `An item has no field “${stray}”.`)
      return { ...taken(write, given, names.commandsOf(item.commands)), why: null }
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
      return { item: asTask(given, error.message, index), why: error.message, hasOtherAddresses: false }
    }
  })
  const command = {
    type: 'plan.write',
    id: planId,
    name: freeName(estate, file.plan.name),
    ownerId: names.person(file.plan['ownerId']),
    note: typeof file.plan['note'] === 'string' ? file.plan['note'] : '',
    items: read.map(({ item }) => ({ type: 'item.write', ...item })),
  } as unknown as Command
  try {
    apply(estate, command, context)
  } catch (error) {
    if (!(error instanceof CommandError)) throw error
    return { problems: [error.message] }
  }
  return {
    name: file.plan.name,
    items: read.map(({ item: { title, kind, commands }, why, hasOtherAddresses }) => ({
      title,
      kind,
      commands: commands.length,
      why,
      hasOtherAddresses,
    })),
    names: names.asked,
    commands: [command],
  }
}

/** The fields of an item that are read as they are; the others are made new or follow from what becomes of it. */
const ITEM_FIELDS = ['title', 'kind', 'minutes', 'otherwise', 'isFinal', 'note'] as const
const FIELDS_IN_FILE: ReadonlySet<string> = new Set(['id', 'afterIds', 'personId', 'state', 'commands', ...ITEM_FIELDS])

function parsedFile(text: string): ParsedFile | { readonly problem: string } {
  const file = openOwnFile(text, { format: PLAN_FORMAT, version: PLAN_VERSION, what: 'a plan’s file', values: VALUES_MAX })
  if ('problem' in file) return file
  const { plan, items, records = {}, derived = {} } = file.parts
  if (!isObject(plan) || typeof plan['name'] !== 'string') return { problem: 'The file holds no “plan” with a name.' }
  if (!Array.isArray(items) || items.length === 0) return { problem: 'The file holds no “items”.' }
  if (items.length > ITEMS_MAX)
    return { problem: `The file holds ${items.length} items; a plan is read with at most ${ITEMS_MAX}. Part it in several files.` }
  if (!isObject(records) || !isObject(derived)) return { problem: 'The “records” and “derived” of the file are objects, by id.' }
  const read: (JsonObject & { readonly commands: readonly unknown[] })[] = []
  for (const [index, item] of items.entries()) {
    const commands: unknown = isObject(item) ? (item['commands'] ?? []) : undefined
    if (!isObject(item) || !Array.isArray(commands)) return { problem: `items.${index} is an item with a list of commands.` }
    read.push({ ...item, commands })
  }
  return { plan: { ...plan, name: plan['name'] }, items: read, records, derived }
}

type GivenItem = Readonly<Record<(typeof ITEM_FIELDS)[number], unknown>> & { readonly id: string; readonly afterIds: readonly string[] }
type TakenItem = ReturnType<typeof withBody>

/** Reads an item and writes what it does, with the addresses of the file or else the next free ones. @throws CommandError */
function taken(
  write: ItemWriter,
  given: Partial<GivenItem>,
  commands: readonly Command[],
): { item: TakenItem; hasOtherAddresses: boolean } {
  try {
    return { item: withBody(write, given, commands), hasOtherAddresses: false }
  } catch (error) {
    const others = commands.map((command) => {
      if (command.type !== 'address.assign') return command
      const { ip: _, subnetId: __, ...rest } = command
      return rest
    })
    if (!(error instanceof CommandError) || error.code !== 'not-unique') throw error
    return { item: withBody(write, given, others), hasOtherAddresses: true }
  }
}

function withBody(write: ItemWriter, given: Partial<GivenItem>, commands: readonly Command[]) {
  const { beforeId: _, ...item } = readFields(planVerbs['item.write'].fields, { ...given, commands })
  const { kind, commands: written } = writtenBody(write, item.id ?? '', item.kind, item.commands)
  return { ...item, kind, commands: written }
}

/** An item that cannot be taken, as a task that says why. */
function asTask(given: Partial<GivenItem>, why: string, index: number): TakenItem {
  const { title, note, minutes, ...rest } = given
  const hasTitle = typeof title === 'string' && readField(kinds.item.fields.title, title).ok
  const said = `Not taken from the file: ${why}`
  return {
    ...readFields(planVerbs['item.write'].fields, {
      ...rest,
      kind: 'task',
      title: hasTitle ? title : `Item ${index + 1} of the file`,
      minutes: readField(kinds.item.fields.minutes, minutes).ok ? minutes : null,
      note: typeof note === 'string' && note.length + said.length < NOTE_MAX ? `${note}\n${said}`.trim() : said.slice(0, NOTE_MAX),
      commands: [],
    }),
  } as unknown as TakenItem
}
const NOTE_MAX = 4000

/** A name that no plan here has. @example freeName(estate, 'Saturday') // 'Saturday 2' */
function freeName(estate: Estate, name: string): string {
  const isFree = (wanted: string) => estate.byKey('plan', { name: wanted }).length === 0
  for (let number = 1; ; number++) {
    const wanted = number === 1 ? name : `${name} ${number}`
    if (isFree(wanted)) return wanted
  }
}
