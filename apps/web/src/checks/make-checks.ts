import {
  applyAll,
  askGroup,
  CommandError,
  compareFindings,
  compose,
  Estate,
  dayOf,
  Findings,
  failoverOutcomes,
  guestsWithoutCopy,
  invert,
  partAccepted,
  ping,
  differenceAfter,
  planFigures,
  reachMatrix,
  tablesImport,
  rankHosts,
  ReachError,
  inTurns,
  readFound,
  roomOn,
  type AcceptedFinding,
  type Command,
  type Demand,
  type FailoverOutcome,
  type FoundReading,
  type Task,
  type TablesGiven,
  type TablesImport,
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
  adviseMethods,
  checkMove,
  moveView,
  type AdvisedMethod,
  type CheckedMove,
  type Mapping,
  type MoveWish,
} from '@insel/core'
import { instantOf, keyOfBasis, type BasisNamed } from '../basis/basis'
import { browserContext } from '../lib/context'
import { now } from '../lib/time'

/** What commands would do: to the records, to the findings; or why they cannot be done. */
export type Preview =
  | { readonly ok: true; readonly difference: Difference; readonly findings: FindingsChange }
  | { readonly ok: false; readonly sentence: string; readonly problems: readonly FieldProblem[] }

/** What is wrong, and the rules whose findings are still as they were. */
export interface Found {
  readonly list: readonly Finding[]
  /** Those that somebody accepted: they are not in the list. */
  readonly accepted: readonly AcceptedFinding[]
  readonly pending: Findings['pending']
}

/** What becomes of a failed host's guests, and whose data would be gone. */
export type Failover = FailoverOutcome & { readonly withoutCopy: readonly Guest[] }

/** The answer to a question of who reaches whom, or why it cannot be asked. */
export type Asked = { readonly ok: true; readonly answer: ReachAnswer } | { readonly ok: false; readonly sentence: string }

/** What is checked of a move; or why nothing can be said. */
export interface MoveLook {
  readonly checks: readonly CheckedMove[]
  readonly sentence?: string
}

/** Tables, with ids and the time as the browser makes them. */
const tablesHere: Task<Omit<TablesGiven, 'context'> & { readonly revision: number }, number, TablesImport> = {
  run: (estate, { revision, ...given }) => tablesImport.run(estate, { ...given, context: browserContext(revision) }),
}

/** The tasks that the page has done, by name. */
const tasks = {
  'plan figures': planFigures,
  'reach matrix': reachMatrix,
  tables: tablesHere,
} satisfies Readonly<Record<string, Task<never, number, unknown>>>
export type TaskName = keyof typeof tasks
type AnyTask<I, O> = Task<I, number, O>
export type TaskInput<N extends TaskName> = (typeof tasks)[N] extends AnyTask<infer I, unknown> ? I : never
export type TaskOutput<N extends TaskName> = (typeof tasks)[N] extends AnyTask<never, infer O> ? O : never

/** So long one question may keep the others waiting, milliseconds. */
const A_TURN_MS = 100

/**
 * The checks that take time: findings of the whole estate, previews, places for a guest. They run off the page's thread; each keeps
 * its own copy of the estate.
 */
