import { formatBytes, GB, GiB, KiB, MB, MiB, TB, TiB } from './bytes.js'
import { readNumber, type NumberStyle } from './read-number.js'

/**
 * What a size is typed for. In `memory` and `disk` fields `8G`, `8 GB` and `8 gigs` all mean 8 GiB, as people mean
 * it there; on a drive's `label` `250 GB` is decimal, as it is sold.
 */
export type SizeContext = 'memory' | 'disk' | 'label'

/** A size as it was read, or a sentence that says what was expected; `needsUnit` where only the unit is missing. */
export type SizeReading =
  { readonly ok: true; readonly bytes: number } | { readonly ok: false; readonly sentence: string; readonly needsUnit?: true }

/** What is known of a size from where it is. */
export interface SizeHints {
  /** The unit of a number that has none: a column's, from its heading; `ask` where a number alone is not to be guessed at. */
  readonly unit?: SizeUnit | 'ask'
  /** How the text writes its numbers. */
  readonly style?: NumberStyle | undefined
  /** Whether a column says what machines have, and not what was measured of it: a size that none has is asked about. */
  readonly isOfMachine?: boolean
}

/** Units that a column of sizes may be in. `GB` is read as in a cell: decimal where a label is meant, GiB for memory and disks. */
export const sizeUnits = ['bytes', 'KiB', 'MiB', 'GiB', 'TiB', 'KB', 'MB', 'GB', 'TB'] as const
export type SizeUnit = (typeof sizeUnits)[number]

const fieldUnits: Readonly<Record<string, readonly [binary: number, decimal: number]>> = {
  b: [1, 1],
  byte: [1, 1],
  bytes: [1, 1],
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
  kib: [KiB, KiB],
  mib: [MiB, MiB],
  gib: [GiB, GiB],
  tib: [TiB, TiB],
  // Octets, as they are written in French.
  o: [1, 1],
  ko: [KiB, 1e3],
  mo: [MiB, MB],
  go: [GiB, GB],
  to: [TiB, TB],
  kio: [KiB, KiB],
  mio: [MiB, MiB],
  gio: [GiB, GiB],
  tio: [TiB, TiB],
}
/** What a column's unit is called, by the bytes that it stands for. */
const unitNames: ReadonlyMap<number, SizeUnit> = new Map(sizeUnits.map((unit) => [unitBytes(unit, 'label') ?? 0, unit]))
/** What a number without a unit counts in: MiB for memory, GiB for disks, GB on a label. */
const bareUnits: Readonly<Record<SizeContext, number>> = { memory: MiB, disk: GiB, label: GB }
/** A bare number of memory below this is as likely meant in GiB: no machine of today has so little. Common practice, no source. */
export const BARE_MEMORY_MIN_MIB = 64
/** From here on any number of MiB may be what a machine has; below, memory is dealt in a few sizes. Common practice, no source. */
const ANY_MEMORY_FROM_MIB = 512
const SMALL_MEMORY_MIB: ReadonlySet<number> = new Set([64, 96, 128, 160, 192, 256, 320, 384])
/** And below this, 4 TiB: bytes, kibibytes, or MiB in a column of GiB, were as likely meant. Common practice, no source. */
const ANY_MEMORY_TO_MIB = 2 ** 22

/** What a bare number of memory is asked about, in a sentence; undefined where it is a size that machines have. */
function memoryQuestion(shown: string, value: number, mib: number): string | undefined {
  if (mib < 1 || SMALL_MEMORY_MIB.has(mib) || (mib >= ANY_MEMORY_FROM_MIB && mib < ANY_MEMORY_TO_MIB)) return undefined
  return mib < BARE_MEMORY_MIN_MIB
    ? `“${shown}” alone would be ${mib} MiB of memory. Write ${value}G for ${value} GiB, or ${value}M for ${value} MiB.`
    : mib < ANY_MEMORY_FROM_MIB
      ? `“${shown}” would be ${mib} MiB of memory, a size that hardly any machine has. Write ${value}G for ${value} GiB, ${value}M if it is meant, or mend a slip.`
      : `“${shown}” would be ${formatBytes(mib * MiB)} of memory. Write its unit with it, such as ${value}K or ${value}M, or ${formatBytes(mib * MiB)} if it is meant.`
}

