import type { Kind, kinds } from '@insel/core'

type FieldName<K extends Kind> = Extract<keyof (typeof kinds)[K]['fields'], string>
type Groups<K extends Kind> = Readonly<Record<FieldName<K>, string>>

/** Of which group each field of a long form is; a new field does not compile until it has one. Groups come in this order. */
const host: Groups<'host'> = {
  name: 'Host',
  kind: 'Host',
  outerGuestId: 'Host',
  site: 'Host',
  state: 'Host',
  platformId: 'Host',
  isRouter: 'Host',
  sockets: 'Processors and memory',
  coresPerSocket: 'Processors and memory',
  threadsPerCore: 'Processors and memory',
  memoryMiB: 'Processors and memory',
  memorySlots: 'Processors and memory',
  failoverReserveMiB: 'Processors and memory',
  processorModel: 'Processors and memory',
  clockMHz: 'Processors and memory',
  cpuFlags: 'Processors and memory',
  model: 'Machine and place',
  serial: 'Machine and place',
  assetTag: 'Machine and place',
  rack: 'Machine and place',
  heightUnit: 'Machine and place',
  mounting: 'Machine and place',
  controllers: 'Machine and place',
  purchasedOn: 'Machine and place',
  warrantyEndsOn: 'Machine and place',
  controllerAddress: 'Machine and place',
  managementMac: 'Machine and place',
  drawWatts: 'Power',
  powerSupplies: 'Power',
  circuit: 'Power',
  circuitVolts: 'Power',
  circuitAmps: 'Power',
  firmware: 'Build',
  secureBoot: 'Build',
  imageId: 'Build',
  stickBytes: 'Build',
  stickMayBeErased: 'Build',
  atHand: 'Build',
  fingerprint: 'Build',
  trialEndsOn: 'Build',
  tags: 'Notes',
  note: 'Notes',
}
const guest: Groups<'guest'> = {
  name: 'Guest',
  kind: 'Guest',
  hostId: 'Guest',
  state: 'Guest',
  purpose: 'Guest',
  systemId: 'Guest',
  verifiedAt: 'Guest',
  vcpu: 'Processors and memory',
  sockets: 'Processors and memory',
  processorMode: 'Processors and memory',
  latency: 'Processors and memory',
  memoryMiB: 'Processors and memory',
  memoryMinMiB: 'Processors and memory',
  workload: 'Processors and memory',
  firmware: 'Firmware and install',
  secureBoot: 'Firmware and install',
  trustedModule: 'Firmware and install',
  machineType: 'Firmware and install',
  mediumId: 'Firmware and install',
  mediumConnected: 'Firmware and install',
  bootFirst: 'Firmware and install',
  installer: 'Firmware and install',
  packages: 'Firmware and install',
  locale: 'Firmware and install',
  owner: 'Care',
  contact: 'Care',
  criticality: 'Care',
  patchedOn: 'Care',
  backupStoreId: 'Care',
  group: 'Care',
  apartFromId: 'Care',
  isRouter: 'Care',
  clonedFromId: 'Identity',
  clonedVersion: 'Identity',
  identity: 'Identity',
  identityFromId: 'Identity',
  identityFromName: 'Identity',
  identityKey: 'Identity',
  tags: 'Notes',
  note: 'Notes',
}
const grouped: Partial<Record<Kind, Readonly<Record<string, string>>>> = { host, guest }

/** The fields of a form in groups, in the order of the groups; a form of another kind is one group without a heading. */
export function groupsOf(kind: Kind, names: readonly string[]): readonly { readonly title: string; readonly names: readonly string[] }[] {
  const groups = grouped[kind]
  if (!groups) return [{ title: '', names }]
  const order = Object.keys(groups)
  const sorted = [...names].sort((a, b) => order.indexOf(a) - order.indexOf(b))
  return [...new Set(Object.values(groups))].flatMap((title) => {
    const own = sorted.filter((name) => groups[name] === title)
    return own.length > 0 ? [{ title, names: own }] : []
  })
}