export function makeChecks() {
  let estate = Estate.empty
  const today = () => dayOf(estate, now())
  const dayOn = (basis: BasisNamed, shown: Estate) => dayOf(shown, instantOf(basis))
  let findings = Findings.of(estate, today())
  let revision = -1

  /** An estate that is shown, with its findings. */
  interface Shown {
    readonly estate: Estate
    readonly findings: Findings
  }

  /** What a basis shows. A plan as far as it can be applied: its page says what cannot. The last few are kept with their findings. */
  function on(basis: BasisNamed): Shown {
    findings = findings.on(today(), estate)
    if (basis.on === 'recorded') return { estate, findings }
    const key = keyOfBasis(basis)
    const known = lately.find((one) => one.key === key && one.from === findings)
    if (known) return known
    const difference = basis.on === 'asOf' ? basis.back : differenceAfter(estate, basis.plan.id, basis.item.id)
    const shown = estate.with(difference)
    // From one item of a plan to another little changes: the findings go on from those of the last basis that was asked about.
    const last = lately.find((one) => one.from === findings && one.findings.today === findings.today)
    const after = last ? last.findings.after(shown, compose(invert(last.difference), difference)) : findings.after(shown, difference)
    const made = { key, from: findings, estate: shown, difference, findings: after.on(dayOn(basis, shown), shown) }
    lately = [made, ...lately].slice(0, KEPT)
    return made
  }
  let lately: readonly (Shown & { readonly key: string; readonly from: Findings; readonly difference: Difference })[] = []
  const KEPT = 4
  /** The tasks that somebody waits for. */
  const wanted = new Set<number>()

  /** What is answered of a basis with commands done besides; or why they cannot be done. */
  function withAdded<T>(basis: BasisNamed, before: readonly Command[], answer: (shown: Estate) => T): T | { readonly sentence: string } {
    const base = on(basis).estate
    try {
      return answer(before.length > 0 ? applyAll(base, before, browserContext(revision)).estate : base)
    } catch (error) {
      if (error instanceof CommandError) return { sentence: error.message }
      throw error
    }
  }

  return {
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
    findings: (basis: BasisNamed, isSettled: boolean): Found => {
      if (isSettled) findings = findings.settled()
      const shown = on(basis).findings
      const told = isSettled ? shown.settled() : shown
      const { open, accepted } = partAccepted(on(basis).estate, told.list(), told.today)
      return { list: open, accepted, pending: told.pending }
    },
    preview(basis: BasisNamed, commands: readonly Command[], isSettled: boolean): Preview {
      const base = on(basis)
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
    failover(basis: BasisNamed): readonly Failover[] {
      const { estate: shown } = on(basis)
      return failoverOutcomes(shown).map((outcome) => ({ ...outcome, withoutCopy: guestsWithoutCopy(shown, outcome.host) }))
    },
    /** What a plan does to the findings, carried out up to an item, or all of it. */
    planFindings(planId: string, upTo?: string): FindingsChange {
      findings = findings.on(today(), estate)
      const difference = differenceAfter(estate, planId, upTo)
      return compareFindings(findings.settled(), findings.after(estate.with(difference), difference).settled())
    },
    /**
     * What is checked of a move before it copies.
     *
     * @param of a recorded move, or the mapping of one that is only thought of
     * @param before commands that add what takes over, where it is not recorded yet
     */
    moveChecks(basis: BasisNamed, of: string | Mapping, before: readonly Command[]): MoveLook | undefined {
      const answer = withAdded(basis, before, (shown) => {
        const known = typeof of === 'string' ? shown.find('migration', of) : of
        const view = known && moveView(shown, known, dayOn(basis, shown))
        return view && { checks: checkMove(view) }
      })
      return answer && 'sentence' in answer ? { checks: [], ...answer } : answer
    },
    /** The ways a move that is only thought of could be copied. */
    moveAdvice(basis: BasisNamed, mapping: Mapping, before: readonly Command[], wish: MoveWish): readonly AdvisedMethod[] {
      const answer = withAdded(basis, before, (shown) => adviseMethods(shown, mapping, wish, dayOn(basis, shown)))
      return 'sentence' in answer ? [] : answer
    },
    rooms(basis: BasisNamed, size: GuestSize): readonly HostRoom[] {
      const { estate: shown } = on(basis)
      return shown.all('host').map((host) => roomOn(shown, host, size))
    },
    /**
     * Does a task on a basis, turn by turn.
     *
     * @param id by which it can be stopped
     * @param tell how far it is
     * @returns undefined where it was stopped
     */
    async task<N extends TaskName>(
      id: number,
      name: N,
      basis: BasisNamed,
      input: TaskInput<N>,
      tell?: (done: number) => unknown,
    ): Promise<TaskOutput<N> | undefined> {
      wanted.add(id)
      let since = performance.now()
      try {
        return await inTurns(tasks[name] as unknown as AnyTask<TaskInput<N>, TaskOutput<N>>, on(basis).estate, input, {
          isOver: () => performance.now() - since >= A_TURN_MS,
          pause: () =>
            new Promise<void>((next) =>
              setTimeout(() => {
                since = performance.now()
                next()
              }),
            ),
          isWanted: () => wanted.has(id),
          tell,
        })
      } finally {
        wanted.delete(id)
      }
    },
    /** Nobody waits for a task any more. */
    stop: (id: number) => void wanted.delete(id),
    readFound: (text: string, system: string | undefined): FoundReading => readFound(text, system),
    ask(basis: BasisNamed, question: ReachQuestion): Asked {
      try {
        return { ok: true, answer: askGroup(on(basis).estate, question) }
      } catch (error) {
        if (error instanceof ReachError) return { ok: false, sentence: error.message }
        throw error
      }
    },
    ping: (basis: BasisNamed, from: string, target: string): PingAnswer => ping(on(basis).estate, from, target),
    places: (basis: BasisNamed, demand: Demand): readonly Fit[] => rankHosts(on(basis).estate, demand),
  }
}
export type Checks = ReturnType<typeof makeChecks>
