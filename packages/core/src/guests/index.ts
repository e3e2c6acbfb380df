export { byHand } from './by-hand.js'
export { compareGuest, takeOverGuest } from './compare-found.js'
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
export { checkDevices, modeReach, type DeviceMend, type DevicePlan, type DeviceRemark, type ModeReach } from './devices.js'
export { devicePlanOf } from './device-plan.js'
export { reprovision, type Reprovisioning } from './reprovision.js'
export { shippedSystems } from './shipped-systems.js'
export { GROWTH_MONTHS, sizeFor, sizingSchools, type SizedDisk, type Sizing, type SizingSchool } from './sizing.js'
export { neededGuests, startOrder, waitsOf, type OrderStep, type StartOrder, type Wait } from './start-order.js'
export { shippedWorkloads, workloadsOf } from './workloads.js'
export { specOf } from './spec-of.js'
export { finishInstall, installSheet, plannedAddress, verificationSteps } from './install-sheet.js'
