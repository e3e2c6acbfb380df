export type { FoundAddress, FoundDrive, FoundHost, FoundModule, FoundPort, FoundReading, Unread } from './found/found.js'
export { readFound } from './found/read-found.js'
export {
  isRedfishTree,
  isWorthReading,
  linksOf,
  readRedfish,
  redfishSystems,
  type RedfishSystem,
  type RedfishTree,
} from './found/redfish.js'
export { DEPTH_MAX, TEXT_MAX } from './safe-text.js'
export { readOsinfo, type Catalogue, type CatalogueSystem } from './osinfo/read-osinfo.js'
