import { makeIds } from '@insel/core'
import { randomFillSync } from 'node:crypto'

/** Random bytes are fetched many at a time: each fetch takes longer than an id. */
const pool = new Uint8Array(4096)
let used = pool.length

function randomBytes(count: number): Uint8Array {
  if (used + count > pool.length) {
    randomFillSync(pool)
    used = 0
  }
  used += count
  return pool.slice(used - count, used)
}

/** An id for a new record, as the server makes them (RFC 9562, version 7). */
export const newId = makeIds(Date.now, randomBytes)
