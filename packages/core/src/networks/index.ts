export { generateMac, isLocallyAdministered } from './mac.js'
export { inPool, nextFree, poolHolding, preferredSubnet, prefixOf } from './next-free.js'
export {
  contains,
  familyOf,
  ipFromNumber,
  ipToNumber,
  overlaps,
  parsePrefix,
  prefixAround,
  usableCount,
  usableRange,
  type Family,
  type Prefix,
} from './prefix.js'
