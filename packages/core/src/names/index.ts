export {
  addressPlan,
  addressPlanCsv,
  dhcpReservations,
  dhcpReservationsCsv,
  hostsLines,
  macOf,
  type PlannedAddress,
} from './address-plan.js'
export { fullName, nameTable, zoneOf, type NamedAddress, type NameTable, type Unnamed } from './name-table.js'
export { importNames, ipOfReverse, readNames, type NameEntry, type NamesImport, type RejectedLine } from './read-names.js'
export { reverseName, zoneFile, zoneSerial, zonesOf, type Zone } from './zone-file.js'
export { dnsmasqLines, keaDhcp4 } from './dhcp-lines.js'
