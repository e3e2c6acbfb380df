import { arrivingDisks } from '../../capacity/index.js'
import type { Address, Disk, Estate, Guest, Image, Kind, Leftover, Platform, RecordOf } from '../../estate/index.js'

/** The host that a guest is, or was, on. */
export const onHostOf = (_: Estate, guest: Guest): readonly string[] => (guest.hostId ? [guest.hostId] : [])
/** The hosts that run a platform. */
export const hostsOnPlatform = (estate: Estate, platform: Platform): readonly string[] =>
  estate.referring('host', 'platformId', platform.id).map((host) => host.id)
/** The store that a disk or an image is, or was, on. */
export const onStoreOf = (_: Estate, disk: Pick<Disk | Image | Leftover, 'storeId'>): readonly string[] =>
  disk.storeId ? [disk.storeId] : []
/** The stores that a snapshot takes room on: those of its guest's disks. */
export const storesOfSnapshot = (estate: Estate, { guestId }: Pick<RecordOf<'snapshot'>, 'guestId'>): readonly string[] =>
  estate.referring('disk', 'guestId', guestId).flatMap(({ storeId }) => storeId ?? [])
/** The stores that a guest's disks are on: its snapshots lie beside them. */
export const storesOfSiblings = (estate: Estate, disk: Disk): readonly string[] => [
  ...onStoreOf(estate, disk),
  ...(estate.referring('snapshot', 'guestId', disk.guestId).length > 0 ? storesOfSnapshot(estate, disk) : []),
]
/** The stores that a move holds room on, and the hosts it holds memory on. */
export const storesOfMove = (estate: Estate, move: RecordOf<'migration'>): readonly string[] => [
  ...arrivingDisks(estate, move).map(({ storeId }) => storeId),
  ...estate.referring('disk', 'guestId', move.becomesId ?? '').flatMap(({ storeId }) => storeId ?? []),
]
export const hostsOfMove = (_: Estate, { fromHostId, toHostId }: RecordOf<'migration'>): readonly string[] =>
  [fromHostId, toHostId].filter((id) => id !== null)
/** Every subject, when a record comes or goes, or one of some fields of it changes; the rule reads no other field of that kind. */
export const allWhen =
  <K extends Kind>(...fields: readonly (keyof RecordOf<K> & string)[]) =>
  (_: Estate, __: RecordOf<K>, changed: readonly string[] | undefined): readonly string[] | 'all' =>
    !changed || fields.some((field) => changed.includes(field)) ? 'all' : NO_SUBJECTS
const NO_SUBJECTS: readonly string[] = []
/** All addresses that hold the same IP. */
export const sameIp = (estate: Estate, address: Address): readonly string[] => estate.byKey('address', { ip: address.ip }).map((a) => a.id)
/** All adapters of a guest. */
export const adapterIdsOf = (estate: Estate, guest: Guest): readonly string[] =>
  estate.referring('adapter', 'guestId', guest.id).map((a) => a.id)
