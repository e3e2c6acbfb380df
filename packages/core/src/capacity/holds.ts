import { copiedOf, takenWhereItArrives } from '../methods/index.js'
import { type Disk, type Estate, type Migration } from '../estate/index.js'

/** Room that a move under way needs, or keeps, and no record of a disk or guest shows. */
export interface StoreHold {
  readonly migrationId: string
  readonly disk: Disk
  /** What the copy takes on the store, bytes. */
  readonly bytes: number
  /** What it may grow to beyond what the record promises already, bytes: its size, as soon as the disk is recorded there. */
  readonly promisedBytes: number
}

/** Memory and processors that a move under way needs where it goes, or keeps where it came from. */
export interface HostHold {
  readonly migrationId: string
  readonly guestId: string
  readonly memoryMiB: number
  readonly vcpu: number
  readonly why: 'arrives' | 'kept for taking it back'
}

/** Whether a move still copies, or is about to. */
export const isBeforeCutOver = ({ state }: Pick<Migration, 'state'>): boolean => state === 'begun' || state === 'copying'
/** Whether a move is under way: begun and neither closed nor ended early. */
export const isOpenMove = ({ state }: Pick<Migration, 'state'>): boolean =>
  isBeforeCutOver({ state }) || state === 'cut over' || state === 'verified'

const openOnes = (estate: Estate): readonly Migration[] => estate.all('migration').filter(isOpenMove)
/** Moves under way. */
export const openMoves = (estate: Estate): readonly Migration[] => estate.derive(['migration'], openOnes)

/** What a move was begun with. The command was read when it was recorded. */
export interface MoveMade {
  readonly toHostId?: string | null
  readonly becomesId?: string | null
  readonly stores?: Readonly<Record<string, string>> | null
  readonly networks?: Readonly<Record<string, string>> | null
  readonly adapters?: Readonly<Record<string, string>> | null
  readonly also?: readonly { readonly type: string; readonly id?: string; readonly changes?: Readonly<Record<string, unknown>> }[]
}
export const madeOf = ({ made }: Pick<Migration, 'made'>): MoveMade => (made[0] ?? {}) as unknown as MoveMade

/** What a disk will be at the cut-over besides its store: what the command changes of it. */
export function changesOf(made: MoveMade, id: string): Readonly<Record<string, unknown>> {
  return Object.assign({}, ...(made.also ?? []).filter((command) => command.id === id).map(({ changes }) => changes)) as Readonly<
    Record<string, unknown>
  >
}

/** The disks that a move brings to another store, with that store and the size they have there. */
export function arrivingDisks(
  estate: Estate,
  move: Pick<Migration, 'guestId' | 'made'>,
): readonly { readonly disk: Disk; readonly storeId: string; readonly sizeBytes: number; readonly isThick: boolean }[] {
  const made = madeOf(move)
  return estate.referring('disk', 'guestId', move.guestId ?? '').flatMap((disk) => {
    const storeId = made.stores?.[disk.id]
    if (!storeId || storeId === disk.storeId) return []
    const { sizeBytes = disk.sizeBytes, provisioning = disk.provisioning } = changesOf(made, disk.id)
    return [{ disk, storeId, sizeBytes: Number(sizeBytes), isThick: provisioning === 'thick' }]
  })
}

/** The thin disks of the machine that takes over, with what the copy brings each of the source's disk of that number, and whether that is known. */
export function filledDisks(
  estate: Estate,
  move: Pick<Migration, 'guestId' | 'becomesId' | 'method'>,
): readonly { readonly disk: Disk; readonly bytes: number; readonly isKnown: boolean }[] {
  const sources = estate.referring('disk', 'guestId', move.guestId ?? '')
  return estate.referring('disk', 'guestId', move.becomesId ?? '').flatMap((disk) => {
    const source = sources.find(({ position }) => position === disk.position)
    if (!source || disk.provisioning === 'thick') return []
    const bytes = takenWhereItArrives(estate, source, move.method, { sizeBytes: disk.sizeBytes, isThick: false })
    return [{ disk, bytes, isKnown: copiedOf(estate, source, move.method).isKnown }]
  })
}

function storeHolds(estate: Estate): ReadonlyMap<string, readonly StoreHold[]> {
  const holds = new Map<string, StoreHold[]>()
  for (const move of openOnes(estate).filter(isBeforeCutOver)) {
    const hold = (storeId: string, one: Omit<StoreHold, 'migrationId'>) =>
      holds.set(storeId, [...(holds.get(storeId) ?? []), { migrationId: move.id, ...one }])
    for (const { disk, storeId, ...there } of arrivingDisks(estate, move))
      hold(storeId, { disk, bytes: takenWhereItArrives(estate, disk, move.method, there), promisedBytes: there.sizeBytes })
    // A machine of its own is recorded with its size already; what it will hold is not.
    for (const { disk, bytes } of filledDisks(estate, move))
      if (disk.storeId && bytes > (disk.usedBytes ?? 0))
        hold(disk.storeId, { disk, bytes: bytes - (disk.usedBytes ?? 0), promisedBytes: 0 })
  }
  return holds
}

/** What is held on a store for moves that have not been cut over yet. Derived, never recorded. */
export const heldOnStore = (estate: Estate, storeId: string): readonly StoreHold[] =>
  estate.derive(['migration', 'disk', 'volume'], storeHolds).get(storeId) ?? NO_STORE_HOLDS
const NO_STORE_HOLDS: readonly StoreHold[] = []

/** What is held on a host: for guests that arrive, and for the way back of those that left until they are verified. */
export function heldOnHost(estate: Estate, hostId: string): readonly HostHold[] {
  return openMoves(estate).flatMap((move): HostHold[] => {
    const guest = estate.find('guest', move.guestId)
    if (!guest || move.becomesId || guest.kind !== 'machine') return []
    const hold = { migrationId: move.id, guestId: guest.id }
    if (isBeforeCutOver(move) && move.toHostId === hostId && guest.hostId !== hostId) {
      const { memoryMiB = guest.memoryMiB, vcpu = guest.vcpu } = changesOf(madeOf(move), guest.id)
      return [{ ...hold, memoryMiB: Number(memoryMiB), vcpu: Number(vcpu), why: 'arrives' }]
    }
    if (move.state === 'cut over' && move.fromHostId === hostId && guest.hostId !== hostId) {
      const was = move.did?.updated[guest.id]?.from as { memoryMiB?: number; vcpu?: number } | undefined
      return [{ ...hold, memoryMiB: was?.memoryMiB ?? guest.memoryMiB, vcpu: was?.vcpu ?? guest.vcpu, why: 'kept for taking it back' }]
    }
    return []
  })
}
