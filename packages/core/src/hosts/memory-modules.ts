import type { Estate, Host, MemoryModule } from '../estate/index.js'
import { formatMiB } from '../units/index.js'

/** A host's memory slots and what is in them. */
export interface ModuleView {
  /** One entry for each slot, in order. Where the number of slots is not recorded, up to the last one filled. */
  readonly slots: readonly { readonly slot: number; readonly module: MemoryModule | undefined }[]
  readonly fittedMiB: number
  readonly plannedMiB: number
  readonly free: number
  /** Whether the number of slots is recorded. */
  readonly isSlotCountKnown: boolean
  readonly remarks: readonly string[]
}

/** Usable memory under this share of what is fitted is worth a look. Common practice, no source: 7.6 of 8 GiB is 95 %. */
const USUAL_USABLE = 0.9

/**
 * A host's memory by slot, with what is unusual about it.
 *
 * @see common practice, no source: unlike modules run at the slowest one's speed and may lose interleaving
 */
export function moduleView(estate: Estate, host: Host): ModuleView {
  const modules = [...estate.referring('module', 'hostId', host.id)].sort((a, b) => a.slot - b.slot)
  const count = Math.max(host.memorySlots ?? 0, ...modules.map(({ slot }) => slot), 0)
  const sum = (state: MemoryModule['state']) =>
    modules.filter((one) => one.state === state).reduce((total, { sizeMiB }) => total + sizeMiB, 0)
  const [fittedMiB, plannedMiB] = [sum('fitted'), sum('planned')]
  const sizes = [...new Set(modules.map(({ sizeMiB }) => sizeMiB))].sort((a, b) => a - b)
  const speeds = [...new Set(modules.flatMap(({ speedMTs }) => speedMTs ?? []))].sort((a, b) => a - b)
  const remarks: string[] = []
  if (sizes.length > 1) remarks.push(`Mixed sizes (${sizes.map((size) => formatMiB(size)).join(', ')}): interleaving may be lost.`)
  if (speeds.length > 1) remarks.push(`Mixed speeds (${speeds.join(', ')} MT/s): all run at the slowest, ${speeds[0]} MT/s.`)
  if (fittedMiB > 0 && host.memoryMiB > fittedMiB)
    remarks.push(`${formatMiB(host.memoryMiB)} usable is more than the ${formatMiB(fittedMiB)} fitted: one of the two is wrong.`)
  if (fittedMiB > 0 && host.memoryMiB < fittedMiB * USUAL_USABLE)
    remarks.push(
      `Only ${formatMiB(host.memoryMiB)} of ${formatMiB(fittedMiB)} fitted is usable: firmware and graphics usually take less than a tenth. Check for a module that is not seated.`,
    )
  return {
    slots: Array.from({ length: count }, (_, index) => ({
      slot: index + 1,
      module: modules.find(({ slot }) => slot === index + 1),
    })),
    fittedMiB,
    plannedMiB,
    free: count - modules.length,
    isSlotCountKnown: host.memorySlots !== null,
    remarks,
  }
}
