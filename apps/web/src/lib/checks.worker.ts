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
  project,
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

/** What is wrong, and the rules whose findings are still as they were. */
export interface Found {
  readonly list: readonly Finding[]
  readonly pending: Findings['pending']
}

/** What becomes of a failed host's guests, and whose data would be gone. */
export type Failover = FailoverOutcome & { readonly withoutCopy: readonly Guest[] }

/** The answer to a question of who reaches whom, or why it cannot be asked. */
export type Asked = { readonly ok: true; readonly answer: ReachAnswer } | { readonly ok: false; readonly sentence: string }

let estate = Estate.empty
const today = () => dayOf(estate, new Date().toISOString())
let findings = Findings.of(estate, today())
let revision = -1

/** The estate with a plan, as far as it can be applied: the page says what cannot. The last few are kept with their findings. */
function withPlan(plan: readonly Command[]): { readonly estate: Estate; readonly findings: Findings } {
  findings = findings.on(today(), estate)
  if (plan.length === 0) return { estate, findings }
  const key = JSON.stringify(plan)
  const known = planned.find((one) => one.key === key && one.on === findings)
  if (known) return known
  const projection = project(estate, plan, browserContext(revision))
  const made = { key, on: findings, estate: projection.estate, findings: findings.after(projection.estate, projection.difference) }
  planned = [made, ...planned].slice(0, PLANS_KEPT)
  return made
}
/** Each message brings the plan as a new list, so that it is known by what is in it. */
let planned: readonly { readonly key: string; readonly on: Findings; readonly estate: Estate; readonly findings: Findings }[] = []
const PLANS_KEPT = 4

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
  findings: (plan: readonly Command[], isSettled: boolean): Found => {
    if (isSettled) findings = findings.settled()
    const shown = withPlan(plan).findings
    const told = isSettled ? shown.settled() : shown
    return { list: told.list(), pending: told.pending }
  },
  preview(plan: readonly Command[], commands: readonly Command[], isSettled: boolean): Preview {
    const base = withPlan(plan)
    try {
      const applied = applyAll(base.estate, commands, browserContext(revision))
      const after = base.findings.after(applied.estate, applied.difference)
      const change = isSettled ? compareFindings(base.findings.settled(), after.settled()) : compareFindings(base.findings, after)
      return { ok: true, difference: applied.difference, findings: change }
    } catch (error) {
      if (error instanceof CommandError) return { ok: false, sentence: error.message, problems: error.problems }
      throw error
    }
  },
  failover(plan: readonly Command[]): readonly Failover[] {
    const { estate: shown } = withPlan(plan)
    return failoverOutcomes(shown).map((outcome) => ({ ...outcome, withoutCopy: guestsWithoutCopy(shown, outcome.host) }))
  },
  rooms(plan: readonly Command[], size: GuestSize): readonly HostRoom[] {
    const { estate: shown } = withPlan(plan)
    return shown.all('host').map((host) => roomOn(shown, host, size))
  },
  readFound: (text: string, system: string | undefined): FoundReading => readFound(text, system),
  ask(plan: readonly Command[], question: ReachQuestion): Asked {
    try {
      return { ok: true, answer: askGroup(withPlan(plan).estate, question) }
    } catch (error) {
      if (error instanceof ReachError) return { ok: false, sentence: error.message }
      throw error
    }
  },
  ping: (plan: readonly Command[], from: string, target: string): PingAnswer => ping(withPlan(plan).estate, from, target),
  matrix(
    plan: readonly Command[],
    service: Pick<ReachQuestion, 'protocol' | 'port'>,
    groups: readonly Group[],
  ): readonly (readonly GroupReach[])[] {
    const table = new GroupTable(withPlan(plan).estate, service)
    return groups.map((from) => groups.map((to) => table.reach(from, to)))
  },
  places: (plan: readonly Command[], demand: Demand): readonly Fit[] => rankHosts(withPlan(plan).estate, demand),
}
export type Checks = typeof checks
expose(checks)
