import { GB, GiB, KiB, MB, MiB, TB, TiB } from './bytes.js'

/**
 * What a size is typed for. In `memory` and `disk` fields `8G`, `8 GB` and `8 gigs` all mean 8 GiB, as people mean
 * it there; on a drive's `label` `250 GB` is decimal, as it is sold.
 */
export type SizeContext = 'memory' | 'disk' | 'label'

/** A size as it was read, or a sentence that says what was expected. */
export type SizeReading = { ok: true; bytes: number } | { ok: false; sentence: string }

const pattern = /^(\d+(?:[.,]\d+)?)\s*-?\s*([a-z]*)$/i

const binaryUnits: Record<string, number> = { kib: KiB, mib: MiB, gib: GiB, tib: TiB }
const fieldUnits: Record<string, [binary: number, decimal: number]> = {
  b: [1, 1],
  k: [KiB, 1e3],
  kb: [KiB, 1e3],
  m: [MiB, MB],
  mb: [MiB, MB],
  meg: [MiB, MB],
  megs: [MiB, MB],
  g: [GiB, GB],
  gb: [GiB, GB],
  gig: [GiB, GB],
  gigs: [GiB, GB],
  t: [TiB, TB],
  tb: [TiB, TB],
}
/** What a number without a unit counts in: MiB for memory, GiB for disks, GB on a label. */
const bareUnits: Record<SizeContext, number> = { memory: MiB, disk: GiB, label: GB }

/**
 * Reads a size as it is said in the trade.
 *
 * @param text for example `8G`, `8 GB`, `8192`, `1.5 TiB`, `60-gig`
 * @param context what the size is for; decides what `G` and a bare number mean
 * @returns whole bytes, or a sentence with what was expected
 * @example parseSize('8G', 'memory') // { ok: true, bytes: 8589934592 }
 * @example parseSize('250 GB', 'label') // { ok: true, bytes: 250000000000 }
 */
export function parseSize(text: string, context: SizeContext): SizeReading {
  const match = pattern.exec(text.trim())
  if (!match) return { ok: false, sentence: `“${text.trim()}” is no size. Type a number and a unit, for example ${exampleFor(context)}.` }
  const amount = Number(match[1]?.replace(',', '.'))
  const unit = (match[2] ?? '').toLowerCase()
  const factor = unitBytes(unit, context)
  if (factor === undefined) return { ok: false, sentence: `“${match[2]}” is no unit of size. Use MiB, GiB or TiB, or M, G, T for short.` }
  const bytes = Math.round(amount * factor)
  if (bytes <= 0) return { ok: false, sentence: 'A size is more than zero.' }
  if (!Number.isSafeInteger(bytes)) return { ok: false, sentence: `“${text.trim()}” is larger than Insel can count (8 PiB).` }
  return { ok: true, bytes }
}

function unitBytes(unit: string, context: SizeContext): number | undefined {
  if (unit === '') return bareUnits[context]
  const field = fieldUnits[unit]
  if (field) return field[context === 'label' ? 1 : 0]
  return binaryUnits[unit]
}

const exampleFor = (context: SizeContext) => ({ memory: '8 GiB', disk: '60 GiB', label: '250 GB' })[context]
