import { madeOf, openMoves } from '../../capacity/index.js'
import type { Address, Disk, Estate, Guest, Image, Kind, Leftover, Migration, RecordOf } from '../../estate/index.js'

/** The host that a guest is, or was, on, and those on which a move of it holds as much as it has. */
export const onHostOf = (estate: Estate, guest: Guest): readonly string[] => [
  ...(guest.hostId ? [guest.hostId] : []),
  ...movesOf(estate, guest.id).flatMap(hostsOfMove),
]
/** The moves under way of a machine. */
const movesOf = (estate: Estate, guestId: string): readonly Migration[] => openMoves(estate).filter((move) => move.guestId === guestId)
/** The store that a disk or an image is, or was, on. */
const onStoreOf = (_: Estate, disk: Pick<Disk | Image | Leftover, 'storeId'>): readonly string[] => (disk.storeId ? [disk.storeId] : [])
/** The stores that a snapshot takes room on: those of its guest's disks. */
const storesOfSnapshot = (estate: Estate, { guestId }: Pick<RecordOf<'snapshot'>, 'guestId'>): readonly string[] =>
  estate.referring('disk', 'guestId', guestId).flatMap(({ storeId }) => storeId ?? [])
/** The stores that a guest’s disks are on, since its snapshots are beside them, and those on which a move of it holds room. */
const storesOfSiblings = (estate: Estate, disk: Disk): readonly string[] => [
  ...onStoreOf(estate, disk),
  ...(estate.referring('snapshot', 'guestId', disk.guestId).length > 0 ? storesOfSnapshot(estate, disk) : []),
  ...movesOf(estate, disk.guestId).flatMap((move) => storesOfMove(estate, move)),
]
/** The stores that a move holds room on, and the hosts it holds memory on. */
const storesOfMove = (estate: Estate, move: Migration): readonly string[] => [
  ...Object.values(madeOf(move).stores ?? {}),
  ...estate.referring('disk', 'guestId', move.becomesId ?? '').flatMap(({ storeId }) => storeId ?? []),
]
/** The stores on which moves under way hold room for the disk of a volume, by what its volumes hold. */
const storesOfVolume = (estate: Estate, { diskId }: Pick<RecordOf<'volume'>, 'diskId'>): readonly string[] => {
  const disk = estate.find('disk', diskId)
  return disk ? movesOf(estate, disk.guestId).flatMap((move) => storesOfMove(estate, move)) : []
}
/** The stores of which the room may be another, by what came, went or changed: for every rule that asks what is used or free. */
export const storesWithOtherRoom = {
  disk: storesOfSiblings,
  snapshot: storesOfSnapshot,
  image: onStoreOf,
  leftover: onStoreOf,
  migration: storesOfMove,
  volume: storesOfVolume,
} as const
const hostsOfMove = ({ fromHostId, toHostId }: Migration): readonly string[] => [fromHostId, toHostId].filter((id) => id !== null)
/** Every subject, when a record comes or goes, or one of some fields of it changes; the rule reads no other field of that kind. */
export const allWhen =
  <K extends Kind>(...fields: readonly (keyof RecordOf<K> & string)[]) =>
  (_: Estate, __: RecordOf<K>, changed: readonly string[] | undefined): readonly string[] | 'all' =>
    !changed || fields.some((field) => changed.includes(field)) ? 'all' : NO_SUBJECTS
const NO_SUBJECTS: readonly string[] = []
/** All addresses that hold the same IP. */
export const sameIp = (estate: Estate, address: Address): readonly string[] => estate.byKey('address', { ip: address.ip }).map((a) => a.id)
/** The addresses of an adapter: they are told by the guest it is of. */
export const addressesOfAdapter = (estate: Estate, { id }: { readonly id: string }): readonly Address[] =>
  estate.referring('address', 'adapterId', id)
