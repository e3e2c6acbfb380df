import {
  chosenFields,
  formatBytes,
  kinds,
  parseSize,
  readFields,
  type Adapter,
  type DeviceMend,
  type DevicePlan,
  type Disk,
  type Estate,
  type Field,
  type Fit,
  type GuestDraft,
  type GuestSpec,
  type NewRecord,
  type Sizing,
  type System,
} from '@insel/core'
import { inputText, inputValue } from '../records/field-text'

export interface DiskRow {
  readonly use: string
  readonly size: string
  readonly provisioning: Disk['provisioning']
  readonly bus: Disk['bus']
  /** Empty: the store that the check proposes on the host. */
  readonly storeId: string
  readonly growthBytesPerMonth: number | null
}
export interface AdapterRow {
  readonly networkId: string
  readonly model: Adapter['model']
  readonly addressing: 'fixed' | 'DHCP reservation' | 'none'
  /** Empty: the next free one. */
  readonly ip: string
}
/** What the page holds: texts as typed, until they are read. */
export interface GuestForm {
  readonly texts: Readonly<Record<string, string>>
  readonly disks: readonly DiskRow[]
  readonly adapters: readonly AdapterRow[]
  /** A system of the catalogue that the estate does not have yet: it is recorded with the guest. */
  readonly newSystem?: { readonly id: string; readonly values: NewRecord<'system'> } | undefined
}

/** Fields that nearly every guest needs, in their order. */
export const MAIN_FIELDS = [
  'name',
  'kind',
  'purpose',
  'vcpu',
  'latency',
  'memoryMiB',
  'firmware',
  'hostId',
  'backupStoreId',
  'tags',
] as const
/** Fields that wait behind a heading until somebody wants them. */
export const MORE_FIELDS = [
  'sockets',
  'processorMode',
  'memoryMinMiB',
  'secureBoot',
  'trustedModule',
  'machineType',
  'mediumId',
  'mediumConnected',
  'bootFirst',
  'installer',
  'packages',
  'locale',
  'group',
  'owner',
  'contact',
  'criticality',
  'apartFromId',
] as const
const FIELDS = chosenFields('guest')(
  [...MAIN_FIELDS, ...MORE_FIELDS, 'systemId', 'workload'],
  [
    // A new guest has them from what is composed, or gets them later.
    'state',
    'verifiedAt',
    'identity',
    'identityFromId',
    'identityFromName',
    'identityKey',
    'clonedVersion',
    'isRouter',
    'clonedFromId',
    'patchedOn',
    'note',
  ],
)
export const guestFields = kinds.guest.fields as Readonly<Record<string, Field>>
export const USES = ['system', 'data', 'media']
const sizeText = (bytes: number) => formatBytes(bytes, 3).replaceAll('\u2009', '')
const textOf = (name: string, value: unknown) => {
  const field = guestFields[name]
  if (!field) return ''
  return inputText(field, value ?? ('default' in field ? field.default : undefined))
}

/** The draft as a spec line fills it. */
export function draftOf(estate: Estate, spec: GuestSpec): GuestForm {
  const record: Record<string, unknown> = {
    kind: spec.kind,
    latency: spec.latency,
    firmware: spec.firmware,
    tags: spec.tags,
    name: spec.name,
    vcpu: spec.vcpu,
    memoryMiB: spec.memoryMiB,
    purpose: spec.purpose,
    hostId: estate.byKey('host', { name: spec.host ?? '' })[0]?.id,
  }
  const storeId = estate.byKey('store', { name: spec.store ?? '' })[0]?.id ?? ''
  return {
    texts: Object.fromEntries(FIELDS.map((name) => [name, textOf(name, record[name])])),
    disks: spec.disks.map((disk, index) => ({
      use: USES[index] ?? 'data',
      size: sizeText(disk.sizeBytes),
      provisioning: spec.provisioning ?? 'thin',
      bus: 'paravirtual',
      storeId,
      growthBytesPerMonth: null,
    })),
    adapters: spec.networks.flatMap((name, index): AdapterRow[] => {
      const network = estate.byKey('network', { name })[0]
      return network
        ? [
            {
              networkId: network.id,
              model: 'paravirtual',
              addressing: spec.kind === 'template' ? 'none' : 'fixed',
              ip: spec.ips?.[index] ?? '',
            },
          ]
        : []
    }),
  }
}

