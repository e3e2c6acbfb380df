import type { Estate, Host } from '../../estate/index.js'
import { formatBytes, formatMiB } from '../../units/index.js'
import { defineRule } from '../rule.js'

const hostsIn = (estate: Estate, guestId: string): readonly string[] =>
  estate.referring('host', 'outerGuestId', guestId).map(({ id }) => id)

/** What a nested host is recorded with beyond what its guest gives it: it cannot have more. */
function beyondIts(estate: Estate, host: Host) {
  const guest = estate.find('guest', host.outerGuestId)
  if (!guest) return undefined
  const sum = (of: readonly number[]) => of.reduce((total, one) => total + one, 0)
  const capacity = sum(estate.referring('store', 'hostId', host.id).map(({ capacityBytes }) => capacityBytes))
  const disks = sum(estate.referring('disk', 'guestId', guest.id).map(({ sizeBytes }) => sizeBytes))
  const cores = host.sockets * host.coresPerSocket
  const parts = [
    { what: 'cores', has: cores, gives: guest.vcpu, said: [`${cores} cores`, `${guest.vcpu} vCPU`] },
    { what: 'memory', has: host.memoryMiB, gives: guest.memoryMiB, said: [formatMiB(host.memoryMiB), formatMiB(guest.memoryMiB)] },
    { what: 'stores', has: capacity, gives: disks, said: [`${formatBytes(capacity)} of stores`, `${formatBytes(disks)} of disks`] },
  ]
  return { guest, beyond: parts.filter(({ has, gives }) => has > gives) }
}

/** A nested host that is recorded with more than the guest it runs in: one of the two records is wrong. */
export const nestedBeyondGuest = defineRule({
  id: 'host.more-than-its-guest',
  title: 'Nested host larger than its guest',
  appliesTo: 'host',
  again: {
    guest: (estate, { id }) => hostsIn(estate, id),
    disk: (estate, { guestId }) => hostsIn(estate, guestId),
    store: (_, { hostId }) => (hostId ? [hostId] : []),
  },
  check(estate, host) {
    const found = beyondIts(estate, host)
    if (!found || found.beyond.length === 0) return []
    const { guest, beyond } = found
    const evidence = beyond.flatMap(({ what, said: [has = '', gives = ''] }) => [
      { label: `${what}, host`, value: has },
      { label: `${what}, guest`, value: gives },
    ])
    const remedy = `Correct ${host.name}, or give ${guest.name} what it is said to have.`
    const has = beyond.map(({ said }) => said[0]).join(', ')
    const gives = beyond.map(({ said }) => said[1]).join(', ')
    return [
      {
        severity: 'warning',
        sentence: `${host.name} is recorded with ${has}; ${guest.name}, in which it runs, has ${gives}.`,
        evidence,
        remedy,
      },
      {
        severity: 'warning',
        subject: { kind: 'guest', id: guest.id },
        sentence: `${guest.name} has ${gives}; ${host.name}, which runs in it, is recorded with ${has}.`,
        evidence,
        remedy,
      },
    ]
  },
})
