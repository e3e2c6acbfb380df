import { storeBudget } from '../../capacity/index.js'
import { formatBytes, formatNumber } from '../../units/index.js'
import { defineRule, evidenceOfSum } from '../rule.js'
import { storesWithOtherRoom } from './again.js'

/** Disks that together promise more than the store holds. Common practice, no source. */
export const storePromise = defineRule({
  id: 'store.thin-promise',
  title: 'Thin disks over-promise the store',
  appliesTo: 'store',
  measure: { evidence: 'exposure', worse: 'more' },
  again: storesWithOtherRoom,
  check(estate, store, policy) {
    const { promised, promiseRatio, exposure } = storeBudget(estate, store)
    if (promiseRatio * 100 <= policy.thinPromiseMaxPercent) return []
    return [
      {
        severity: 'warning',
        sentence: `Disks on ${store.name} promise ${formatBytes(promised.value)}, ${formatNumber(promiseRatio * 100, 0)} % of its ${formatBytes(store.capacityBytes)}; if all fill, it is short of ${formatBytes(exposure.value)}.`,
        evidence: evidenceOfSum(exposure, 'exposure'),
        remedy: 'Move a disk to another store, extend the store, or raise the policy and watch the growth.',
      },
    ]
  },
})
