import type { Rule } from '../rule.js'
import { addressInPool } from './address-in-pool.js'
import { addressOutsideSubnet } from './address-outside-subnet.js'
import { arrayPlanned } from './arrays.js'
import { backupOnHost } from './backup-on-host.js'
import { crossedAdapters } from './crossed-adapters.js'
import { deviationOpen, stepFailed } from './deviation.js'
import { diskNoStore, diskOverSize, diskStrayed, driveSameSerial } from './disks.js'
import { duplicateAddress } from './duplicate-address.js'
import { duplicateMac } from './duplicate-mac.js'
import { guestBoard, guestDrivers, guestLimit, guestMinimum } from './guest-devices.js'
import {
  guestMediumAttached,
  guestMediumOutOfReach,
  guestNotApart,
  guestHostNotInService,
  guestNoHost,
  guestNotVerified,
  guestSupportEnds,
  guestWaitsInCircle,
  snapshotDeep,
  snapshotOld,
} from './guest-life.js'
import { guestLargerThanAnyHost } from './guest-larger-than-any-host.js'
import { guestMoreVcpusThanHost } from './guest-more-vcpus-than-host.js'
import { hostFingerprint, hostSupportEnds, hostTrialEnds, hostWarrantyEnds } from './host-dates.js'
import { circuitOverload, hostModules, hostNotSupported, hostOneUplink } from './host-hardware.js'
import { hostLost } from './host-lost.js'
import { hostMemory } from './host-memory.js'
import { hostProcessors } from './host-processors.js'
import { leftoverDue, moveLate, sourceRunsAfterMove } from './migrations.js'
import { nestedBeyondGuest, nestedMacsDropped } from './nested.js'
import { networkNotOnHost } from './network-not-on-host.js'
import { noBackup } from './no-backup.js'
import {
  copyOfOldVersion,
  sharedIdentity,
  templateNotAtRest,
  templateNotGeneralised,
  templateNotPatched,
  templateStoreFull,
} from './templates.js'
import { notGeneralised } from './not-generalised.js'
import { portCannotCarry, portDuplicateMac, portFasterThanRecorded } from './ports.js'
import { adapterNotConnected, addressNotForMachines, machineDiffers } from './machine-settings.js'
import { leaseAgainstPlan, reservationWithoutMac } from './dhcp.js'
import { intentNotMet } from './intents.js'
import { duplicateName, guestName, hostName } from './names.js'
import { forwardLost, gatewayForwards, routeUnreachable } from './routers.js'
import { duplicateVlan, poolUnsound, prefixOfRole, subnetGateway, subnetOverlap } from './subnets.js'
import { mtuTooSmall, networkNotCarried, storageOneUplink } from './uplinks.js'
import { storeFull } from './store-full.js'
import { storeFullSoon } from './store-growth.js'
import { storePromise } from './store-promise.js'

/** Every rule that looks at an estate. */
export const rules: readonly Rule[] = [
  leftoverDue,
  moveLate,
  sourceRunsAfterMove,
  hostMemory,
  hostProcessors,
  hostLost,
  guestLargerThanAnyHost,
  guestMoreVcpusThanHost,
  storeFull,
  storePromise,
  duplicateAddress,
  addressOutsideSubnet,
  addressInPool,
  duplicateMac,
  networkNotOnHost,
  crossedAdapters,
  backupOnHost,
  notGeneralised,
  sharedIdentity,
  templateNotPatched,
  templateNotGeneralised,
  templateNotAtRest,
  templateStoreFull,
  copyOfOldVersion,
  noBackup,
  hostNotSupported,
  hostModules,
  hostOneUplink,
  hostTrialEnds,
  hostWarrantyEnds,
  hostSupportEnds,
  hostFingerprint,
  circuitOverload,
  portCannotCarry,
  portDuplicateMac,
  portFasterThanRecorded,
  arrayPlanned,
  deviationOpen,
  stepFailed,
  subnetOverlap,
  subnetGateway,
  poolUnsound,
  prefixOfRole,
  duplicateVlan,
  guestName,
  hostName,
  duplicateName,
  reservationWithoutMac,
  leaseAgainstPlan,
  networkNotCarried,
  mtuTooSmall,
  storageOneUplink,
  gatewayForwards,
  forwardLost,
  routeUnreachable,
  addressNotForMachines,
  machineDiffers,
  adapterNotConnected,
  intentNotMet,
  guestDrivers,
  guestBoard,
  guestMinimum,
  guestLimit,
  guestHostNotInService,
  guestNoHost,
  guestNotVerified,
  guestSupportEnds,
  guestMediumAttached,
  guestMediumOutOfReach,
  guestNotApart,
  guestWaitsInCircle,
  snapshotOld,
  snapshotDeep,
  storeFullSoon,
  nestedBeyondGuest,
  nestedMacsDropped,
  diskStrayed,
  diskNoStore,
  diskOverSize,
  driveSameSerial,
]
