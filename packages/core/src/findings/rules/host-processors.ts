import { vcpuBudget } from '../../capacity/index.js'
import { formatNumber } from '../../units/index.js'
import { defineRule } from '../rule.js'
import { onHostOf } from './again.js'

/** More vCPUs on a host than the policies let share its cores. Common practice, no source. */
export const hostProcessors = defineRule({
  id: 'host.vcpu-over-ceiling',
  title: 'Processors over the ceiling',
  appliesTo: 'host',
  measure: { evidence: 'load', worse: 'more' },
  reads: ['< migration.fromHostId', '< migration.toHostId'],
  again: { guest: onHostOf },
  check(estate, host) {
    const { cores, load, vcpu } = vcpuBudget(estate, host)
    if (load.value <= cores) return []
    return [
      {
        severity: 'warning',
        sentence: `${host.name} counts ${formatNumber(load.value)} cores of load on ${cores} cores.`,
        evidence: [
          { label: 'load', value: load.value, unit: 'cores' },
          { label: 'cores', value: cores, unit: 'cores' },
          { label: 'vCPUs of all guests', value: vcpu, unit: 'vCPU' },
        ],
        remedy: 'Move a guest, give a guest fewer vCPUs, or let it share more (latency class).',
      },
    ]
  },
})
