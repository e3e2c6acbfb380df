import { fullOn, storeBudget, storeGrowth } from '../../capacity/index.js'
import { counted, formatBytes } from '../../units/index.js'
import { defineRule } from '../rule.js'
import { storesWithOtherRoom } from './again.js'

/** A store that will soon be full at the growth recorded on its disks. Common practice, no source. */
export const storeFullSoon = defineRule({
  id: 'store.full-soon',
  title: 'Store full soon',
  appliesTo: 'store',
  measure: { evidence: 'days to full', worse: 'less' },
  again: storesWithOtherRoom,
  check(estate, store, policy, today) {
    const { perMonth, daysToFull } = storeGrowth(estate, store)
    // A store that is full already has its own finding.
    if (daysToFull === undefined || daysToFull <= 0 || daysToFull > policy.storeFullDays) return []
    const { freeBytes } = storeBudget(estate, store)
    const { days, day } = fullOn(daysToFull, today)
    return [
      {
        severity: 'warning',
        sentence: `${store.name} has ${formatBytes(freeBytes)} free and grows by ${formatBytes(perMonth.value)} a month: full in ${counted(days, 'day')}, about ${day}.`,
        evidence: [
          { label: 'free', value: freeBytes, unit: 'bytes' },
          { label: 'growth a month', value: perMonth.value, unit: 'bytes' },
          { label: 'days to full', value: days, unit: 'days' },
        ],
        remedy: 'Extend the store, move a growing disk to another, or clean up inside the guests that make it grow.',
      },
    ]
  },
})
