import type { ImportRequest, ProjectionResponse, ReachabilityRequest } from '@insel/contract'
import {
  askGroup,
  estateFile,
  fixOf,
  isFindingOn,
  guestsCsv,
  importTables,
  importNames,
  kindNames,
  mappedTable,
  mappingGiven,
  minutesOf,
  partAccepted,
  projectPlan,
  ReachError,
  readTables,
  sourceOf,
  summaryOf,
  readPlanFile,
  recordsCsv,
  sayDeparture,
  type Estate,
  type Finding,
  type Severity,
  type Command,
  type ImportSummary,
  type MappedTable,
  type TableGiven,
  type TablesImport,
  type NamesImport,
  type PlanImport,
  type ReachAnswer,
  type RecordTable,
} from '@insel/core'
import { newId } from '../changes/new-id.js'
import type { EstateVersion } from '../estates/estate-cache.js'
import { malformed, ProblemError } from '../problems/problem.js'

/** What an import would record, and the revision that is said of. */
export type Preview = (NamesImport | (TablesImport & ImportSummary) | PlanImport) & { readonly revision: number }

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
interface FindingsList {
  readonly revision: number
  readonly items: readonly FindingWithFix[]
}

/** An estate of more records than this, or a text longer than this, is work for its own thread. */
const RECORDS_MAX = 10_000
const TEXT_MAX = 100_000
/** So many rows of tables are, too. */
const ROWS_MAX = 300

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
  preview: ({ estate, revision }: EstateVersion, asked: ImportRequest): Preview => ({ ...readImport(estate, asked, revision), revision }),
}
export type Tasks = typeof tasks

/** Whether a task is too much for the thread that answers everybody. */
export function isHeavy({ estate }: EstateVersion, input: unknown): boolean {
  const asked: Readonly<Record<string, unknown>> = typeof input === 'object' && input !== null ? { ...input } : {}
  const rows = ((asked['tables'] as readonly TableGiven[] | undefined) ?? []).reduce((sum, table) => sum + table.rows.length, 0)
  return (
    rows > ROWS_MAX ||
    (typeof asked['text'] === 'string' && asked['text'].length > TEXT_MAX) ||
    kindNames.reduce((sum, kind) => sum + estate.count(kind), 0) > RECORDS_MAX
  )
}

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
): NamesImport | (TablesImport & ImportSummary) | PlanImport {
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
