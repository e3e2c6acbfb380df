import {
  adaptersOf,
  disksOf,
  generateMac,
  platformOf,
  proposeMigration,
  proposeTarget,
  targetHosts,
  type Adapter,
  type Command,
  type Disk,
  type Estate,
  type Fit,
  type Guest,
  type Mapping,
  type TargetWish,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { ids } from '../../lib/context'

/** Where a machine goes: a host takes the guest itself, a new guest on a host takes over, or a machine that is recorded does. */
export type TargetWay = 'host' | 'new' | 'becomes'

/** What was chosen of a disk, by its id; what is left out is proposed. */
export interface DiskWish {
  readonly storeId?: string
  readonly sizeBytes?: number
  readonly provisioning?: Disk['provisioning']
  readonly bus?: Disk['bus'] | undefined
}
/** What was chosen of an adapter, by its id. */
export interface AdapterWish {
  readonly networkId?: string
  readonly model?: Adapter['model'] | undefined
  readonly isNewMac?: boolean
}

export interface MoveDraft {
  readonly way: TargetWay
  readonly hostId: string
  readonly becomesId: string
  readonly disks: Readonly<Record<string, DiskWish>>
  readonly adapters: Readonly<Record<string, AdapterWish>>
  /** What a new guest is called. */
  readonly name?: string | undefined
  readonly vcpu?: number | undefined
  readonly memoryMiB?: number | undefined
  readonly firmware?: Guest['firmware'] | undefined
  /** For an adapter of the source, that of the machine that takes over, where it is not the one with its number. */
  readonly pairs: Readonly<Record<string, string>>
  readonly takesName: boolean
  readonly takesMacs: boolean
}

/** A move as it is put together: where it could go, what its cut-over does, and what is added before it. */
export function useMoveDraft(estate: Estate, guest: Guest | undefined) {
  const [draft, setDraft] = useState<MoveDraft>({
    way: guest?.kind === 'external' ? 'new' : 'host',
    hostId: '',
    becomesId: '',
    disks: {},
    adapters: {},
    pairs: {},
    takesName: true,
    takesMacs: false,
  })
  const change = (changes: Partial<MoveDraft>) => setDraft((before) => ({ ...before, ...changes }))
  const fits = useMemo((): readonly Fit[] => {
    if (!guest || draft.way === 'becomes') return []
    const order = { fits: 0, remark: 1, no: 2 }
    return targetHosts(estate, guest)
      .map((host) => (draft.way === 'new' ? proposeTarget(estate, guest, host, {}, ids).fit : proposeMigration(estate, guest, host).fit))
      .sort((a, b) => order[a.verdict] - order[b.verdict])
  }, [estate, guest, draft.way])
  const made = useMemo(() => (guest ? madeOf(estate, guest, draft) : undefined), [estate, guest, draft])
  return { draft, change, fits, made }
}

/** What a draft comes to; undefined while it has no target. */
function madeOf(
  estate: Estate,
  guest: Guest,
  draft: MoveDraft,
): { readonly before: readonly Command[]; readonly mapping: Mapping } | undefined {
  const host = estate.find('host', draft.hostId)
  const { takesName, takesMacs } = draft
  if (draft.way === 'becomes')
    return draft.becomesId
      ? { before: [], mapping: { guestId: guest.id, becomesId: draft.becomesId, adapters: draft.pairs, takesName, takesMacs } }
      : undefined
  if (!host) return undefined
  if (draft.way === 'new') {
    const { guestId, commands } = proposeTarget(estate, guest, host, wishOf(estate, guest, draft), ids)
    return { before: commands, mapping: { guestId: guest.id, becomesId: guestId, takesName, takesMacs } }
  }
  const { type: _, ...proposed } = proposeMigration(estate, guest, host).command
  const stores = {
    ...proposed.stores,
    ...Object.fromEntries(Object.entries(draft.disks).flatMap(([id, { storeId }]) => (storeId ? [[id, storeId]] : []))),
  }
  const networks = Object.fromEntries(Object.entries(draft.adapters).flatMap(([id, { networkId }]) => (networkId ? [[id, networkId]] : [])))
  const also = alsoOf(estate, guest, draft, platformOf(estate, host).macPrefix)
  return {
    before: [],
    mapping: {
      ...proposed,
      ...(Object.keys(stores).length > 0 ? { stores } : {}),
      ...(Object.keys(networks).length > 0 ? { networks } : {}),
      ...(also.length > 0 ? { also: also } : {}),
    },
  }
}

/** The wishes for a new guest, by the numbers of the source's disks and adapters. */
function wishOf(estate: Estate, guest: Guest, draft: MoveDraft): TargetWish {
  const byNumber = <T extends { readonly id: string; readonly position: number }, W>(
    records: readonly T[],
    wishes: Readonly<Record<string, W>>,
  ) => Object.fromEntries(records.flatMap(({ id, position }) => (wishes[id] ? [[position, wishes[id]]] : [])))
  return {
    name: draft.name,
    vcpu: draft.vcpu,
    memoryMiB: draft.memoryMiB,
    disks: byNumber(disksOf(estate, guest.id), draft.disks),
    adapters: byNumber(adaptersOf(estate, guest.id), draft.adapters),
  }
}

/** What else changes with a guest that goes to another host. */
function alsoOf(estate: Estate, guest: Guest, draft: MoveDraft, macPrefix: string): readonly Command[] {
  const changed = (record: object, changes: object) =>
    Object.fromEntries(
      Object.entries(changes).filter(
        ([name, value]) => value !== undefined && (record as Readonly<Record<string, unknown>>)[name] !== value,
      ),
    )
  const own = changed(guest, { vcpu: draft.vcpu, memoryMiB: draft.memoryMiB, firmware: draft.firmware })
  return [
    ...disksOf(estate, guest.id).flatMap((disk): Command[] => {
      const { storeId: _, ...wish } = draft.disks[disk.id] ?? {}
      const changes = changed(disk, wish)
      return Object.keys(changes).length > 0 ? [{ type: 'disk.update', id: disk.id, changes }] : []
    }),
    ...adaptersOf(estate, guest.id).flatMap((adapter): Command[] => {
      const { model, isNewMac } = draft.adapters[adapter.id] ?? {}
      const mac = isNewMac ? generateMac(macPrefix, adapter.id, (one) => estate.byKey('adapter', { mac: one }).length > 0) : undefined
      const changes = changed(adapter, { model, mac })
      return Object.keys(changes).length > 0 ? [{ type: 'adapter.update', id: adapter.id, changes }] : []
    }),
    ...(Object.keys(own).length > 0 ? [{ type: 'guest.update' as const, id: guest.id, changes: own }] : []),
  ]
}
