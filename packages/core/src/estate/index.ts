export {
  apply,
  applyAll,
  commandDoc,
  commandShape,
  commandTypes,
  isVerb,
  verbs,
  type AddCommand,
  type Applied,
  type Command,
  type CommandShape,
  type RemoveCommand,
  type UpdateCommand,
  type Verb,
  type VerbCommand,
  type VerbInput,
} from './commands/index.js'
export { CommandError, type CommandErrorCode, type FieldProblem } from './command-error.js'
export { fieldProblems, readFields, type Key, type KindDefinition } from './define-kind.js'
export { dayAfter, dayIn, dayOf, daysBetween, timeZoneOf } from './day.js'
export { addressOwner, groupTitle, recordPhrase, recordTitle, routerName } from './describe.js'
export {
  changedFields,
  compose,
  emptyDifference,
  inCurrentForm,
  invert,
  isEmpty,
  sameRecord,
  touchedIds,
  type Difference,
  type Presence,
  type Update,
} from './difference.js'
export { checkDifference, checkWhole, referrersOf, type CommandContext, type Referrer } from './draft.js'
export { Estate } from './estate.js'
export {
  canonicalIp,
  isHostLabel,
  isId,
  readField,
  type ChoiceField,
  type Field,
  type FieldReading,
  type Fields,
  type InputOf,
  type NumberField,
  type TextField,
  type TextShape,
  type ValuesOf,
} from './field.js'
export { guestStates, isInService, isPoweredOn, statesAfter, type GuestState } from './lifecycle.js'
export { policyOf } from './policies.js'
export { formatField, sayCommand, sayDifference, type SaidRecord } from './say.js'
export { makeIds, seededRandom } from './ids.js'
export {
  isKind,
  kindNames,
  kinds,
  referencesOf,
  type Adapter,
  type Address,
  type AnyRecord,
  type Attachment,
  type Dependency,
  type Deviation,
  type Disk,
  type Drive,
  type Filter,
  type Forward,
  type DriveArray,
  type Guest,
  type Host,
  type Image,
  type Intent,
  type Kind,
  type Lease,
  type MemoryModule,
  type Migration,
  type Network,
  type NewRecord,
  type Person,
  type Platform,
  type Policy,
  type Pool,
  type RecordOf,
  type Port,
  type Records,
  type Route,
  type Sheet,
  type Snapshot,
  type Step,
  type Store,
  type Subnet,
  type Switch,
  type System,
  type Workload,
} from './kinds/index.js'
export { portRoles } from './kinds/hardware.js'
export { groupKinds, protocols } from './kinds/traffic.js'
