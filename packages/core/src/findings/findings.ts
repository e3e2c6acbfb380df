import { type Command } from '../commands/index.js'
import {
  kindNames,
  LayeredMap,
  policyOf,
  touchedRecords,
  type AnyRecord,
  type Difference,
  type Estate,
  type Kind,
  type Policy,
  type Touched,
} from '../estate/index.js'
import type { Finding, CheckResult, Rule } from './rule.js'
import { rules } from './rules/index.js'
import { bySeverity, groupBy } from '../lists/index.js'

/** The findings of one rule, by the id of the subject that was checked. */
type OfRule = LayeredMap<readonly Finding[]>
const NONE_OF_RULE: OfRule = LayeredMap.of(new Map<string, readonly Finding[]>())
const NONE: readonly Finding[] = []

const inOrder = (a: Finding, b: Finding) => bySeverity(a, b) || (a.id < b.id ? -1 : 1)

/** Findings that were looked at again: as they were, and as they are. */
interface Rechecked {
  readonly before: Finding[]
  readonly now: Finding[]
}

/**
 * All findings of an estate, kept so that after a change only what the change touches is checked again. Used by the
 * server for each revision and by the browser's worker for each draft.
 */
export class Findings {
  readonly #estate: Estate
  readonly #byRule: ReadonlyMap<string, OfRule>
  /** Rules whose findings are those of an estate before, because to look again takes long. */
  readonly #pending: ReadonlySet<Rule>
  /** Stands for these findings where later ones say what they come from, so that they do not hold on to them. */
  readonly #token = {}
  readonly #from: { readonly token: object; readonly again: Rechecked } | undefined
  #list: readonly Finding[] | undefined
  #settled: Findings | undefined

  private constructor(
    estate: Estate,
    byRule: ReadonlyMap<string, OfRule>,
    /** The day the findings hold for, `YYYY-MM-DD`: some come due with time. */
    readonly today: string,
    pending: ReadonlySet<Rule> = new Set(),
    from?: { readonly before: Findings; readonly again: Rechecked },
  ) {
    this.#estate = estate
    this.#byRule = byRule
    this.#pending = pending
    this.#from = from && { token: from.before.#token, again: from.again }
    const list = from ? from.before.#list : undefined
    if (list && from) this.#list = changedList(list, from.again)
  }

  /**
   * Checks everything. Linear in the number of records.
   *
   * @param today the day it is checked for, `YYYY-MM-DD`
   */
  static of(estate: Estate, today: string): Findings {
    return new Findings(estate, new Map(rules.map((rule) => [rule.id, checkAll(rule, estate, today)])), today)
  }

  /** The same findings on another day: checked again when the day has changed. */
  on(today: string, estate: Estate): Findings {
    return today === this.today ? this : Findings.of(estate, today)
  }

