import type { Host } from '../estate/index.js'

/**
 * Where a host stands, in words; empty where that is not recorded.
 *
 * @example rackPlace(host) // 'rack B, unit 12'
 */
export const rackPlace = ({ rack, heightUnit }: Pick<Host, 'rack' | 'heightUnit'>): string =>
  [rack, heightUnit && `unit ${heightUnit}`].filter(Boolean).join(', ')
