import { commandShape, verbOf, type Command, type CommandContext } from '../commands/index.js'
import { CommandError, derivedId, isId, isKind, kinds, recordTitle, upgradedCommand, type Estate, type Kind } from '../estate/index.js'
import { isObject, type JsonObject } from '../formats/index.js'
import { generateMac } from '../networks/index.js'
import { idsMadeBy, withTexts } from './plan-file-ids.js'
import type { NamedRecord } from './plan-file.js'

/** A record that a file names, and which one that is here. */
export interface NameInFile extends NamedRecord {
  /** Its id in the file. */
  readonly id: string
  /** The record here; null where none was found. */
  readonly here: string | null
}

/** The file as it is after a first look: an object of the right shape whose parts nobody has read yet. */
export interface ParsedFile {
  readonly plan: JsonObject & { readonly name: string }
  readonly items: readonly (JsonObject & { readonly commands: readonly unknown[] })[]
  readonly records: JsonObject
  readonly derived: JsonObject
}

/** What a file calls things, and what they are here. */
export class NamesInFile {
  /** The names that were asked for, in that order. */
  readonly asked: NameInFile[] = []
  readonly #made = new Map<string, string>()
  readonly #known = new Map<string, string | null>()
  readonly #titles = new Map<Kind, ReadonlyMap<string, string | null>>()

  constructor(
    private readonly estate: Estate,
    private readonly file: ParsedFile,
    private readonly context: CommandContext,
    private readonly chosen: Readonly<Record<string, string>>,
  ) {
    for (const { commands } of file.items)
      for (const command of commands)
        if (isObject(command) && typeof command['type'] === 'string')
          for (const id of idsMadeBy(command as unknown as Command)) if (!this.#made.has(id)) this.#made.set(id, context.newId())
  }

  /** A person here, by the id in the file. */
  person(id: unknown): string | null {
    const here = isId(id) ? this.#here(id) : undefined
    return this.estate.find('person', here)?.id ?? null
  }

  /** Commands of an item with the ids of here. @throws CommandError `not-found` with what they name and is not here */
  commandsOf(given: readonly unknown[]): readonly Command[] {
    const missing = new Set<string>()
    const put = (text: string): string => {
      if (!isId(text)) return text
      const here = this.#here(text)
      if (here === null) missing.add(text)
      return here ?? text
    }
    const commands = given
      .map((command) => upgradedCommand(command))
      .filter((command) => command !== undefined)
      .map((command) => withTexts(command, put) as Command)
    const [first] = missing
    if (first !== undefined) {
      const { kind = '', name = first } = this.#nameOf(first) ?? {}
      throw new CommandError(
        'not-found',
        `It names ${isKind(kind) ? kinds[kind].label : 'a record'} “${name}”${missing.size > 1 ? ` and ${missing.size - 1} more` : ''}, not found here.`,
      )
    }
    return commands.map((command) => this.#withNewMacs(command))
  }

  /** The id of here for one in the file; null for a record that is not found, undefined for what the file does not name. */
  #here(id: string, depth = 0): string | null | undefined {
    const made = this.#made.get(id)
    if (made !== undefined) return made
    const known = this.#known.get(id)
    if (known !== undefined) return known
    const rule = Object.hasOwn(this.file.derived, id) ? this.file.derived[id] : undefined
    if (isObject(rule) && typeof rule['for'] === 'string' && typeof rule['of'] === 'string' && depth < DERIVED_DEPTH) {
      const [maker, of] = [this.#here(rule['for'], depth + 1), isId(rule['of']) ? this.#here(rule['of'], depth + 1) : rule['of']]
      return isId(maker) && typeof of === 'string' ? derivedId(maker, of) : null
    }
    const name = this.#nameOf(id)
    if (!name) return undefined
    const here = this.#find(id, name)
    this.#known.set(id, here)
    this.asked.push({ id, ...name, here })
    return here
  }

  #nameOf(id: string): NamedRecord | undefined {
    const entry = Object.hasOwn(this.file.records, id) ? this.file.records[id] : undefined
    return isObject(entry) && typeof entry['kind'] === 'string' && typeof entry['name'] === 'string'
      ? { kind: entry['kind'], name: entry['name'] }
      : undefined
  }

  #find(id: string, { kind, name }: NamedRecord): string | null {
    if (!isKind(kind)) return null
    const wanted = Object.hasOwn(this.chosen, id) ? this.chosen[id] : id
    const record = this.estate.find(kind, wanted)
    if (record) return record.id
    let titles = this.#titles.get(kind)
    if (!titles) {
      const byTitle = new Map<string, string | null>()
      for (const one of this.estate.all(kind)) {
        const title = recordTitle(this.estate, kind, one)
        byTitle.set(title, byTitle.has(title) ? null : one.id)
      }
      titles = byTitle
      this.#titles.set(kind, titles)
    }
    return titles.get(name) ?? null
  }

  /** MACs that somebody made up are made up anew; those of machines stay what they are. */
  #withNewMacs(command: Command): Command {
    if (!isObject(command) || typeof command.type !== 'string') return command
    const shape = commandShape(command.type)
    const values = command as unknown as JsonObject
    if (shape && 'verb' in shape) {
      const fields = Object.entries(verbOf(shape.verb)?.fields ?? {}).filter(
        ([, field]) => field.type === 'textMap' && field.shape === 'mac',
      )
      return Object.fromEntries(
        Object.entries(values).map(([name, value]) => [
          name,
          fields.some(([field]) => field === name) && isObject(value)
            ? Object.fromEntries(Object.entries(value).filter(([, mac]) => !isMadeUp(mac)))
            : value,
        ]),
      ) as unknown as Command
    }
    const { record } = values
    if (command.type !== 'adapter.add' || !isObject(record) || !isMadeUp(record['mac'])) return command
    const isTaken = (mac: string) => this.estate.byKey('adapter', { mac }).length > 0
    const mac = generateMac(record['mac'].slice(0, PREFIX_LENGTH), String(record['id'] ?? this.context.newId()), isTaken)
    return { ...values, record: { ...record, mac } } as unknown as Command
  }
}
/** A derived id follows from a made one, or from one that does: deeper there is nothing, and a circle has no end. */
const DERIVED_DEPTH = 3
/** `02:1a:4b` */
const PREFIX_LENGTH = 8
const LOCAL = 0b10

/** Whether a MAC is locally administered: made up, not burned in (IEEE 802-2014, section 8.4). */
const isMadeUp = (mac: unknown): mac is string => typeof mac === 'string' && (Number.parseInt(mac.slice(0, 2), 16) & LOCAL) !== 0
