import {
  applyAll,
  askGroup,
  CommandError,
  compareFindings,
  Estate,
  dayOf,
  Findings,
  failoverOutcomes,
  GroupTable,
  guestsWithoutCopy,
  ping,
  rankHosts,
  ReachError,
  readFound,
  roomOn,
  type Command,
  type Demand,
  type FailoverOutcome,
  type FoundReading,
  type Group,
  type GroupReach,
  type Guest,
  type GuestSize,
  type HostRoom,
  type PingAnswer,
  type ReachAnswer,
  type ReachQuestion,
  type Difference,
  type FieldProblem,
  type Finding,
  type FindingsChange,
  type Fit,
  type Records,
} from '@insel/core'
import { expose } from 'comlink'
import { browserContext } from './context'

/** What commands would do: to the records, to the findings; or why they cannot be done. */
export type Preview =
  | { readonly ok: true; readonly difference: Difference; readonly findings: FindingsChange }
  | { readonly ok: false; readonly sentence: string; readonly problems: readonly FieldProblem[] }

/** What becomes of a failed host's guests, and whose data would be gone. */
export type Failover = FailoverOutcome & { readonly withoutCopy: readonly Guest[] }

/** The answer to a question of who reaches whom, or why it cannot be asked. */
export type Asked = { readonly ok: true; readonly answer: ReachAnswer } | { readonly ok: false; readonly sentence: string }

let estate = Estate.empty
const today = () => dayOf(estate, new Date().toISOString())
let findings = Findings.of(estate, today())
let revision = -1

/** Applies a plan on the recorded estate, as far as it can be applied. */
function project(plan: readonly Command[]): { estate: Estate; findings: Findings } {
  findings = findings.on(today(), estate)
  if (plan.length === 0) return { estate, findings }
  try {
    const applied = applyAll(estate, plan, browserContext())
    return { estate: applied.estate, findings: findings.after(applied.estate, applied.difference) }
  } catch (error) {
    // A plan that no longer fits the record is shown as such by the plan panel; checks go on with the record.
    if (error instanceof CommandError) return { estate, findings }
    throw error
  }
}

/** The checks that take time, off the page's thread: findings of the whole estate, previews, places for a guest. */
const checks = {
  load(records: Records, at: number): void {
    estate = Estate.fromRecords(records)
    findings = Findings.of(estate, today())
    revision = at
  },
  advance(difference: Difference, at: number): void {
    estate = estate.with(difference)
    findings = findings.after(estate, difference)
    revision = at
  },
  revision: () => revision,
  findings: (plan: readonly Command[]): readonly Finding[] => project(plan).findings.list(),
  preview(plan: readonly Command[], commands: readonly Command[]): Preview {
    const base = project(plan)
    try {
      const applied = applyAll(base.estate, commands, browserContext())
      const after = base.findings.after(applied.estate, applied.difference)
      return { ok: true, difference: applied.difference, findings: compareFindings(base.findings, after) }
    } catch (error) {
      if (error instanceof CommandError) return { ok: false, sentence: error.message, problems: error.problems }
      throw error
    }
  },
  failover(plan: readonly Command[]): readonly Failover[] {
    const { estate: shown } = project(plan)
    return failoverOutcomes(shown).map((outcome) => ({ ...outcome, withoutCopy: guestsWithoutCopy(shown, outcome.host) }))
  },
  rooms(plan: readonly Command[], size: GuestSize): readonly HostRoom[] {
    const { estate: shown } = project(plan)
    return shown.all('host').map((host) => roomOn(shown, host, size))
  },
  readFound: (text: string, system: string | undefined): FoundReading => readFound(text, system),
  ask(plan: readonly Command[], question: ReachQuestion): Asked {
    try {
      return { ok: true, answer: askGroup(project(plan).estate, question) }
    } catch (error) {
      if (error instanceof ReachError) return { ok: false, sentence: error.message }
      throw error
    }
  },
  ping: (plan: readonly Command[], from: string, target: string): PingAnswer => ping(project(plan).estate, from, target),
  matrix(
    plan: readonly Command[],
    service: Pick<ReachQuestion, 'protocol' | 'port'>,
    groups: readonly Group[],
  ): readonly (readonly GroupReach[])[] {
    const table = new GroupTable(project(plan).estate, service)
    return groups.map((from) => groups.map((to) => table.reach(from, to)))
  },
  places: (plan: readonly Command[], demand: Demand): readonly Fit[] => rankHosts(project(plan).estate, demand),
}
export type Checks = typeof checks
expose(checks)
