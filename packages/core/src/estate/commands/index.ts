export { apply, applyAll, project, type Applied, type Projection, type StepOutcome } from './apply.js'
export {
  commandDoc,
  commandShape,
  commandTypes,
  type AddCommand,
  type Command,
  type CommandShape,
  type RemoveCommand,
  type UpdateCommand,
  type VerbCommand,
} from './command.js'
export { isVerb, verbs, type Verb, type VerbInput } from './verbs.js'
