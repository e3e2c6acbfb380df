export { batchVerbs, adapterChanged } from './batch-verbs.js'
export { cloneGuest } from './clone-verb.js'
export { copyLines, copyMinutes } from './copy-lines.js'
export { copySteps, isCopyStep, type CopyStep, type CopyStepKey } from './copy-steps.js'
export { identityClasses, identityKeyOf, identityOfCopy, isBeingCopied, sayIdentity, sharersOf, templateOf } from './identity.js'
export { cleaning, identityParts, partsLeft, type IdentityPart } from './identity-parts.js'
export { identityVerbs } from './identity-verb.js'
export { newerVersionOf, newerVersions, olderVersions } from './versions.js'
export { lineages, type Lineage } from './lineage.js'
export {
  addressings,
  composeBatch,
  patternFor,
  usualWish,
  type Addressing,
  type BatchRow,
  type BatchWish,
  type CloneCommand,
  type ComposedBatch,
  type RowEdit,
  type RowFinding,
} from './compose-batch.js'
export { NAMES_MAX, expandNames, type NamesReading } from './name-pattern.js'
export { CopyPlacer, spreads, type CopyNeed, type CopyPlace, type CopySpread } from './place-copies.js'
export { batchMinutes, batchStores, type BatchMinutes, type BatchStore } from './batch-cost.js'
export { templateSheet } from './template-sheet.js'
