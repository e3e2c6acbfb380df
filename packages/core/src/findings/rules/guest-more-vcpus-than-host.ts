import { logicalCpus } from '../../capacity/index.js'
import { defineRule } from '../rule.js'
/** A guest with more vCPUs than its host has logical CPUs is an error; over one socket's cores is a notice. Common practice, no source. */
export const guestMoreVcpusThanHost = defineRule({
  id: 'guest.more-vcpus-than-host',
  title: 'More vCPUs than the host has',
  appliesTo: 'guest',
  reads: ['> hostId'],
  check(estate, guest) {
    const host = estate.find('host', guest.hostId)
    if (!host || guest.kind !== 'machine') return []
    const logical = logicalCpus(host)
    const evidence = [
      { label: 'vCPUs', value: guest.vcpu, unit: 'vCPU' as const },
      { label: 'logical CPUs', value: logical, unit: 'vCPU' as const },
      { label: 'cores of a socket', value: host.coresPerSocket, unit: 'cores' as const },
    ]
    if (guest.vcpu > logical)
      return [
        {
          severity: 'error',
          sentence: `${guest.name} has ${guest.vcpu} vCPU on ${host.name}, which has ${logical} logical CPUs.`,
          evidence,
          remedy: 'Give it fewer vCPUs, or move it to a larger host.',
        },
      ]
    if (guest.vcpu > host.coresPerSocket && host.sockets > 1)
      return [
        {
          severity: 'notice',
          sentence: `${guest.name} has ${guest.vcpu} vCPU and spans sockets of ${host.coresPerSocket} cores on ${host.name} (NUMA).`,
          evidence,
          remedy: 'Keep it within one socket’s cores if its memory traffic is heavy.',
        },
      ]
    return []
  },
})
