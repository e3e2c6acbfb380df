import { type Command, type IdMaker } from '../commands/index.js'
import { type Adapter, type Disk, type Estate, isPoweredOn, type NewRecord, platformOf } from '../estate/index.js'
import { generateMac, preferredSubnet } from '../networks/index.js'
import type { Demand } from '../placement/index.js'

/** A guest as the compose page holds it: chosen records by id, sizes in base units. */
export interface GuestDraft {
  readonly guest: NewRecord<'guest'>
  readonly disks: readonly {
    readonly use: string
    readonly sizeBytes: number
    readonly provisioning: Disk['provisioning']
    readonly storeId: string | null
    readonly bus?: Disk['bus']
    readonly growthBytesPerMonth?: number | null
  }[]
  readonly adapters: readonly {
    readonly networkId: string | null
    readonly ip: string | null
    /** Further addresses of it. */
    readonly moreIps?: readonly string[]
    /** Its MAC, null where it is not known; left out, one is made. */
    readonly mac?: string | null
    readonly addressing: 'fixed' | 'DHCP reservation' | 'none'
    readonly model?: Adapter['model']
  }[]
}

/** What a draft asks of a host. */
export function demandOfDraft({ guest, disks, adapters }: GuestDraft): Demand {
  return {
    name: guest.name,
    vcpu: guest.vcpu,
    latency: guest.latency ?? 'general',
    memoryMiB: guest.memoryMiB,
    kind: guest.kind ?? 'machine',
    isRunning: isPoweredOn({ state: guest.state ?? 'planned' }),
    disks: disks.map((disk) => ({ ...disk, usedBytes: null })),
    networkIds: [...new Set(adapters.flatMap((adapter) => adapter.networkId ?? []))],
    guestId: guest.id,
    apartFromId: guest.apartFromId,
    backupStoreId: guest.backupStoreId,
    mediumId: guest.mediumId,
    processorMode: guest.processorMode,
  }
}

/**
 * The commands that record a composed guest: the guest, its disks, its adapters with new MACs, its addresses.
 *
 * @param context ids for the new records
 * @example applyAll(estate, composeGuest(estate, draft, context), context)
 */
export function composeGuest(estate: Estate, draft: GuestDraft, context: IdMaker): readonly Command[] {
  const guestId = draft.guest.id ?? context.newId()
  const host = estate.find('host', draft.guest.hostId)
  const macPrefix = host ? platformOf(estate, host).macPrefix : '02:1a:4b'
  const made = new Set<string>()
  const adapters = draft.adapters.flatMap((adapter, index): Command[] => {
    const id = context.newId()
    const mac =
      adapter.mac === undefined
        ? generateMac(macPrefix, id, (m) => made.has(m) || estate.byKey('adapter', { mac: m }).length > 0)
        : adapter.mac
    if (mac !== null) made.add(mac)
    const add: Command = {
      type: 'adapter.add',
      record: { id, guestId, position: index + 1, networkId: adapter.networkId, mac, ...(adapter.model ? { model: adapter.model } : {}) },
    }
    // A network without a subnet has no addresses to give; the guest is recorded without one.
    const hasSubnet = adapter.networkId !== null && preferredSubnet(estate, adapter.networkId) !== undefined
    if (adapter.addressing === 'none' || (!hasSubnet && !adapter.ip)) return [add]
    const { addressing: kind } = adapter
    return [
      add,
      { type: 'address.assign', adapterId: id, kind, ...(adapter.ip ? { ip: adapter.ip } : {}) },
      ...(adapter.moreIps ?? []).map((ip): Command => ({ type: 'address.assign', adapterId: id, kind, ip })),
    ]
  })
  return [
    { type: 'guest.add', record: { ...draft.guest, id: guestId } },
    ...draft.disks.map((disk, index): Command => ({
      type: 'disk.add',
      record: { ...disk, id: context.newId(), guestId, position: index + 1 },
    })),
    ...adapters,
  ]
}
