import type { Estate, Host } from '../../estate/index.js'
import { formatBytes, formatMiB } from '../../units/index.js'
import { defineRule } from '../rule.js'

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
  reads: ['> outerGuestId', '> outerGuestId < disk.guestId', '< store.hostId'],
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

const nestedIn = (estate: Estate): readonly string[] => estate.all('host').flatMap(({ id, outerGuestId }) => (outerGuestId ? [id] : []))
/** The attachments of a network on nested hosts, which are few. */
const nestedOn = (estate: Estate, networkId: string): readonly string[] =>
  estate.derive(['host'], nestedIn).flatMap((hostId) => estate.byKey('attachment', { hostId, networkId }).map(({ id }) => id))

/** Guests on a network that a nested host bridges, where the outer host drops frames with their MACs: nothing outside hears them. */
export const nestedMacsDropped = defineRule({
  id: 'attachment.macs-dropped',
  title: 'Foreign MACs dropped',
  appliesTo: 'attachment',
  reads: ['> networkId < attachment.networkId', '> hostId', '> hostId > outerGuestId', '> hostId < guest.hostId'],
  again: { adapter: (estate, { networkId }) => (networkId ? nestedOn(estate, networkId) : []) },
  check(estate, attachment) {
    const host = estate.find('host', attachment.hostId)
    const network = estate.find('network', attachment.networkId)
    const outer = estate.find('guest', host?.outerGuestId)
    const outside = estate.find('host', outer?.hostId)
    if (!host || !network || !outer || !outside || attachment.kind !== 'bridged') return []
    const above = estate.byKey('attachment', { hostId: outside.id, networkId: network.id })[0]
    if (above?.foreignMacs !== 'dropped') return []
    const silent = estate
      .referring('guest', 'hostId', host.id)
      .filter(({ id }) => estate.referring('adapter', 'guestId', id).some(({ networkId }) => networkId === network.id))
    if (silent.length === 0) return []
    return [
      {
        severity: 'error',
        sentence: `${host.name} bridges ${network.name}, and ${outside.name} drops frames that ${outer.name} sends with other MACs: ${silent
          .slice(0, 4)
          .map(({ name }) => name)
          .join(', ')}${silent.length > 4 ? ` and ${silent.length - 4} more` : ''} cannot be heard outside it.`,
        evidence: [
          { label: 'foreign MACs', value: above.foreignMacs },
          { label: 'attached to', value: outside.name },
        ],
        remedy: `Let foreign MACs through where ${network.name} is attached to ${outside.name}, or translate ${network.name} on ${host.name}.`,
      },
    ]
  },
})