/** What the line changed, put into the draft; what was filled in by hand and the line does not say stays. */
export function applySpecLine(current: GuestForm, before: GuestForm, after: GuestForm): GuestForm {
  const isSame = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)
  return {
    ...current,
    texts: Object.fromEntries(FIELDS.map((name) => [name, (before.texts[name] === after.texts[name] ? current : after).texts[name] ?? ''])),
    disks: isSame(before.disks, after.disks) ? current.disks : after.disks,
    adapters: isSame(before.adapters, after.adapters) ? current.adapters : after.adapters,
  }
}

/** The draft read: a guest that can be checked, or the sentences for what cannot be read, by field. */
export function readDraft(draft: GuestForm, fit: Fit | undefined): { guest: GuestDraft } | { problems: Readonly<Record<string, string>> } {
  const values: Record<string, unknown> = {}
  const problems: Record<string, string> = {}
  for (const name of FIELDS) {
    const field = guestFields[name]
    if (!field) continue
    const reading = inputValue(field, draft.texts[name] ?? '')
    if ('value' in reading) values[name] = reading.value
    else problems[name] = reading.sentence
  }
  const disks = draft.disks.map((disk, index) => {
    const reading = parseSize(disk.size, 'disk')
    if (!reading.ok) problems[`disk.${index}`] = reading.sentence
    return {
      use: disk.use.trim() || 'data',
      sizeBytes: reading.ok ? reading.bytes : 0,
      provisioning: disk.provisioning,
      bus: disk.bus,
      storeId: disk.storeId || (fit?.stores[index]?.id ?? null),
      growthBytesPerMonth: disk.growthBytesPerMonth,
    }
  })
  if (Object.keys(problems).length > 0) return { problems }
  const adapters = draft.adapters.map((adapter) => ({
    networkId: adapter.networkId || null,
    model: adapter.model,
    ip: adapter.ip.trim() || null,
    addressing: adapter.addressing,
  }))
  return {
    guest: { guest: { ...(values as NewRecord<'guest'>), state: values['kind'] === 'template' ? 'stopped' : 'planned' }, disks, adapters },
  }
}

/** The devices of a draft that can be read, to be checked against its system. */
export const devicesOfDraft = ({ guest, disks, adapters }: GuestDraft): DevicePlan => ({
  guest: readFields(kinds.guest.fields, guest),
  disks: disks.map((disk) => ({ ...disk, bus: disk.bus ?? 'paravirtual', cache: 'none' })),
  adapters: adapters.map(({ model }) => ({ model: model ?? 'paravirtual' })),
})

/** The system a draft names: recorded, or taken from the catalogue with it. */
export const systemOfDraft = (estate: Estate, { texts, newSystem }: GuestForm): System | undefined =>
  newSystem && newSystem.id === texts['systemId']
    ? { id: newSystem.id, ...readFields(kinds.system.fields, newSystem.values) }
    : estate.find('system', texts['systemId'])

/** The draft with a remark about its devices put right. */
export function applyMend(draft: GuestForm, mend: DeviceMend): GuestForm {
  switch (mend.what) {
    case 'guest':
      return {
        ...draft,
        texts: { ...draft.texts, ...Object.fromEntries(Object.entries(mend.changes).map(([name, value]) => [name, textOf(name, value)])) },
      }
    case 'disk':
      return { ...draft, disks: draft.disks.map((disk, at) => (at === mend.at ? { ...disk, ...mend.changes } : disk)) }
    case 'adapter':
      return { ...draft, adapters: draft.adapters.map((adapter, at) => (at === mend.at ? { ...adapter, ...mend.changes } : adapter)) }
  }
}

/** The draft with a size that was worked out: its processors, memory, latency and disks; adapters that are there stay. */
export function applySizing(draft: GuestForm, sizing: Sizing, workload: string): GuestForm {
  return {
    ...draft,
    texts: {
      ...draft.texts,
      vcpu: textOf('vcpu', sizing.vcpu.value),
      memoryMiB: textOf('memoryMiB', sizing.memory.value),
      latency: sizing.latency,
      sockets: '1',
      workload,
    },
    disks: sizing.disks.map(({ use, size, growthBytesPerMonth }, index) => ({
      use,
      size: sizeText(size.value),
      provisioning: draft.disks[index]?.provisioning ?? 'thin',
      bus: draft.disks[index]?.bus ?? 'paravirtual',
      storeId: draft.disks[index]?.storeId ?? '',
      growthBytesPerMonth: growthBytesPerMonth || null,
    })),
    adapters: [
      ...draft.adapters,
      ...Array.from({ length: Math.max(0, sizing.adapters - draft.adapters.length) }, (): AdapterRow => ({
        networkId: '',
        model: 'paravirtual',
        addressing: 'fixed',
        ip: '',
      })),
    ],
  }
}
