export { hasKernelDrivers } from './kernel-drivers.js'
export { manualSteps } from './manual-steps.js'
export { composeGuest, demandOfDraft, type GuestDraft } from './compose.js'
export { probablyMeant } from './memory-typo.js'
export {
  guestLineOptions,
  printSpecLine,
  readSpecLine,
  type GuestSpec,
  type SpecDisk,
  type SpecNames,
  type SpecReading,
} from './spec-line.js'
export { checkDevices } from './devices.js'
export { modeReach, type ModeReach } from './mode-reach.js'
export { type DeviceMend, type DevicePlan, type DeviceRemark } from './device-remark.js'
export { devicePlanOf } from './device-plan.js'
export { reprovision, type Reprovisioning } from './reprovision.js'
export { shippedSystems } from './shipped-systems.js'
export { GROWTH_MONTHS, sizeFor, sizingSchools, type SizedDisk, type Sizing, type SizingSchool } from './sizing.js'
export { neededGuests, startOrder, waitsOf, type OrderStep, type StartOrder, type Wait } from './start-order.js'
export { shippedWorkloads, workloadsOf } from './workloads.js'
export { specOf } from './spec-of.js'
export { finishInstall, installSheet, plannedAddress, verificationSteps } from './install-sheet.js'
export { checkMapped, checkReach } from './placing.js'
export { guestVerbs } from './verbs.js'
