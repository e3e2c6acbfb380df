import { CommandError } from './command-error.js'
import { recordPhrase } from './describe.js'
import type { Estate } from './estate.js'
import {
  kindNames,
  referencesOf,
  type Adapter,
  type AnyRecord,
  type Disk,
  type Drive,
  type Guest,
  type Host,
  type Kind,
  type Platform,
  type Store,
} from './kinds/index.js'

/** A record that refers to another, and the field by which it does. */
export interface Referrer {
  readonly kind: Kind
  readonly record: AnyRecord
  readonly field: string
}

/** Every record that refers to one. */
export function referrersOf(estate: Estate, kind: Kind, id: string): readonly Referrer[] {
  return kindNames.flatMap((other) =>
    referencesOf(other)
      .filter((reference) => reference.to === kind)
      .flatMap(({ field }) => estate.referring(other, field as never, id).map((record) => ({ kind: other, record, field }))),
  )
}

/** The refusal to remove a record that others refer to, with the list of them. */
export function referredTo(estate: Estate, kind: Kind, record: AnyRecord, referrers: readonly Referrer[], path: string): CommandError {
  const named = referrers.slice(0, 5).map((r) => recordPhrase(estate, r.kind, r.record))
  const more = referrers.length > named.length ? ` and ${referrers.length - named.length} more` : ''
  return new CommandError(
    'referred-to',
    `${recordPhrase(estate, kind, record)} is still used by ${named.join(', ')}${more}. Remove them first, or together with it.`,
    referrers.map((r) => ({ path, code: 'referred-to', message: recordPhrase(estate, r.kind, r.record) })),
  )
}

const byPosition = (a: { readonly position: number }, b: { readonly position: number }): number => a.position - b.position

/** A guest's disks in their order. */
export const disksOf = (estate: Estate, guestId: string): readonly Disk[] =>
  [...estate.referring('disk', 'guestId', guestId)].sort(byPosition)

/** A guest's adapters in their order. */
export const adaptersOf = (estate: Estate, guestId: string): readonly Adapter[] =>
  [...estate.referring('adapter', 'guestId', guestId)].sort(byPosition)

/** Guests that take memory and processors of their host: all but templates, which stay powered off, and what is retired. */
export const machinesOn = (estate: Estate, hostId: string): readonly Guest[] =>
  estate.referring('guest', 'hostId', hostId).filter((guest) => guest.kind === 'machine' && guest.state !== 'retired')

/** The platform of a host. References are checked when a record is written, so a missing one is a broken estate. */
export function platformOf(estate: Estate, host: Host): Platform {
  const platform = estate.find('platform', host.platformId)
  if (!platform) throw new Error(`Host ${host.name} refers to platform ${host.platformId}, which is not in the estate.`)
  return platform
}

/** The stores in a host. */
export const storesOf = (estate: Estate, hostId: string): readonly Store[] => estate.referring('store', 'hostId', hostId)

/**
 * Whether a host reaches a store: one in it, or one shared at its site. A removable or backup store without a host is
 * reached like a shared one, and from every site when it names none.
 */
export function storeReach(store: Store, host: Host): boolean {
  if (store.hostId) return store.hostId === host.id
  return store.site === null || store.site === host.site
}

/** Where a disk is that is on a store in one host while its guest is on another; undefined of every other disk. */
export function strayedDisk(
  estate: Estate,
  disk: Disk,
): { readonly guest: Guest; readonly store: Store; readonly on: Host; readonly inHost: Host } | undefined {
  const [guest, store] = [estate.find('guest', disk.guestId), estate.find('store', disk.storeId)]
  const [on, inHost] = [estate.find('host', guest?.hostId), estate.find('host', store?.hostId)]
  return guest && store && on && inHost && on.id !== inHost.id ? { guest, store, on, inHost } : undefined
}

/** Other drives with the serial of one, of the same model as far as both models are known: makers count each for themselves. */
export const sameSerial = (estate: Estate, drive: Drive): readonly Drive[] =>
  drive.serial === null
    ? []
    : estate
        .byKey('drive', { serial: drive.serial })
        .filter((other) => other.id !== drive.id && (!other.model || !drive.model || other.model === drive.model))

/** Whether guests' disks are put on a store: backups and what is carried away are not for that. */
export const holdsDisks = ({ kind }: Store): boolean => kind === 'local' || kind === 'shared'

/** The stores that may hold the disks of a guest on a host: those it reaches, made for that. */
export const storesForDisks = (estate: Estate, host: Host): readonly Store[] =>
  estate.all('store').filter((store) => holdsDisks(store) && storeReach(store, host))
