import type { Disk, Estate } from '../estate/index.js'
import { counted } from '../units/index.js'
import { methodFacts, type MoveMethod } from './methods.js'

/** What is copied of a disk, bytes, how that is known, and whether it is, or the whole size stands for it. */
export interface Copied {
  readonly bytes: number
  readonly from: string
  readonly isKnown: boolean
}

/**
 * What a method copies of a disk: all of it, or what is used of the volumes that are taken along, where these are recorded.
 *
 * @example copiedOf(estate, disk, 'disk-to-disk over the network').bytes // disk.sizeBytes
 */
export function copiedOf(estate: Estate, disk: Disk, method: MoveMethod): Copied {
  if (methodFacts[method].copies === 'provisioned') return { bytes: disk.sizeBytes, from: 'its whole size', isKnown: true }
  const volumes = estate.referring('volume', 'diskId', disk.id)
  if (volumes.length > 0) {
    const taken = volumes.filter(({ isTaken }) => isTaken)
    return {
      bytes: taken.reduce((sum, { usedBytes, sizeBytes }) => sum + (usedBytes ?? sizeBytes), 0),
      from: `${taken.length} of ${counted(volumes.length, 'volume')}, what they hold`,
      isKnown: true,
    }
  }
  return disk.usedBytes === null
    ? { bytes: disk.sizeBytes, from: 'its size; what is used was not seen', isKnown: false }
    : { bytes: disk.usedBytes, from: 'what is used, as last seen', isKnown: true }
}

/**
 * What a disk takes on the store that it is copied to: a thick one its size there, a thin one what was copied, and no more than it may
 * hold.
 *
 * @param there the disk as it is on the target
 * @returns bytes
 * @example takenWhereItArrives(estate, disk, 'cold copy', { sizeBytes: 80 * GiB, isThick: false }) // what the source uses
 */
export const takenWhereItArrives = (
  estate: Estate,
  disk: Disk,
  method: MoveMethod,
  there: { readonly sizeBytes: number; readonly isThick: boolean },
): number => (there.isThick ? there.sizeBytes : Math.min(there.sizeBytes, copiedOf(estate, disk, method).bytes))