/**
 * Reads a size as it is said in the trade.
 *
 * A bare number of memory counts MiB; one that is far from what machines have is asked back, such as 8 or 496: GiB may be meant, or a slip.
 *
 * @param text for example `8G`, `8 GB`, `8192`, `8 192 MB`, `1.5 TiB`, `60-gig`
 * @param context what the size is for; decides what `G` and a bare number mean
 * @param hints what is known from where it is: the unit of a column, and how a file writes its numbers
 * @returns whole bytes, or a sentence with what was expected
 * @example parseSize('8G', 'memory') // { ok: true, bytes: 8589934592 }
 * @example parseSize('250 GB', 'label') // { ok: true, bytes: 250000000000 }
 * @example parseSize('8', 'memory', { unit: 'GiB' }) // { ok: true, bytes: 8589934592 }
 */
export function parseSize(text: string, context: SizeContext, { unit: column, style, isOfMachine = false }: SizeHints = {}): SizeReading {
  const trimmed = text.trim()
  const shown = trimmed.slice(0, 40)
  const none: SizeReading = {
    ok: false,
    sentence: `“${shown}” is not a size. Type a number and a unit, for example ${exampleFor(context)}.`,
  }
  const letters = trimmed.search(/[a-z%]/i)
  const word = letters < 0 ? '' : trimmed.slice(letters).toLowerCase()
  const number = (letters < 0 ? trimmed : trimmed.slice(0, letters)).trim().replace(/-$/, '').trim()
  if (!/^\d/.test(number)) return none
  const amount = readNumber(number, style)
  if (!amount.ok) return amount.isAmbiguous ? amount : none
  if (word === '' && column === 'ask')
    return {
      ok: false,
      needsUnit: true,
      sentence: `“${shown}” has no unit. Choose the unit of the column, or name it in the heading, such as “${context === 'disk' ? 'Disk' : 'Memory'} (GiB)”.`,
    }
  const factor = word === '' ? (column && column !== 'ask' ? unitBytes(column, context) : bareUnits[context]) : unitBytes(word, context)
  if (factor === undefined)
    return { ok: false, sentence: `“${word.slice(0, 20)}” is not a unit of size. Use MiB, GiB or TiB, or M, G, T for short.` }
  const bytes = Math.round(amount.value * factor)
  const question =
    word === '' && context === 'memory' && (column === undefined || isOfMachine)
      ? memoryQuestion(shown, amount.value, bytes / MiB)
      : undefined
  if (question) return { ok: false, needsUnit: true, sentence: question }
  if (bytes <= 0) return { ok: false, sentence: 'A size must be more than zero.' }
  if (!Number.isSafeInteger(bytes)) return { ok: false, sentence: `“${shown}” is larger than Insel supports (8 PiB).` }
  return { ok: true, bytes }
}

function unitBytes(unit: string, context: SizeContext): number | undefined {
  const word = unit.toLowerCase()
  return Object.hasOwn(fieldUnits, word) ? fieldUnits[word]?.[context === 'label' ? 1 : 0] : undefined
}

/** Octets that are a unit only in brackets or right behind what is measured: `Moved to` and `Mo to Fr` are words. */
const OCTETS = /^[kmgt]o$/
const OCTETS_MEANT = /(?:[([]|ram|m[eé]moire|disque|stockage|capacit[eé]|taille)[\s_-]*([kmgt]o)(?![a-z])/i

/**
 * The unit that a column's heading names: `Memory (GB)`, `RAM MB`, `diskBytes`, `Memory %`. GB in a heading of memory or disks means GiB,
 * as it does in a field; in one of what a label says it is decimal.
 *
 * @returns undefined where it names none
 * @example unitInHeading('Mémoire (Go)') // 'GiB'
 */
export function unitInHeading(heading: string, context: SizeContext = 'memory'): SizeUnit | '%' | undefined {
  // memoryMiB and diskGB have their unit behind a change of case.
  const words = heading
    .slice(0, 200)
    .replace(/([a-z])([KMGT]i?B)/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z%]+/)
    .flatMap((word) => (word.endsWith('%') ? [word.slice(0, -1), '%'] : word.split(/(?=%)/)))
  for (const word of words.reverse()) {
    if (word === '%' || word === 'percent' || word === 'pct' || word === 'prozent') return '%'
    const isUnit = word.length > 1 && (!OCTETS.test(word) || OCTETS_MEANT.exec(heading)?.[1]?.toLowerCase() === word)
    const name = isUnit ? unitNames.get(unitBytes(word, context) ?? 0) : undefined
    if (name) return name
  }
  return undefined
}

const exampleFor = (context: SizeContext) => ({ memory: '8 GiB', disk: '60 GiB', label: '250 GB' })[context]
