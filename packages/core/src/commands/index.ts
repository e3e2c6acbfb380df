export { apply, applyAll, applyWork, attempt, attemptIn, project, type Applied, type Projection, type StepOutcome } from './apply.js'
export {
  allCommandTypes,
  commandDoc,
  commandShape,
  type AddCommand,
  type Command,
  type CommandShape,
  type RemoveCommand,
  type UpdateCommand,
  type VerbCommand,
} from './command.js'
export {
  removeWithReferring,
  checkDifference,
  checkWhole,
  type CommandContext,
  type SeenFinding,
  type EstateEdit,
  type IdMaker,
  type PathOf,
} from './estate-edit.js'
export { sayCommand, sayWhole, describeDifference, type SaidCommand, type DescribedRecord } from './say.js'
export { readStoredCommand } from './stored.js'
export { findingVerbs } from './accept-finding.js'
export { withIds } from './with-ids.js'
export {
  defineVerb,
  isVerb,
  newIdField,
  registerArrival,
  registerFollow,
  registerVerbs,
  verbOf,
  type Follow,
  type Names,
  type Verb,
  type AnyVerb,
  type VerbDefinition,
  type VerbInput,
  type Verbs,
} from './verb.js'
