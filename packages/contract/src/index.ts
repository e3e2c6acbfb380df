export { commandClasses, recordClasses } from './commands/command-classes.js'
export { classOfFields, FollowsField, type FieldsClass } from './commands/follows-field.js'
export {
  propertiesOf,
  schemaOfCommand,
  schemaOfEstateFile,
  schemaOfField,
  schemaOfRecord,
  schemas,
  type JsonSchema,
} from './commands/json-schema.js'
export { COMMANDS_MAX, flattenErrors, problemsIn, readCommands } from './commands/validate-commands.js'
export { CreateEstateRequest } from './estates/requests.js'
export * from './estates/responses.js'
export { ApplyImportRequest, importKinds, ImportRequest } from './exchange/requests.js'
export { OBSERVATIONS_MAX, ObservationsRequest, ObserverRequest } from './guests/requests.js'
export * from './guests/responses.js'
export { LookUpRequest, PingRequest, reachFields, ReachabilityRequest, type MacRegistryResponse } from './networks/requests.js'
export { queries } from './queries/queries.js'
export { CommandsRequest, recordingFields } from './commands/requests.js'
export { ControllerRequest, controllerTexts, MachineRequest, machineFields } from './collections/requests.js'
export { CarryOutRequest, carryOutFields } from './plans/requests.js'
export * from './plans/responses.js'
export { READINGS_MAX, ReadingsRequest } from './transfers/requests.js'
export * from './transfers/responses.js'
