import type { Disk, Estate, Store } from '../estate/index.js'
import { sumFigure, type Figure } from '../units/index.js'

/** What a store holds and what it has promised. */
export interface StoreBudget {
  /** Bytes taken: thick disks whole, thin ones as last seen. */
  readonly used: Figure
  /** Bytes promised: every disk at its full size. */
  readonly promised: Figure
  /** Capacity less used. */
  readonly freeBytes: number
  /** Promised over capacity, 1 = all of it. */
  readonly promiseRatio: number
  /** Bytes by which the store is short if every thin disk fills: negative when there is room for all. */
  readonly exposure: Figure
}

/** Bytes a disk takes on its store now. A thin disk never measured counts as empty. */
export const takenBytes = (disk: Pick<Disk, 'provisioning' | 'sizeBytes' | 'usedBytes'>): number =>
  disk.provisioning === 'thick' ? disk.sizeBytes : (disk.usedBytes ?? 0)

/**
 * The budget of a store.
 *
 * @see facts of the trade: exposure = sum of (provisioned − used) − free; common practice, no source
 */
export function storeBudget(estate: Estate, store: Store): StoreBudget {
  const disks = estate.referring('disk', 'storeId', store.id)
  const inputs = (bytesOf: (disk: Disk) => number) =>
    disks.map((disk) => ({
      label: `${estate.find('guest', disk.guestId)?.name ?? '?'} ${disk.use}`,
      value: bytesOf(disk),
      unit: 'bytes' as const,
      sign: '+' as const,
      from: `disk ${disk.position}, ${disk.provisioning}`,
    }))
  const used = sumFigure('thick disks at their size + thin disks as last seen', 'bytes', inputs(takenBytes), 'common practice, no source')
  const promised = sumFigure(
    'every disk at its size',
    'bytes',
    inputs((disk) => disk.sizeBytes),
    'common practice, no source',
  )
  const freeBytes = store.capacityBytes - used.value
  const exposure = sumFigure(
    'promised − used − free',
    'bytes',
    [
      { label: 'promised', value: promised.value, unit: 'bytes', sign: '+', from: `${disks.length} disks` },
      { label: 'used', value: used.value, unit: 'bytes', sign: '−', from: 'thick whole, thin as last seen' },
      { label: 'free', value: freeBytes, unit: 'bytes', sign: '−', from: `capacity of ${store.name} − used` },
    ],
    'common practice, no source',
  )
  return { used, promised, freeBytes, promiseRatio: promised.value / store.capacityBytes, exposure }
}

/** Stores that a host reaches: in it, or shared at its site. */
export function storesOf(estate: Estate, hostId: string): readonly Store[] {
  return estate.referring('store', 'hostId', hostId)
}
