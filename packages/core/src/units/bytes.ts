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

/**
 * A number with thousands set apart by a thin space and at most `digits` decimals, trailing zeros dropped.
 *
 * @example formatNumber(12345.678, 1) // '12 345.7'
 */
export function formatNumber(value: number, digits = 1): string {
  const rounded = Number(value.toFixed(digits))
  const [whole = '0', fraction] = String(Math.abs(rounded)).split('.')
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, THIN_SPACE) : whole
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
