export { bySeverity, compareNames, groupBy, inNameOrder, median, oncePer, severities, type Severity } from './lists.js'
