import type { AnyRecord, Difference, Records } from '@insel/core'

/** What a record takes beside what its fields hold: itself, and its place by id and among those that belong together; and a field. Bytes. */
const RECORD_BYTES = 400
const FIELD_BYTES = 8

/**
 * About how much memory an estate's records take, bytes.
 *
 * @example bytesOf([{ id: '0189…', name: 'auk' }]) // some 450
 */
function bytesOf(records: readonly AnyRecord[]): number {
  let bytes = 0
  for (const record of records) {
    bytes += RECORD_BYTES
    for (const value of Object.values(record)) bytes += FIELD_BYTES + heldBy(value)
  }
  return bytes
}

function heldBy(value: unknown): number {
  if (typeof value === 'string') return value.length
  return typeof value === 'object' && value !== null ? JSON.stringify(value).length : 0
}

/** The same of all records. */
export const bytesOfAll = (records: Records): number => Object.values(records).reduce((sum, some) => sum + bytesOf(some), 0)

/** By how much an estate's records grow with a difference, bytes; less than nothing where they become fewer. */
export function bytesGrown({ added, updated, removed }: Difference): number {
  const recordsOf = (presences: Difference['added']) => Object.values(presences).map(({ record }) => record)
  const changes = Object.values(updated)
  return (
    bytesOf(recordsOf(added)) -
    bytesOf(recordsOf(removed)) +
    bytesOf(changes.map(({ to }) => to)) -
    bytesOf(changes.map(({ from }) => from))
  )
}
