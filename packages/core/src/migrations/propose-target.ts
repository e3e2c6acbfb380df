import type { Command, IdMaker } from '../commands/index.js'
import { adaptersOf, disksOf, type Disk, type Estate, type Guest, type Host, type NewRecord } from '../estate/index.js'
import { composeGuest, demandOfDraft, type GuestDraft } from '../guests/index.js'
import { carries } from '../hosts/index.js'
import { fitOn, type Fit } from '../placement/index.js'
import { GiB } from '../units/index.js'
import { hasNetworkDriver, needsDriver } from './drivers.js'
import { freeGuestName } from './free-name.js'

/** What a person chose of the guest that takes over; what is left out is proposed. */
export interface TargetWish {
  readonly name?: string | undefined
  readonly vcpu?: number | undefined
  readonly memoryMiB?: number | undefined
  /** By the number of the source's disk. */
  readonly disks?: Readonly<Record<number, Partial<Pick<Disk, 'sizeBytes' | 'provisioning' | 'bus'> & { readonly storeId: string }>>>
  /** By the number of the source's adapter. */
  readonly adapters?: Readonly<
    Record<number, { readonly networkId?: string | null; readonly model?: 'paravirtual' | 'emulated' | 'emulated old' }>
  >
}

/** A guest that takes over a machine, with the check in words. */
export interface TargetProposal {
  readonly guestId: string
  readonly draft: GuestDraft
  readonly fit: Fit
  /** The commands that add it. */
  readonly commands: readonly Command[]
}

/** A size in whole GiB that is no byte smaller, and 1 GiB more. @example targetSize(33 * GiB) // 34 * GiB */
export const targetSize = (sourceBytes: number): number => (Math.ceil(sourceBytes / GiB) + 1) * GiB

/**
 * The guest that a machine becomes on a host: processors, memory and firmware as the source has them; each disk 1 GiB larger, on the bus that its
 * system has a driver for; each adapter on the same network where the host carries it, with a MAC for itself and no address until the cut-over.
 *
 * @param context ids for the new records
 */
export function proposeTarget(estate: Estate, source: Guest, host: Host, wish: TargetWish, context: IdMaker): TargetProposal {
  const system = estate.find('system', source.systemId)
  const guestId = context.newId()
  const disks = disksOf(estate, source.id).map((disk) => {
    const own = wish.disks?.[disk.position]
    return {
      use: disk.use,
      sizeBytes: own?.sizeBytes ?? targetSize(disk.sizeBytes),
      provisioning: own?.provisioning ?? 'thin',
      bus: own?.bus ?? (needsDriver('paravirtual', system) ? 'SATA' : 'paravirtual'),
      storeId: own?.storeId ?? null,
    }
  })
  const isParavirtual = hasNetworkDriver(system)
  const adapters = adaptersOf(estate, source.id).map((adapter) => {
    const own = wish.adapters?.[adapter.position]
    const wanted = own && 'networkId' in own ? (own.networkId ?? null) : adapter.networkId
    return {
      networkId: wanted !== null && (own || carries(estate, host.id, wanted)) ? wanted : null,
      ip: null,
      addressing: 'none' as const,
      model: own?.model ?? (isParavirtual ? ('paravirtual' as const) : ('emulated' as const)),
    }
  })
  const guest: NewRecord<'guest'> & { readonly id: string } = {
    id: guestId,
    name: wish.name ?? freeGuestName(estate, `${source.name}-new`),
    hostId: host.id,
    state: 'planned',
    vcpu: wish.vcpu ?? source.vcpu,
    memoryMiB: wish.memoryMiB ?? source.memoryMiB,
    firmware: source.firmware,
    secureBoot: source.secureBoot,
    machineType: source.machineType,
    purpose: source.purpose,
    systemId: source.systemId,
    group: source.group,
    backupStoreId: source.backupStoreId,
    tags: source.tags,
  }
  const unplaced: GuestDraft = { guest, disks, adapters }
  const fit = fitOn(estate, host, demandOfDraft(unplaced))
  const draft = { ...unplaced, disks: disks.map((disk, index) => ({ ...disk, storeId: disk.storeId ?? fit.stores[index]?.id ?? null })) }
  return { guestId, draft, fit, commands: composeGuest(estate, draft, context) }
}
