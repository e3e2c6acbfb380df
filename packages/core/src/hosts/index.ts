export { readHostLine, type HostLineNames, type HostReading, type HostSpec } from './host-line.js'
export { storesOfNewHost } from './stores-of-new-host.js'
export { rackPlace } from './rack-place.js'
export { carries } from './carries.js'
export { failsWith, isLostWith, serverOf, serverWith, sharedFailure } from './store-inside.js'
export { ELECTRICAL_CAUTION, HANDLING_CAUTION, CONTINUOUS_SHARE, circuitLoads, heat, type CircuitLoad } from './power.js'
export {
  arrayLevels,
  arrayOf,
  drivesIn,
  drivesOf,
  labelAgainstShown,
  planArray,
  readDriveList,
  uncutBytes,
  type ArrayLevel,
  type ArrayPlan,
} from './array.js'
export { checkManagement, firstChecks, type ManagementSign } from './management.js'
export { managementPlan, type ManagementPlan } from './management-plan.js'
export { maskLength, readShownNetwork, type ShownNetwork, type UnreadLine } from './shown-network.js'
export { alikeDrives, alikeModules, alikePorts, type Alike } from './several-alike.js'
export { partsOfNewHost, type HostParts } from './parts-of-new-host.js'
export { fieldsOfLike, partsOfLike } from './like-host.js'
export { materialsOf, tickMaterial, type Material } from './materials.js'
export { moduleView, type ModuleView } from './memory-modules.js'
export { portsOf, proposeRoles, rolePlan, type PortRole, type RolePlan } from './ports.js'
export { commonLevel, lacksFor, levelOf, processorLevels, type LevelReading, type ProcessorLevel } from './processor-level.js'
export { nestingOf, surveyHost, type NestingLayer, type Survey, type SurveyLine, type SurveyVerdict } from './survey.js'
export { shippedPlatforms } from './shipped-platforms.js'
