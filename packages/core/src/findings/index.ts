export { isWorse, partAccepted, seenFinding, type AcceptedFinding } from './accepted.js'
export { compareFindings, Findings, fixOf, type FindingsChange } from './findings.js'
export type { Evidence, Finding, Rule } from './rule.js'
export { rules } from './rules/index.js'
