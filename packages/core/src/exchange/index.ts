export { checkManifest, readManifest, type ManifestCheck, type ManifestLine } from './manifest.js'
export { ESTATE_FORMAT, ESTATE_VERSION, estateFile, readEstateFile, type EstateFile, type EstateFileReading } from './estate-file.js'
export { guestMarkdown } from './guest-sheet.js'
export {
  guestColumns,
  guestSizeColumns,
  guestsCsv,
  guestTableLeavesOut,
  importGuests,
  readGuestTable,
  type GuestColumn,
  type GuestImport,
  type GuestTable,
} from './guest-table.js'
export { ovfVersions, type OvfAdapter, type OvfDisk, type OvfSystem, type OvfVersion } from './ovf.js'
export { guestNameOf, ovfCommands, ovfDraft, type OvfMapping } from './ovf-commands.js'
export { readOvf, type OvfReading, type UnusedElement } from './read-ovf.js'
export { writeOvf } from './write-ovf.js'
export { recordsCsv, recordTables, type RecordTable } from './record-table.js'
export { planMarkdown } from './plan-sheet.js'
export { planFile, type PlanFile } from './plan-file.js'
export { readPlanFile, type PlanFileReading, type PlanImport } from './read-plan-file.js'
export type { NameInFile } from './names-in-file.js'
