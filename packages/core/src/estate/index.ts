export { routineOf, routinesFor, stepOfRoutine } from './routines.js'
export { CommandError, joinPath, type CommandErrorCode, type FieldProblem } from './command-error.js'
export { defineKind, fieldProblems, readFields, readRecord, readSome, type Key, type KindDefinition } from './define-kind.js'
export { dayAfter, dayIn, dayOf, daysBetween, formatInstant, timeZoneOf } from './day.js'
export { addressOwner, groupTitle, holderPhrase, migrationNames, recordPhrase, recordTitle, routerName } from './describe.js'
export {
  changedFields,
  compose,
  DifferenceSum,
  emptyDifference,
  differenceInCurrentForm,
  invert,
  isEmpty,
  sameRecord,
  sameValue,
  touchedIds,
  touchedRecords,
  type Difference,
  type Touched,
  type RecordEntry,
  type Update,
} from './difference.js'
export {
  adaptersOf,
  disksOf,
  holdsDisks,
  machinesOn,
  platformOf,
  referredTo,
  referrersOf,
  sameSerial,
  storeReach,
  strayedDisk,
  storesForDisks,
  storesOf,
  type Referrer,
} from './relations.js'
export { chosenFields, leftOut, type FieldsOf, type Decided } from './chosen-fields.js'
export { Estate, type EstateBuilder } from './estate.js'
export { LayeredMap } from './layered-map.js'
export {
  bool,
  choice,
  commands,
  difference,
  integer,
  note,
  optional,
  orderKey,
  real,
  ref,
  refMap,
  refs,
  tags,
  text,
  textMap,
  type ChoiceField,
  type Field,
  type Fields,
  type InputOf,
  type NumberField,
  type StoredCommand,
  type TextField,
  type TextShape,
  type ValuesOf,
} from './field.js'
export { canonicalIp, isHostLabel } from './text-shapes.js'
export { isId, readCommandsWith, readField, type FieldReading } from './read-field.js'
export { aboutOf } from './about.js'
export { guestsInside, standstillOf } from './standstill.js'
export { guestStates, isInService, isPoweredOn, isToCome, statesAfter, type GuestState } from './lifecycle.js'
export { policyOf } from './policies.js'
export { formatField, optionLabel } from './format-field.js'
export { byOrder, orderBetween, ordersBetween } from './order.js'
export { derivedId, makeIds, seededRandom } from './ids.js'
export {
  isKind,
  isMadeByVerbs,
  type Acceptance,
  kindNames,
  kinds,
  docOf,
  referencesOf,
  writableFields,
  type Adapter,
  type Address,
  type AnyRecord,
  type Attachment,
  type Batch,
  type Copy,
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
  type Item,
  type Kind,
  type Lease,
  type MemoryModule,
  type Hardware,
  type Leftover,
  type Migration,
  type Volume,
  type Network,
  type NewRecord,
  type Person,
  type Plan,
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
  type Template,
  type Workload,
} from './kinds/index.js'
export { identities } from './kinds/guests.js'
export { cloneSchools } from './kinds/clones.js'
export { moveMethods, moveStates } from './kinds/moves.js'
export { itemKinds } from './kinds/plans.js'
export { sheetSubjects, sheetWorks } from './kinds/sheets.js'
export { portRoles } from './kinds/hardware.js'
export { groupKinds, protocols } from './kinds/traffic.js'
export { differing, type Differing } from './differing.js'
export { upgradedOf, upgraded, upgradedCommand, type Upgrade } from './upgrades.js'
