export { copiedOf, takenWhereItArrives, type Copied } from './copied.js'
export { CHANGED_PER_DAY, DIRTY_PER_SECOND, methodFacts, PAUSE_SECONDS, type MethodFacts, type MoveMethod } from './methods.js'