  /**
   * The findings after a difference: checks again what it touched and what depends on that. What takes long is pending.
   *
   * @param after the estate after the difference
   */
  after(after: Estate, difference: Difference): Findings {
    const touched = touchedRecords(difference)
    if (touched.some(isEverywhere)) return Findings.of(after, this.today)
    const former = formerNames(difference)
    const policy = policyOf(after)
    const ofKind = groupBy(touched, ({ kind }) => kind)
    const again: Rechecked = { before: [], now: [] }
    const pending = new Set<Rule>()
    const byRule = new Map(this.#byRule)
    const looking = new Set([...this.#pending, ...[...ofKind.keys()].flatMap((kind) => rulesLookingAt.get(kind) ?? [])])
    // A new name is in findings on other things, whatever their rules look at.
    for (const rule of former.length > 0 ? rules : looking) {
      const old = this.#byRule.get(rule.id) ?? NONE_OF_RULE
      const seen = looking.has(rule) ? subjectsAgain(rule, after, ofKind) : NO_SUBJECTS
      const subjects = seen === 'all' || former.length === 0 ? seen : new Set([...seen, ...subjectsShowing(old, former)])
      if (!this.#pending.has(rule) && subjects !== 'all' && subjects.size === 0) continue
      if (rule.isLate?.(after)) {
        pending.add(rule)
        continue
      }
      if (subjects === 'all' || this.#pending.has(rule)) {
        byRule.set(rule.id, allAgain(rule, after, this.today, old, again))
        continue
      }
      const edits = new Map<string, readonly Finding[] | undefined>()
      for (const id of subjects) {
        const subject = after.find(rule.appliesTo, id)
        const [was, is] = [old.get(id) ?? NONE, subject ? check(rule, after, subject, policy, this.today) : NONE]
        if (was.length === 0 && is.length === 0) continue
        again.before.push(...was)
        again.now.push(...is)
        edits.set(id, is.length > 0 ? is : undefined)
      }
      byRule.set(rule.id, old.edit(edits))
    }
    return new Findings(after, byRule, this.today, pending, { before: this, again })
  }

  /** The rules whose findings are as they were before the last changes, because to look again takes long. */
  get pending(): readonly Pick<Rule, 'id' | 'title'>[] {
    return [...this.#pending].map(({ id, title }) => ({ id, title }))
  }

  /** These findings with nothing pending. */
  settled(): Findings {
    if (this.#pending.size === 0) return this
    if (!this.#settled) {
      const again: Rechecked = { before: [], now: [] }
      const byRule = new Map(this.#byRule)
      for (const rule of this.#pending)
        byRule.set(rule.id, allAgain(rule, this.#estate, this.today, byRule.get(rule.id) ?? NONE_OF_RULE, again))
      this.#settled = new Findings(this.#estate, byRule, this.today, new Set(), { before: this, again })
    }
    return this.#settled
  }

  /** Every finding, errors first, in a stable order. */
  list(): readonly Finding[] {
    this.#list ??= [...this.#byRule.values()].flatMap((found) => found.values().flat()).sort(inOrder)
    return this.#list
  }

  /** What was looked at again since some findings, or everything where these do not come from them. */
  againSince(before: Findings): { readonly before: readonly Finding[]; readonly now: readonly Finding[] } {
    return this.#from?.token === before.#token ? this.#from.again : { before: before.list(), now: this.list() }
  }
}

/** Past this many, a list in order is put in order again instead of being changed place by place. */
const PLACES_MAX = 64

/** A list in order with some findings taken out and others put in. */
function changedList(list: readonly Finding[], { before, now }: Rechecked): readonly Finding[] {
  if (before.length === 0 && now.length === 0) return list
  if (before.length + now.length > PLACES_MAX) {
    const gone = new Set(before)
    return [...list.filter((finding) => !gone.has(finding)), ...now].sort(inOrder)
  }
  const changed = list.slice()
  for (const finding of before) changed.splice(placeOf(changed, finding), 1)
  for (const finding of now) changed.splice(placeOf(changed, finding), 0, finding)
  return changed
}

/** Where in a list in order a finding is, or would be. */
function placeOf(list: readonly Finding[], finding: Finding): number {
  let [low, high] = [0, list.length]
  while (low < high) {
    const middle = (low + high) >> 1
    const at = list[middle]
    if (at && inOrder(at, finding) < 0 && at.id !== finding.id) low = middle + 1
    else high = middle
  }
  return low
}

/**
 * Commands that mend a finding in the estate as it is now.
 *
 * @returns undefined where the rule has no fix, or none can be proposed here
 */
export function fixOf(estate: Estate, finding: Pick<Finding, 'ruleId' | 'subject'>): readonly Command[] | undefined {
  const subject = estate.find(finding.subject.kind, finding.subject.id)
  return subject && ruleOf(finding)?.fix?.(estate, subject)
}

export const ruleOf = ({ ruleId }: Pick<Finding, 'ruleId'>): Rule | undefined => rules.find(({ id }) => id === ruleId)

/** The figure of its rule by which a finding is judged; null where the rule names none, or the finding does not have it. */
export function measureOf(finding: Pick<Finding, 'ruleId' | 'evidence'>): number | null {
  const measure = ruleOf(finding)?.measure
  const value = finding.evidence.find(({ label }) => label === measure?.evidence)?.value
  return typeof value === 'number' ? value : null
}

/** A finding that says something else after a change, and which way it went. */
export interface ChangedFinding {
  readonly finding: Finding
  readonly how: 'worse' | 'better' | 'changed'
}

/** What a change did to the findings. */
export interface FindingsChange {
  /** Those that were not there before. */
  readonly raised: readonly Finding[]
  /** Those that were there and say something else now. */
  readonly changed: readonly ChangedFinding[]
  readonly settled: readonly Finding[]
  /** Rules about which nothing is said yet, because to look again takes long. */
  readonly pending: readonly Pick<Rule, 'id' | 'title'>[]
}

/**
 * What a change did to the findings: each is new, changed or settled, and never two of these.
 *
 * @example compareFindings(before, before.after(estate, difference)).settled
 */
export function compareFindings(before: Findings, after: Findings): FindingsChange {
  const again = after.againSince(before)
  const old = new Map(again.before.map((finding) => [finding.id, finding]))
  const now = new Set(again.now.map((finding) => finding.id))
  const sorted = [...again.now].sort(inOrder)
  return {
    raised: sorted.filter(({ id }) => !old.has(id)),
    changed: sorted.flatMap((finding) => {
      const was = old.get(finding.id)
      return was && (was.sentence !== finding.sentence || was.severity !== finding.severity) ? [{ finding, how: wayOf(was, finding) }] : []
    }),
    settled: again.before.filter((finding) => !now.has(finding.id)).sort(inOrder),
    pending: after.pending,
  }
}

/** Which way a finding went: by its severity, otherwise by the figure that its rule is judged by. */
function wayOf(was: Finding, is: Finding): ChangedFinding['how'] {
  const figures = [measureOf(was), measureOf(is)] as const
  const more = figures[0] === null || figures[1] === null ? 0 : figures[1] - figures[0]
  const grown = bySeverity(was, is) || (ruleOf(is)?.measure?.worse === 'less' ? -more : more)
  return grown > 0 ? 'worse' : grown < 0 ? 'better' : 'changed'
}

/** What the estate's people agreed on, and the estate's own domain and time zone, are read by rules of all kinds. */
const isEverywhere = ({ kind }: Touched): boolean => kind === 'policy' || kind === 'estate'

/** By what records are called. */
const NAMING: readonly string[] = ['name', 'position', 'use']

/** What records that are called otherwise now were called before, in small letters. */
const formerNames = ({ updated }: Difference): readonly string[] =>
  Object.values(updated).flatMap(({ from, to }) => {
    const [was, is] = [from, to] as unknown as readonly [Readonly<Record<string, unknown>>, Readonly<Record<string, unknown>>]
    return NAMING.filter((field) => was[field] !== is[field]).map((field) => String(was[field] ?? '').toLowerCase())
  })

/** A sentence that names only the first of several: with another name others may be the first. */
const LEAVES_OUT = /\d (?:more|others?)\b/

/** The subjects with findings that say one of some names, or leave names out. */
const subjectsShowing = (found: OfRule, names: readonly string[]): readonly string[] =>
  found.keys().filter((id) => found.get(id)?.some((finding) => isShowing(finding, names)))

function isShowing({ sentence, remedy, evidence }: Finding, names: readonly string[]): boolean {
  const said = [sentence, remedy, ...evidence.flatMap(({ label, value }) => [label, String(value)])].join('\n').toLowerCase()
  return LEAVES_OUT.test(said) || names.some((name) => said.includes(name))
}

/** The rules that look again, at whatever, when a record of a kind came, went or changed. */
const rulesLookingAt: ReadonlyMap<Kind, readonly Rule[]> = new Map(
  kindNames.map((kind) => [kind, rules.filter((rule) => rule.appliesTo === kind || rule.again[kind] !== undefined)]),
)

const NO_SUBJECTS: ReadonlySet<string> = new Set()

function subjectsAgain(rule: Rule, estate: Estate, ofKind: ReadonlyMap<Kind, readonly Touched[]>): ReadonlySet<string> | 'all' {
  let ids: Set<string> | undefined
  for (const [kind, touched] of ofKind) {
    const lookAgain = rule.again[kind]
    if (!lookAgain && kind !== rule.appliesTo) continue
    ids ??= new Set()
    for (const { record, changed } of touched) {
      if (kind === rule.appliesTo) ids.add(record.id)
      const more = lookAgain?.(estate, record as never, changed)
      if (more === 'all') return 'all'
      if (more) for (const id of more) ids.add(id)
    }
  }
  return ids ?? NO_SUBJECTS
}

function checkAll(rule: Rule, estate: Estate, today: string): OfRule {
  const policy = policyOf(estate)
  const found = new Map<string, readonly Finding[]>()
  for (const subject of estate.all(rule.appliesTo)) {
    const findings = check(rule, estate, subject, policy, today)
    if (findings.length > 0) found.set(subject.id, findings)
  }
  return LayeredMap.of(found)
}

/** Looks at all subjects of a rule again, and notes what that was and is. */
function allAgain(rule: Rule, estate: Estate, today: string, old: OfRule, { before, now }: Rechecked): OfRule {
  const found = checkAll(rule, estate, today)
  for (const findings of old.values()) before.push(...findings)
  for (const findings of found.values()) now.push(...findings)
  return found
}

function check(rule: Rule, estate: Estate, subject: AnyRecord, policy: Policy, today: string): readonly Finding[] {
  const observations: readonly CheckResult[] = rule.check(estate, subject, policy, today)
  return observations.map(({ apart, ...observation }) => {
    const about = observation.subject ?? { kind: rule.appliesTo, id: subject.id }
    return {
      ...observation,
      id: `${rule.id}:${about.id}${apart === undefined ? '' : `:${apart}`}`,
      ruleId: rule.id,
      title: rule.title,
      subject: about,
      isFixable: rule.fix !== undefined,
    }
  })
}

/**
 * One finding as it is now, looked for where its id says.
 *
 * @param today the day it is checked for, `YYYY-MM-DD`
 * @returns undefined when there is none with this id
 */
export function findingOf(estate: Estate, id: string, today: string): Finding | undefined {
  const [ruleId = '', subjectId = ''] = id.split(':')
  const rule = rules.find((one) => one.id === ruleId)
  if (!rule) return undefined
  const policy = policyOf(estate)
  const subject = estate.find(rule.appliesTo, subjectId)
  const own = subject ? check(rule, estate, subject, policy, today).find((finding) => finding.id === id) : undefined
  // A check may be about another thing than it looks at.
  return (
    own ??
    estate
      .all(rule.appliesTo)
      .flatMap((one) => check(rule, estate, one, policy, today))
      .find((finding) => finding.id === id)
  )
}
