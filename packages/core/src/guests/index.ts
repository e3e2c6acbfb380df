export { composeGuest, demandOfDraft, type GuestDraft } from './compose.js'
export { probablyMeant } from './memory-typo.js'
export {
  printSpecLine,
  readSpecLine,
  type GuestSpec,
  type SpecDisk,
  type SpecMeaning,
  type SpecNames,
  type SpecPart,
  type SpecReading,
} from './spec-line.js'
export { specOf } from './spec-of.js'
