import { storeBudget } from '../../capacity/index.js'
import { formatBytes, formatNumber } from '../../units/index.js'
import { defineRule } from '../rule.js'
import { storesWithOtherRoom } from './again.js'

/** A store that is nearly or wholly full. Thresholds: common practice, no source. */
export const storeFull = defineRule({
  id: 'store.over-capacity',
  title: 'Store nearly full',
  appliesTo: 'store',
  measure: { evidence: 'in use', worse: 'more' },
  again: storesWithOtherRoom,
  check(estate, store, policy) {
    const { used, freeBytes } = storeBudget(estate, store)
    const percent = (used.value / store.capacityBytes) * 100
    if (percent < policy.storeWarnPercent) return []
    return [
      {
        severity: percent >= policy.storeErrorPercent ? 'error' : 'warning',
        sentence:
          freeBytes < 0
            ? `${store.name} holds ${formatBytes(-freeBytes)} more than its capacity: the record or the store is wrong.`
            : `${store.name} is ${formatNumber(percent, 0)} % in use; ${formatBytes(freeBytes)} are free.`,
        evidence: [
          { label: 'used', value: used.value, unit: 'bytes' },
          { label: 'capacity', value: store.capacityBytes, unit: 'bytes' },
          { label: 'in use', value: percent, unit: '%' },
        ],
        remedy: 'Move a disk to another store, remove what is not needed, or extend the store.',
      },
    ]
  },
})
