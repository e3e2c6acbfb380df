import type { Command } from '../commands/index.js'
import type { Estate, Kind, Policy, RecordOf } from '../estate/index.js'
import { type Severity } from '../lists/index.js'
import { formatUnit, shownWorking, type Figure } from '../units/index.js'
import { againAlong, bothAgain, type RecheckOn } from './paths.js'

/** One number or name that a finding rests on. */
export interface Evidence {
  readonly label: string
  readonly value: number | string
  readonly unit?: 'MiB' | 'bytes' | 'vCPU' | 'cores' | '%' | 'guests' | 'days' | 'W'
  /** How it is written where it is a term of a sum: with as many digits as make what is shown add up. */
  readonly shown?: string
}

/** Evidence as it is shown. */
export const evidenceShown = ({ value, unit, shown }: Evidence): string =>
  shown ?? (typeof value === 'number' && unit ? formatUnit(value, unit) : String(value))

/**
 * The terms of a sum as evidence, which a reader can add up, with what they make.
 *
 * @param label of what they make; what is missing is said without its sign
 * @example evidenceOfSum(memoryBudget(estate, host).left, 'over').at(-1)?.shown // '568 MiB'
 */
export function evidenceOfSum(figure: Figure, label: string): readonly Evidence[] {
  const unit = figure.unit === 'MiB' || figure.unit === 'bytes' ? { unit: figure.unit } : {}
  const { terms, result } = shownWorking(figure)
  return [
    ...terms.map(({ sign, text, value, label: term }) => ({
      label: sign === '−' ? `less ${term}` : term,
      value,
      ...unit,
      shown: text,
    })),
    { label, value: Math.abs(figure.value), ...unit, shown: result.replace(/^−/, '') },
  ]
}

/** One problem: what, on which thing, the evidence, and what to do. */
export interface Finding {
  /** Stable for the same problem on the same thing. */
  readonly id: string
  readonly ruleId: string
  readonly title: string
  readonly severity: Severity
  readonly subject: { readonly kind: Kind; readonly id: string }
  /** Ids of other things on which it is shown, too: where it can be mended as well as on its subject. */
  readonly concerns?: readonly string[]
  readonly sentence: string
  readonly evidence: readonly Evidence[]
  readonly remedy: string
  /** Whether the rule can say the commands that mend it: see `fixOf`. */
  readonly isFixable: boolean
}

/** Whether a finding is of one of some things, or concerns one. */
export const isFindingOn = ({ subject, concerns = [] }: Finding, ids: readonly string[]): boolean =>
  ids.includes(subject.id) || concerns.some((id) => ids.includes(id))

/** What a rule's check says; the rest of the finding comes from the rule and the subject. */
export type CheckResult = Omit<Finding, 'id' | 'ruleId' | 'title' | 'subject' | 'isFixable'> & {
  readonly subject?: Finding['subject']
  /**
   * What tells it from others that the rule may find on the same thing: a host, a device, a day. Never its place in a list, and never
   * there in a rule that finds one at the most.
   */
  readonly apart?: string
}

/** A rule: pure, one for each kind of problem. */
export interface Rule<K extends Kind = Kind> {
  readonly id: string
  readonly title: string
  readonly appliesTo: K
  /** What looks again when something changes: the subject itself always, and what is reached along paths and by hand. */
  readonly again: RecheckOn
  /** The evidence by which an accepted finding is judged, and in which direction it gets worse; without it any change of the evidence counts. */
  readonly measure?: { readonly evidence: string; readonly worse: 'more' | 'less' }
  /** Whether looking again takes long in an estate: then what was found before is held on to until `Findings.settled` is asked. */
  isLate?(estate: Estate): boolean
  /** @param today the day it is checked for, `YYYY-MM-DD` */
  check(estate: Estate, subject: RecordOf<K>, policy: Policy, today: string): readonly CheckResult[]
  /** Commands that mend what the check found on a subject, or none where nothing can be proposed. Asked for only when wanted. */
  fix?(estate: Estate, subject: RecordOf<K>): readonly Command[] | undefined
}

/** A rule as it is written. */
export interface RuleGiven<K extends Kind> extends Omit<Rule<K>, 'again'> {
  /** What it reads besides its subject, as paths of references: `> hostId > platformId`, `< disk.guestId`. */
  readonly reads?: readonly string[]
  /** What else makes it look again, by hand: where no reference leads, or where a path would lead to too many. */
  readonly again?: RecheckOn
}

export const defineRule = <K extends Kind>({ reads = [], again = {}, ...rule }: RuleGiven<K>): Rule => ({
  ...rule,
  again: bothAgain(againAlong(rule.appliesTo, reads), again),
})
