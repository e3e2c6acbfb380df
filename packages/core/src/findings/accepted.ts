import type { SeenFinding } from '../commands/index.js'
import type { Acceptance, Estate } from '../estate/index.js'
import { findingOf, measureOf, ruleOf } from './findings.js'
import type { Evidence, Finding } from './rule.js'
import { groupBy } from '../lists/index.js'

/** A finding that is accepted, and by what. */
export interface AcceptedFinding {
  readonly finding: Finding
  readonly acceptance: Acceptance
}

/** What a finding is based on, as one text. What changes with the day alone is left out: time does not make it worse, its end date does. */
const evidenceText = (evidence: readonly Evidence[]): string =>
  evidence
    .filter(({ unit }) => unit !== 'days')
    .map(({ label, value, unit }) => `${label}: ${value}${unit ? ` ${unit}` : ''}`)
    .join('\n')

/** Whether a finding got worse since it was accepted: in the direction that its rule names, or at all where it names none. */
export function isWorse(finding: Finding, acceptance: Pick<Acceptance, 'evidence' | 'value'>): boolean {
  const measure = ruleOf(finding)?.measure
  const value = measureOf(finding)
  if (!measure || value === null || acceptance.value === null) return evidenceText(finding.evidence) !== acceptance.evidence
  return measure.worse === 'more' ? value > acceptance.value : value < acceptance.value
}

/** The id of a finding as it was before there was a word for what tells it apart: with its place in a list, for all but the first. */
const WITH_PLACE = /^([^:]+:[^:]+?)(?::\d+)?$/

/** Acceptances by what a finding's id begins with, the rule and the thing. */
const beginningsIn = (estate: Estate): ReadonlyMap<string, readonly Acceptance[]> =>
  groupBy(estate.all('acceptance'), ({ finding }) => WITH_PLACE.exec(finding)?.[1] ?? '')
const byBeginning = (estate: Estate): ReadonlyMap<string, readonly Acceptance[]> => estate.derive(['acceptance'], beginningsIn)

/**
 * What a finding is accepted by. One that was accepted when its id had its place in a list in it is known by its sentence, or as the only
 * one that its rule finds on that thing.
 */
function acceptanceOf(estate: Estate, { id, ruleId, subject, sentence }: Finding): Acceptance | undefined {
  const [own] = estate.byKey('acceptance', { finding: id })
  if (own) return own
  const beginning = `${ruleId}:${subject.id}`
  const older = byBeginning(estate).get(beginning) ?? []
  return older.find((acceptance) => acceptance.sentence === sentence) ?? (id === beginning ? older[0] : undefined)
}

/**
 * Parts findings into those that are open and those that somebody accepted. One that got worse, or whose acceptance is over, is open
 * again.
 *
 * @param today the day it is asked for, `YYYY-MM-DD`
 */
export function partAccepted(
  estate: Estate,
  findings: readonly Finding[],
  today: string,
): { readonly open: readonly Finding[]; readonly accepted: readonly AcceptedFinding[] } {
  if (estate.count('acceptance') === 0) return { open: findings, accepted: [] }
  const open: Finding[] = []
  const accepted: AcceptedFinding[] = []
  for (const finding of findings) {
    const acceptance = acceptanceOf(estate, finding)
    if (acceptance && acceptance.until >= today && !isWorse(finding, acceptance)) accepted.push({ finding, acceptance })
    else open.push(finding)
  }
  return { open, accepted }
}

/**
 * A finding as it is now, for a command about it.
 *
 * @param today the day it is checked for, `YYYY-MM-DD`
 * @returns undefined when there is none with this id
 */
export function seenFinding(estate: Estate, id: string, today: string): SeenFinding | undefined {
  const finding = findingOf(estate, id, today)
  return finding && { sentence: finding.sentence, evidence: evidenceText(finding.evidence), value: measureOf(finding) }
}
