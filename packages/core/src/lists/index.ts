export { bySeverity, compareNames, groupBy, inNameOrder, median, severities, type Severity } from './lists.js'
