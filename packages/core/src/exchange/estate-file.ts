import { checkWhole } from '../commands/index.js'
import {
  CommandError,
  Estate,
  isId,
  kindNames,
  kinds,
  type KindDefinition,
  readRecord,
  upgraded,
  type AnyRecord,
  type Difference,
  type Kind,
  type Records,
} from '../estate/index.js'
import { isObject } from '../formats/index.js'
import { openOwnFile } from './own-file.js'

/** What a file of an estate begins with. */
export const ESTATE_FORMAT = 'insel-estate'
/** Raised when the shape of the file changes so that an older Insel could not read it. */
export const ESTATE_VERSION = 1

/** A whole estate as a file: open, and of a published schema. */
export interface EstateFile {
  readonly format: typeof ESTATE_FORMAT
  readonly version: typeof ESTATE_VERSION
  /** Revision of the estate it was made at. */
  readonly revision: number
  readonly exportedAt: string
  readonly records: Records
}

/** An estate as a file. */
export const estateFile = (estate: Estate, revision: number, exportedAt: string): EstateFile => ({
  format: ESTATE_FORMAT,
  version: ESTATE_VERSION,
  revision,
  exportedAt,
  records: estate.toRecords(),
})

export type EstateFileReading = { readonly estate: Estate; readonly difference: Difference } | { readonly problems: readonly string[] }

const PROBLEMS_SHOWN = 20
/** Members and elements of a file: some three times those of an estate of 5,000 guests, and little enough that parsing them alone exhausts nothing. */
const VALUES_MAX = 1_250_000

/** What is wrong with a file: as many sentences as are shown, and how many there are. */
class FileProblems {
  readonly #shown: string[] = []
  #count = 0

  /** @param say makes the sentence, where it is shown */
  add(say: () => string): void {
    if (++this.#count <= PROBLEMS_SHOWN) this.#shown.push(say())
  }

  get count(): number {
    return this.#count
  }

  list(): readonly string[] {
    return this.#count <= PROBLEMS_SHOWN ? this.#shown : [...this.#shown, `And ${this.#count - PROBLEMS_SHOWN} more.`]
  }
}
/** A name before the references of a record: what a person finds it by in the file. */
const placeOf = (kind: string, index: number, record: unknown) => {
  const name = typeof record === 'object' && record !== null && 'name' in record ? ` “${String(record.name).slice(0, 60)}”` : ''
  return `records.${kind}[${index}]${name}`
}

/**
 * Reads a file of an estate whole: every record as its kind is defined, every reference and key checked. Fields that
 * are newer than the file take their defaults; a field nobody knows is a problem.
 *
 * @param file its text, or the bytes of it in UTF-8
 * @returns the estate with all its records as one difference, or what is wrong with the file, in sentences
 */
export function readEstateFile(file: string | Uint8Array): EstateFileReading {
  const opened = openOwnFile(file, { format: ESTATE_FORMAT, version: ESTATE_VERSION, what: 'an estate file', values: VALUES_MAX })
  if ('problem' in opened) return { problems: [opened.problem] }
  const { records } = opened.parts
  if (!isObject(records)) return { problems: ['The file holds no “records”.'] }
  const problems = new FileProblems()
  const added: Record<string, { kind: Kind; record: AnyRecord }> = {}
  for (const name in records) {
    const list = records[name]
    const kind = upgraded(name, {})?.kind
    // What is gone is left out, as from the log.
    if (kind === undefined) continue
    if (!(kindNames as readonly string[]).includes(kind)) problems.add(() => `records.${name.slice(0, 60)}: there is no such kind.`)
    else if (!Array.isArray(list)) problems.add(() => `records.${name} must be a list.`)
    else readKind(name, kind as Kind, list, added, problems)
  }
  if (problems.count === 0 && Object.values(added).filter(({ kind }) => kind === 'estate').length !== 1)
    problems.add(() => 'records.estate holds the one description of the estate.')
  if (problems.count > 0) return { problems: problems.list() }
  const difference = { added, updated: {}, removed: {} } as Difference
  const estate = Estate.empty.with(difference)
  try {
    checkWhole(estate, (field) => field)
  } catch (error) {
    if (!(error instanceof CommandError)) throw error
    return { problems: [error.message] }
  }
  return { estate, difference }
}

/** @param name what the kind is called in the file, which may be older */
function readKind(
  name: string,
  kind: Kind,
  list: unknown[],
  added: Record<string, { kind: Kind; record: AnyRecord }>,
  problems: FileProblems,
): void {
  for (const [index, given] of list.entries()) {
    // What is read is let go of: of a large file, two of everything is more than there is room for.
    list[index] = undefined
    const place = () => placeOf(name, index, given)
    if (typeof given !== 'object' || given === null || Array.isArray(given)) {
      problems.add(() => `${place()} must be a record.`)
      continue
    }
    const { id, ...values } = upgraded(name, given as Record<string, unknown>)?.values ?? {}
    if (!isId(id)) problems.add(() => `${place()}: its id must be a UUID in lower case.`)
    else if (id in added) problems.add(() => `${place()}: its id ${id} appears twice.`)
    else
      try {
        const { ofLog = [] } = kinds[kind] as KindDefinition
        const ofFile = Object.fromEntries(Object.entries(values).filter(([field]) => !ofLog.includes(field)))
        added[id] = { kind, record: readRecord(kinds[kind].fields, id, ofFile) as AnyRecord }
      } catch (error) {
        if (!(error instanceof CommandError)) throw error
        problems.add(() => `${place()}: ${error.message}`)
      }
  }
}
