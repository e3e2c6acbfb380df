import { type Difference, type Disk, type Host, type Item, type Kind } from '../estate/index.js'
import { ELECTRICAL_CAUTION, HANDLING_CAUTION } from '../hosts/index.js'

/** What is gone from the machines when its record goes. */
const HOLDING_DATA: ReadonlySet<Kind> = new Set<Kind>(['guest', 'disk', 'snapshot', 'drive', 'array', 'store', 'image'])
/** What is put in or taken out by hand. */
const IN_A_MACHINE: ReadonlySet<Kind> = new Set<Kind>(['module', 'drive', 'array'])

/** What is said before something is wiped. Common practice, no source. */
const WIPING_CAUTION =
  'What is deleted, wiped or made smaller cannot be brought back: compare names and sizes with the record, and see that a backup can be restored.'

const wipes = ({ updated, removed }: Difference): boolean =>
  Object.values(removed).some(({ kind }) => HOLDING_DATA.has(kind)) ||
  Object.values(updated).some(({ kind, from, to }) => kind === 'disk' && (to as Disk).sizeBytes < (from as Disk).sizeBytes)

/**
 * Whether what an item does cannot be taken back on the machines, whatever the record says: a person marked it so, or it deletes what holds
 * data.
 *
 * @param difference what it does; undefined where that is not known
 */
export const cannotBeUndone = ({ isFinal }: Pick<Item, 'isFinal'>, difference: Difference | undefined): boolean =>
  isFinal || (difference !== undefined && wipes(difference))

/**
 * What is to be minded while an item is done: wiping, opening and lifting machines, electricity.
 *
 * @example cautionsOf(difference)[0] // 'Lift a rack server with two people …' where memory is put in
 */
export function cautionsOf(difference: Difference): readonly string[] {
  const entries = [...Object.values(difference.added), ...Object.values(difference.removed)]
  const isPhysical = (entry: (typeof entries)[number]) => entry.kind === 'host' && (entry.record as Host).kind === 'physical'
  return [
    ...(wipes(difference) ? [WIPING_CAUTION] : []),
    ...(entries.some((entry) => IN_A_MACHINE.has(entry.kind) || isPhysical(entry)) ? [HANDLING_CAUTION] : []),
    ...(entries.some(isPhysical) ? [ELECTRICAL_CAUTION] : []),
  ]
}
