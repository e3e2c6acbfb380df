import { makeIds } from '@insel/core'
import { randomBytes } from 'node:crypto'

/** An id for a new record, as the server makes them (RFC 9562, version 7). */
export const newId = makeIds(Date.now, (count) => randomBytes(count))
