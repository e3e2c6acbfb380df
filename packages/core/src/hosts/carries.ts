import type { Estate } from '../estate/index.js'

/** Whether a host carries a network. */
export const carries = (estate: Estate, hostId: string, networkId: string): boolean =>
  estate.referring('attachment', 'hostId', hostId).some((attachment) => attachment.networkId === networkId)
