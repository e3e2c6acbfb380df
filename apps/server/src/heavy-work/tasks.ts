import { READINGS_MAX, type ImportRequest, type ProjectionResponse, type ReachabilityRequest } from '@insel/contract'
import {
  askGroup,
  bytesToMove,
  estateFile,
  fixOf,
  isFindingOn,
  guestsCsv,
  importTables,
  importNames,
  mappedTable,
  mappingGiven,
  minutesOf,
  partAccepted,
  projectPlan,
  ReachError,
  readProgressText,
  type NumberStyle,
  type ProgressReading,
  readTables,
  sourceOf,
  summaryOf,
  readPlanFile,
  recordsCsv,
  sayDeparture,
  thinned,
  type Estate,
  type Finding,
  type Severity,
  type Command,
  type ImportSummary,
  type MappedTable,
  type TablesImport,
  type NamesImport,
  type PlanImport,
  type ReachAnswer,
  type RecordTable,
} from '@insel/core'
import { newId } from '../changes/new-id.js'
import type { EstateVersion } from '../cache/estate-cache.js'
import { malformed, notFound, ProblemError } from '../problems/problem.js'

/** What an import would record, and the revision that is said of. */
export type Preview = Imported & {
  readonly revision: number
  /** How many of each list are not in it, where some are not. */
  readonly notListed?: Readonly<Record<string, number>>
}
type Imported = NamesImport | (TablesImport & ImportSummary) | PlanImport

/** Which findings are wanted: all, where nothing is said. */
export interface WantedFindings {
  readonly severity?: Severity | null
  readonly rule?: string | null
  readonly subject?: string | null
  /** Those that somebody accepted, in place of the open ones. */
  readonly accepted?: boolean
}

/** A finding as scripts get it: with the commands of its fix, where there is one. */
export type FindingWithFix = Finding & { readonly fix: readonly Command[] | null }
/** Lines of a tool about one move. */
interface ProgressLines {
  readonly kind: 'lines'
  readonly migrationId: string
  readonly text: string
  /** When the last line was said, milliseconds since 1970. */
  readonly saidAt: number
  /** How the text writes its numbers, where somebody said so. */
  readonly style: NumberStyle | undefined
}
interface FindingsList {
  readonly revision: number
  readonly items: readonly FindingWithFix[]
}

/** Of each list of a preview so many are answered; the others are counted. */
const LISTED_MAX = 500
/** Of commands as many as one request takes, and of a plan’s file all that it may have. */
const LISTED_WHOLE_MAX = 2000
const LISTED_WHOLE = new Set(['commands', 'items', 'names'])

/**
 * What takes so long on a large estate that nobody else should wait for it. Each takes an estate at a revision and something plain, and
 * gives something plain, so that it can be done in another thread as well as here.
 *
 * @throws ProblemError like any request
 */
export const tasks = {
  /** The whole estate as a file, as the text of it. */
  file: ({ estate, revision }: EstateVersion, now: string): string => JSON.stringify(estateFile(estate, revision, now)),
  guestsCsv: ({ estate }: EstateVersion): string => guestsCsv(estate),
  recordsCsv: ({ estate }: EstateVersion, kind: RecordTable): string => recordsCsv(estate, kind),
  findings({ estate, findings, revision }: EstateVersion, wanted: WantedFindings): FindingsList {
    const settled = findings.settled()
    const { open, accepted } = partAccepted(estate, settled.list(), settled.today)
    const items = (wanted.accepted ? accepted.map(({ finding }) => finding) : open)
      .filter(
        (finding) =>
          finding.severity === (wanted.severity ?? finding.severity) &&
          finding.ruleId === (wanted.rule ?? finding.ruleId) &&
          isFindingOn(finding, [wanted.subject ?? finding.subject.id]),
      )
      .map((finding) => ({ ...finding, fix: (finding.isFixable ? fixOf(estate, finding) : undefined) ?? null }))
    return { revision, items }
  },
  projection({ estate, revision }: EstateVersion, { planId, upTo }: { planId: string; upTo: string | null }): ProjectionResponse {
    const { items, difference } = projectPlan(estate, planId, upTo ?? undefined)
    return {
      revision,
      difference,
      items: items.map(({ item, outcome, departures }) => ({
        itemId: item.id,
        title: item.title,
        minutes: minutesOf(estate, item).value,
        difference: outcome.ok ? outcome.difference : null,
        refusal: outcome.ok ? null : { code: outcome.refusal.code, message: outcome.refusal.message, errors: outcome.refusal.problems },
        departures: departures.map((departure) => sayDeparture(estate, departure)),
      })),
    }
  },
  reach({ estate }: EstateVersion, question: ReachabilityRequest): ReachAnswer {
    try {
      return askGroup(estate, question)
    } catch (error) {
      throw asProblem(error)
    }
  },
  preview: ({ estate, revision }: EstateVersion, asked: ImportRequest): Preview => ({
    ...shortened(readImport(estate, asked, revision)),
    revision,
  }),
  /** The commands of an import, all of them. */
  imported: (
    { estate, revision }: EstateVersion,
    asked: ImportRequest,
  ): { readonly commands: readonly Command[]; readonly revision: number } => ({
    commands: readImport(estate, asked, revision).commands,
    revision,
  }),
  /** What a tool said of its progress, as readings: as many as a request may send, evenly over the time. */
  progressLines({ estate }: EstateVersion, { migrationId, text, saidAt, style }: ProgressLines): ProgressReading {
    const move = estate.find('migration', migrationId)
    if (!move) throw notFound(`There is no migration with the id ${migrationId} in this estate.`)
    const { samples, ...read } = readProgressText(text, bytesToMove(estate, move), saidAt, style)
    const inOrder = samples.length > READINGS_MAX ? samples.toSorted((a, b) => a.at - b.at) : samples
    return { ...read, samples: thinned(inOrder, READINGS_MAX) }
  },
}
export type Tasks = typeof tasks

