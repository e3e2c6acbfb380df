import type { Command } from '../commands/index.js'
import type { Disk, Estate } from '../estate/index.js'
import { storeBudget, takenBytes } from '../capacity/index.js'

/** What becomes of a store when a disk on it is made thick or thin. */
export interface Reprovisioning {
  readonly to: Disk['provisioning']
  /** Bytes it takes of the store beyond what it takes now; 0 when it is made thin, as nothing is given back by that alone. */
  readonly takesBytes: number
  /** Bytes free on the store afterwards; negative where it does not go. */
  readonly freeBytes: number
  readonly commands: readonly Command[]
}

/**
 * Makes a thin disk thick, or a thick one thin.
 *
 * A thick disk takes its whole size at once. One made thin goes on taking what it was given until its platform copies it or
 * reclaims what is empty: a thin disk does not shrink by itself. [P]
 *
 * @returns undefined for a disk on no store
 * @example reprovision(estate, { ...disk, provisioning: 'thin', sizeBytes: 40 * GiB, usedBytes: 10 * GiB })?.takesBytes // 30 GiB
 */
export function reprovision(estate: Estate, disk: Disk): Reprovisioning | undefined {
  const store = estate.find('store', disk.storeId)
  if (!store) return undefined
  const to = disk.provisioning === 'thin' ? 'thick' : 'thin'
  const takesBytes = to === 'thick' ? disk.sizeBytes - takenBytes(disk) : 0
  return {
    to,
    takesBytes,
    freeBytes: storeBudget(estate, store).freeBytes - takesBytes,
    commands: [
      {
        type: 'disk.update',
        id: disk.id,
        changes: { provisioning: to, ...(to === 'thin' ? { usedBytes: disk.sizeBytes } : {}) },
      },
    ],
  }
}
