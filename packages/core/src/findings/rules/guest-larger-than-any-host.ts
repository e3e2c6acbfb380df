import { type Estate, platformOf } from '../../estate/index.js'
import { logicalCpus } from '../../capacity/index.js'
import { formatMiB } from '../../units/index.js'
import { defineRule } from '../rule.js'

interface Largest {
  readonly memoryMiB: number
  readonly logical: number
}

/** What the largest hosts offer an only guest: memory after platform and overhead, and logical CPUs. */
function largestOf(estate: Estate): Largest {
  const hosts = estate.all('host').filter((host) => host.state !== 'retired')
  return {
    memoryMiB: Math.max(
      0,
      ...hosts.map((host) => {
        const platform = platformOf(estate, host)
        const room = host.memoryMiB - platform.ownMemoryMiB - platform.guestOverheadMiB
        return Math.min(Math.floor(room / (1 + platform.guestOverheadPercent / 100)), platform.guestMemoryMaxMiB)
      }),
    ),
    logical: Math.max(0, ...hosts.map((host) => Math.min(logicalCpus(host), platformOf(estate, host).guestVcpuMax))),
  }
}

/** A guest that no host could run, even if it were the only one. */
export const guestLargerThanAnyHost = defineRule({
  id: 'guest.larger-than-any-host',
  title: 'Larger than any host',
  appliesTo: 'guest',
  again: { host: () => 'all', platform: () => 'all' },
  check(estate, guest) {
    if (guest.kind === 'external' || estate.count('host') === 0) return []
    const largest = estate.derive(['host', 'platform'], largestOf)
    const overMemory = guest.memoryMiB > largest.memoryMiB
    const overProcessors = guest.vcpu > largest.logical
    if (!overMemory && !overProcessors) return []
    const parts = [
      ...(overMemory ? [`${formatMiB(guest.memoryMiB)} of memory, and the largest host has ${formatMiB(largest.memoryMiB)}`] : []),
      ...(overProcessors ? [`${guest.vcpu} vCPU, and the largest host has ${largest.logical} logical CPUs`] : []),
    ]
    return [
      {
        severity: 'error',
        sentence: `${guest.name} asks ${parts.join(', and ')}.`,
        evidence: [
          { label: 'memory asked', value: guest.memoryMiB, unit: 'MiB' },
          { label: 'memory of the largest host', value: largest.memoryMiB, unit: 'MiB' },
          { label: 'vCPUs asked', value: guest.vcpu, unit: 'vCPU' },
          { label: 'logical CPUs of the largest host', value: largest.logical, unit: 'vCPU' },
        ],
        remedy: 'Make the guest smaller, or plan a larger host.',
      },
    ]
  },
})