/** A question about machines that are not recorded is refused at the field that names them. */
export function asProblem(error: unknown): unknown {
  if (!(error instanceof ReachError)) return error
  return new ProblemError(422, 'not-in-the-plan', 'Not recorded', error.message, {
    errors: [{ path: error.field, code: 'not-in-the-plan', message: error.message }],
  })
}

/** @throws ProblemError 400 for a text that is no table of guests, or no file of a plan */
function readImport(
  estate: Estate,
  { kind, text: given, columns, records, tables, stateOfNew }: ImportRequest,
  revision: number,
): Imported {
  const context = { newId, now: new Date().toISOString(), revision: revision + 1 }
  const read = (mapped: readonly MappedTable[]) => {
    const imported = importTables(estate, mapped, context, stateOfNew)
    return { ...imported, ...summaryOf(imported) }
  }
  if (kind === 'tables') {
    if (!tables) throw malformed('Send tables.')
    return read(tables.map(mappedTable))
  }
  const text = given ?? ''
  if (kind === 'names') return importNames(estate, text, newId)
  if (kind === 'plan') {
    const reading = readPlanFile(estate, text, context, records)
    if ('problems' in reading) throw malformed(reading.problems.join(' '))
    return reading
  }
  const source = sourceOf(text)
  if ('sentence' in source) throw malformed(source.sentence)
  const { tables: found, none } = readTables([source], 'guest')
  if (none[0]) throw malformed(none[0].sentence)
  return read(columns ? found.map((table) => ({ ...table, mapping: mappingGiven(columns) })) : found)
}

/** A preview that can be answered whatever it is of: the first of each list, and how many more there are. */
function shortened<T extends Imported>(imported: T): T & Pick<Preview, 'notListed'> {
  const notListed: Record<string, number> = {}
  const short = Object.fromEntries(
    Object.entries(imported).map(([name, value]: [string, unknown]) => {
      const most = LISTED_WHOLE.has(name) ? LISTED_WHOLE_MAX : LISTED_MAX
      if (!Array.isArray(value)) return [name, value]
      if (value.length > most) notListed[name] = value.length - most
      const listed: readonly unknown[] = value.slice(0, most)
      return [name, name === 'commands' ? listed : listed.map(clipped)]
    }),
  ) as unknown as T
  return Object.keys(notListed).length > 0 ? { ...short, notListed } : short
}

/** A text that came in is said with its beginning: who wrote it knows the rest. */
const SAID_MAX = 500
function clipped(value: unknown): unknown {
  if (typeof value === 'string') return value.length > SAID_MAX ? `${value.slice(0, SAID_MAX)}…` : value
  if (typeof value !== 'object' || value === null) return value
  if (Array.isArray(value)) return value.map(clipped)
  return Object.fromEntries(Object.entries(value).map(([name, inner]) => [name, clipped(inner)]))
}
