import { memoryBudget } from '../../capacity/index.js'
import { formatMiB } from '../../units/index.js'
import { defineRule, evidenceOfSum } from '../rule.js'
import { onHostOf } from './again.js'

/** More memory promised to guests than a host has to give, or than it has without its failover reserve. */
export const hostMemory = defineRule({
  id: 'host.memory-over-budget',
  title: 'Memory over budget',
  appliesTo: 'host',
  measure: { evidence: 'over', worse: 'more' },
  reads: ['> platformId', '< migration.fromHostId', '< migration.toHostId'],
  again: { guest: onHostOf },
  check(estate, host) {
    const { committed, left, reserveMiB, held } = memoryBudget(estate, host)
    if (left.value >= 0 || committed.value + held.value === 0) return []
    const over = -left.value
    const beyondReserve = over > reserveMiB
    return [
      {
        severity: beyondReserve ? 'error' : 'warning',
        sentence: beyondReserve
          ? `${host.name} promises its guests ${formatMiB(over - reserveMiB)} more memory than it has, even with the failover reserve used up.`
          : `${host.name} is ${formatMiB(over)} into its failover reserve of ${formatMiB(reserveMiB)}.`,
        evidence: evidenceOfSum(left, 'over'),
        remedy: 'Move a guest to a host with room, make one smaller, or add memory to the host.',
      },
    ]
  },
})
