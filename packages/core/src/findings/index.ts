export { isWorse, partAccepted, seenFinding, type AcceptedFinding } from './accepted.js'
export { compareFindings, Findings, fixOf, type ChangedFinding, type FindingsChange } from './findings.js'
export { evidenceShown, isFindingOn, type Evidence, type Finding, type Rule } from './rule.js'
export { rules } from './rules/index.js'
