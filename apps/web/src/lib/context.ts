import { makeIds, type CommandContext } from '@insel/core'

export const newId = makeIds(Date.now, (count) => crypto.getRandomValues(new Uint8Array(count)))

/** Ids and the time, as the browser makes them for commands it tries out. */
export const browserContext = (): CommandContext => ({ newId, now: new Date().toISOString() })
