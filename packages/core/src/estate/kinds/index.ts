import type { Field } from '../field.js'
import type { InputOfFields, KindDefinition, RecordOfFields } from '../define-kind.js'
import { adapterKind, dependencyKind, diskKind, guestKind, snapshotKind } from './guests.js'
import { arrayKind, driveKind, moduleKind, portKind } from './hardware.js'
import { hostKind, platformKind, storeKind } from './hosts.js'
import { addressKind, attachmentKind, leaseKind, networkKind, poolKind, subnetKind, switchKind } from './networks.js'
import { entryKind } from './entries.js'
import { acceptanceKind } from './findings.js'
import { batchKind, copyKind, templateKind } from './clones.js'
import { hardwareKind, leftoverKind, migrationKind, volumeKind } from './moves.js'
import { itemKind, planKind } from './plans.js'
import { estateKind, personKind, policyKind } from './places.js'
import { deviationKind, imageKind, routineKind, sheetKind, stepKind } from './sheets.js'
import { systemKind, workloadKind } from './systems.js'
import { filterKind, forwardKind, intentKind, routeKind } from './traffic.js'

/** Every kind of record, defined once. Order: what is referred to comes before what refers to it, where it can. */
export const kinds = {
  estate: estateKind,
  person: personKind,
  policy: policyKind,
  platform: platformKind,
  system: systemKind,
  workload: workloadKind,
  image: imageKind,
  host: hostKind,
  module: moduleKind,
  array: arrayKind,
  drive: driveKind,
  switch: switchKind,
  port: portKind,
  store: storeKind,
  network: networkKind,
  attachment: attachmentKind,
  subnet: subnetKind,
  pool: poolKind,
  guest: guestKind,
  disk: diskKind,
  snapshot: snapshotKind,
  dependency: dependencyKind,
  adapter: adapterKind,
  address: addressKind,
  lease: leaseKind,
  forward: forwardKind,
  route: routeKind,
  filter: filterKind,
  intent: intentKind,
  hardware: hardwareKind,
  volume: volumeKind,
  template: templateKind,
  plan: planKind,
  item: itemKind,
  migration: migrationKind,
  leftover: leftoverKind,
  batch: batchKind,
  copy: copyKind,
  sheet: sheetKind,
  step: stepKind,
  routine: routineKind,
  deviation: deviationKind,
  acceptance: acceptanceKind,
  entry: entryKind,
} as const

export type Kind = keyof typeof kinds
export const kindNames = Object.keys(kinds) as readonly Kind[]
export const isKind = (name: string): name is Kind => Object.hasOwn(kinds, name)

type FieldsOf<K extends Kind> = (typeof kinds)[K]['fields']
/** A stored record of a kind. */
export type RecordOf<K extends Kind> = RecordOfFields<FieldsOf<K>>
/** A record of a kind as one writes it to add it. */
export type NewRecord<K extends Kind> = InputOfFields<FieldsOf<K>>
export type AnyRecord = RecordOf<Kind>

export type Host = RecordOf<'host'>
export type Image = RecordOf<'image'>
export type MemoryModule = RecordOf<'module'>
export type DriveArray = RecordOf<'array'>
export type Drive = RecordOf<'drive'>
export type Port = RecordOf<'port'>
export type Sheet = RecordOf<'sheet'>
export type Step = RecordOf<'step'>
export type Routine = RecordOf<'routine'>
export type Deviation = RecordOf<'deviation'>
export type Store = RecordOf<'store'>
export type Platform = RecordOf<'platform'>
export type Network = RecordOf<'network'>
export type Attachment = RecordOf<'attachment'>
export type Subnet = RecordOf<'subnet'>
export type Pool = RecordOf<'pool'>
export type Address = RecordOf<'address'>
export type Lease = RecordOf<'lease'>
export type Switch = RecordOf<'switch'>
export type Forward = RecordOf<'forward'>
export type Route = RecordOf<'route'>
export type Filter = RecordOf<'filter'>
export type Intent = RecordOf<'intent'>
export type Guest = RecordOf<'guest'>
export type System = RecordOf<'system'>
export type Workload = RecordOf<'workload'>
export type Snapshot = RecordOf<'snapshot'>
export type Dependency = RecordOf<'dependency'>
export type Disk = RecordOf<'disk'>
export type Adapter = RecordOf<'adapter'>
export type Policy = RecordOf<'policy'>
export type Person = RecordOf<'person'>
export type Acceptance = RecordOf<'acceptance'>
export type Template = RecordOf<'template'>
export type Batch = RecordOf<'batch'>
export type Copy = RecordOf<'copy'>
export type Plan = RecordOf<'plan'>
export type Item = RecordOf<'item'>
export type Migration = RecordOf<'migration'>
export type Leftover = RecordOf<'leftover'>
export type Hardware = RecordOf<'hardware'>
export type Volume = RecordOf<'volume'>

/** Records of an estate by kind, as they cross the wire and fill the tables. */
export type Records = { readonly [K in Kind]: readonly RecordOf<K>[] }

/** The fields of a kind that one writes by adding or changing a record of it; the others follow from what is done with it. */
export const writableFields = (kind: Kind): readonly string[] => {
  const { byVerbs, fields } = kinds[kind] as KindDefinition
  return Object.keys(fields).filter((name) => !byVerbs?.fields?.includes(name))
}

/** Whether records of a kind are added and removed by verbs alone. */
export const isMadeByVerbs = (kind: Kind): boolean => (kinds[kind] as KindDefinition).byVerbs?.actions !== undefined

/** What a kind, or a field of it, is for, in one line. @example docOf('guest', 'vcpu') */
export function docOf(kind: Kind, field?: string): string | undefined {
  const { doc, fields } = kinds[kind] as KindDefinition
  return field === undefined ? doc : fields[field]?.doc
}

/** The fields of a kind that refer to other records, one or a list of them, with the kind they refer to. */
export function referencesOf(kind: Kind): readonly { readonly field: string; readonly to: Kind }[] {
  return references[kind]
}
const references = Object.fromEntries(
  kindNames.map((kind) => [
    kind,
    Object.entries<Field>(kinds[kind].fields).flatMap(([field, definition]) =>
      (definition.type === 'ref' || definition.type === 'refs') && isKind(definition.to) ? [{ field, to: definition.to }] : [],
    ),
  ]),
) as Record<Kind, { field: string; to: Kind }[]>
