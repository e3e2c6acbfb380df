import { type Command } from '../commands/index.js'
import { changedFields, policyOf, type AnyRecord, type Difference, type Estate, type Kind, type Policy } from '../estate/index.js'
import type { Finding, Observation, Rule, Severity } from './rule.js'
import { rules } from './rules/index.js'

const severityOrder: Record<Severity, number> = { error: 0, warning: 1, notice: 2 }

/** The findings of one rule, by the id of the subject that was checked. */
type OfRule = ReadonlyMap<string, readonly Finding[]>

/**
 * All findings of an estate, kept so that after a change only what the change touches is checked again. Used by the
 * server for each revision and by the browser's worker for each draft.
 */
export class Findings {
  readonly #byRule: ReadonlyMap<string, OfRule>
  #list: readonly Finding[] | undefined

  private constructor(
    byRule: ReadonlyMap<string, OfRule>,
    /** The day the findings hold for, `YYYY-MM-DD`: some come due with time. */
    readonly today: string,
  ) {
    this.#byRule = byRule
  }

  /**
   * Checks everything. Linear in the number of records.
   *
   * @param today the day it is checked for, `YYYY-MM-DD`
   */
  static of(estate: Estate, today: string): Findings {
    const policy = policyOf(estate)
    return new Findings(
      new Map(
        rules.map((rule) => {
          const found = new Map<string, readonly Finding[]>()
          for (const subject of estate.all(rule.appliesTo)) {
            const findings = check(rule, estate, subject, policy, today)
            if (findings.length > 0) found.set(subject.id, findings)
          }
          return [rule.id, found]
        }),
      ),
      today,
    )
  }

  /** The same findings on another day: checked anew when the day has changed. */
  on(today: string, estate: Estate): Findings {
    return today === this.today ? this : Findings.of(estate, today)
  }

  /**
   * The findings after a difference: checks again what it touched and what depends on that.
   *
   * @param after the estate after the difference
   */
  after(after: Estate, difference: Difference): Findings {
    const touched = touchedRecords(difference)
    if (touched.some(({ kind }) => kind === 'policy') || renames(difference)) return Findings.of(after, this.today)
    const policy = policyOf(after)
    return new Findings(
      new Map(
        rules.map((rule) => {
          const before: OfRule = this.#byRule.get(rule.id) ?? new Map<string, readonly Finding[]>()
          const again = subjectsAgain(rule, after, touched)
          if (again !== 'all' && again.size === 0) return [rule.id, before]
          const found = new Map(again === 'all' ? [] : before)
          const ids = again === 'all' ? after.all(rule.appliesTo).map((subject) => subject.id) : again
          for (const id of ids) {
            const subject = after.find(rule.appliesTo, id)
            const findings = subject ? check(rule, after, subject, policy, this.today) : []
            if (findings.length > 0) found.set(id, findings)
            else found.delete(id)
          }
          return [rule.id, found]
        }),
      ),
      this.today,
    )
  }

  /** Every finding, errors first, in a stable order. */
  list(): readonly Finding[] {
    this.#list ??= [...this.#byRule.values()]
      .flatMap((found) => [...found.values()].flat())
      .sort((a, b) => severityOrder[a.severity] - severityOrder[b.severity] || (a.id < b.id ? -1 : 1))
    return this.#list
  }
}

/**
 * Commands that mend a finding in the estate as it is now.
 *
 * @returns undefined where the rule has no fix, or none can be proposed here
 */
export function fixOf(estate: Estate, finding: Pick<Finding, 'ruleId' | 'subject'>): readonly Command[] | undefined {
  const subject = estate.find(finding.subject.kind, finding.subject.id)
  return subject && rules.find((rule) => rule.id === finding.ruleId)?.fix?.(estate, subject)
}

/** Findings that a change raised, and those it settled. */
export interface FindingsChange {
  readonly raised: readonly Finding[]
  readonly settled: readonly Finding[]
}

/** What a change did to the findings. A finding whose sentence changed is raised anew and settles none. */
export function compareFindings(before: Findings, after: Findings): FindingsChange {
  const old = new Map(before.list().map((finding) => [finding.id, finding]))
  const now = new Set(after.list().map((finding) => finding.id))
  return {
    raised: after.list().filter((finding) => old.get(finding.id)?.sentence !== finding.sentence),
    settled: before.list().filter((finding) => !now.has(finding.id)),
  }
}

/** A new name or number stands in the sentences of findings on other records, so all of them are said again. */
function renames({ updated }: Difference): boolean {
  return Object.values(updated).some(({ from, to }) =>
    changedFields(from, to).some((field) => field === 'name' || field === 'position' || field === 'use'),
  )
}

interface Touched {
  readonly kind: Kind
  readonly record: AnyRecord
}

function touchedRecords({ added, updated, removed }: Difference): readonly Touched[] {
  return [
    ...Object.values(added),
    ...Object.values(updated).flatMap(({ kind, from, to }) => [
      { kind, record: from },
      { kind, record: to },
    ]),
    ...Object.values(removed),
  ]
}

function subjectsAgain(rule: Rule, estate: Estate, touched: readonly Touched[]): ReadonlySet<string> | 'all' {
  const ids = new Set<string>()
  for (const { kind, record } of touched) {
    if (kind === rule.appliesTo) ids.add(record.id)
    const more = rule.again[kind]?.(estate, record as never)
    if (more === 'all') return 'all'
    for (const id of more ?? []) ids.add(id)
  }
  return ids
}

function check(rule: Rule, estate: Estate, subject: AnyRecord, policy: Policy, today: string): readonly Finding[] {
  const observations: readonly Observation[] = rule.check(estate, subject, policy, today)
  return observations.map((observation, index) => {
    const about = observation.subject ?? { kind: rule.appliesTo, id: subject.id }
    return {
      ...observation,
      id: `${rule.id}:${about.id}${index === 0 ? '' : `:${index + 1}`}`,
      ruleId: rule.id,
      title: rule.title,
      subject: about,
      isFixable: rule.fix !== undefined,
    }
  })
}
