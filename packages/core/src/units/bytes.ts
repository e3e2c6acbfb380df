/** Bytes in the binary units that memory and virtual disks are dealt in (IEC 80000-13). */
export const KiB = 1024
export const MiB = 1024 ** 2
export const GiB = 1024 ** 3
export const TiB = 1024 ** 4

/** Bytes in the decimal units that drives and links are sold in (IEC 80000-13). */
export const MB = 1e6
export const GB = 1e9
export const TB = 1e12

const THIN_SPACE = '\u2009'

/** Digits in threes from the right. */
function inThousands(digits: string): string {
  const head = digits.length % 3
  return [...(head ? [digits.slice(0, head)] : []), ...(digits.slice(head).match(/.{3}/g) ?? [])].join(THIN_SPACE)
}

/**
 * A number with thousands set apart by a thin space and at most `digits` decimals, trailing zeros dropped.
 *
 * @example formatNumber(12345.678, 1) // '12 345.7'
 */
export function formatNumber(value: number, digits = 1): string {
  const rounded = Number(value.toFixed(digits))
  const [whole = '0', fraction] = String(Math.abs(rounded)).split('.')
  const grouped = whole.length > 4 ? inThousands(whole) : whole
  return `${rounded < 0 ? '−' : ''}${grouped}${fraction ? `.${fraction}` : ''}`
}

const binarySteps = [
  { unit: 'TiB', bytes: TiB },
  { unit: 'GiB', bytes: GiB },
  { unit: 'MiB', bytes: MiB },
  { unit: 'KiB', bytes: KiB },
] as const

/**
 * A size in bytes, written in the largest binary unit in which it is at least 1.
 *
 * @param bytes size in bytes; may be negative (a shortfall)
 * @example formatBytes(250e9) // '232.8 GiB'
 */
export function formatBytes(bytes: number, digits = 1): string {
  const step = binarySteps.find((s) => Math.abs(bytes) >= s.bytes)
  return step ? `${formatNumber(bytes / step.bytes, digits)} ${step.unit}` : `${formatNumber(bytes, 0)} B`
}

/**
 * A drive's label capacity: decimal, as printed on the drive.
 *
 * @example formatLabelBytes(250e9) // '250 GB'
 */
export function formatLabelBytes(bytes: number): string {
  const step = [
    { unit: 'TB', bytes: TB },
    { unit: 'GB', bytes: GB },
    { unit: 'MB', bytes: MB },
  ].find((s) => bytes >= s.bytes)
  return step ? `${formatNumber(bytes / step.bytes, 2)} ${step.unit}` : `${bytes} B`
}

/**
 * Memory in MiB, written in GiB from 1 GiB on.
 *
 * @example formatMiB(1434) // '1.4 GiB'
 */
export const formatMiB = (mebibytes: number, digits = 1): string => formatBytes(mebibytes * MiB, digits)

const exactSteps = {
  binary: [
    ['TiB', TiB],
    ['GiB', GiB],
    ['MiB', MiB],
  ],
  label: [
    ['TB', TB],
    ['GB', GB],
  ],
} as const

/**
 * A size written so that reading it again gives the same bytes, and in no more than two decimals: in the largest unit where
 * that can be done, otherwise in bytes.
 *
 * @param bytes whole bytes
 * @param as `label` counts as a drive's label does, decimal
 * @example formatExactBytes(1.5 * 2 ** 30) // '1.5 GiB'
 */
export function formatExactBytes(bytes: number, as: 'binary' | 'label' = 'binary'): string {
  const step = exactSteps[as].find(([, size]) => bytes >= size && Number.isInteger((bytes / size) * 100))
  return step ? `${bytes / step[1]} ${step[0]}` : `${bytes} B`
}
