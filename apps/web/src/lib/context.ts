import { makeIds, type CommandContext, type IdMaker } from '@insel/core'
import { now } from './time'

export const newId = makeIds(Date.now, (count) => crypto.getRandomValues(new Uint8Array(count)))

/** New ids, for what is put together here before anybody asks for it. */
export const ids: IdMaker = { newId }

/**
 * Ids and the time, as the browser makes them for commands it tries out.
 *
 * @param revision the revision they are tried on
 */
export const browserContext = (revision: number): CommandContext => ({ newId, now: now(), revision: revision + 1 })
