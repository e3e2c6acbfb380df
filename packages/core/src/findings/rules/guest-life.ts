import { counted } from '../../units/index.js'
import { type Command } from '../../commands/index.js'
import {
  dayOf,
  daysBetween,
  guestsInside,
  isInService,
  isPoweredOn,
  standstillOf,
  storeReach,
  type Estate,
  type Host,
} from '../../estate/index.js'
import { isBeingCopied } from '../../clones/index.js'
import { neededGuests, startOrder } from '../../guests/index.js'
import { defineRule } from '../rule.js'
import { allWhen } from './again.js'

/** A guest in service whose install nobody verified. Common practice, no source. */
export const guestNotVerified = defineRule({
  id: 'guest.not-verified',
  title: 'In service, never verified',
  appliesTo: 'guest',
  reads: ['< copy.guestId'],
  check(estate, guest) {
    // A copy that was never started is not in service yet.
    if (guest.kind !== 'machine' || guest.state !== 'running' || guest.verifiedAt !== null || isBeingCopied(estate, guest)) return []
    return [
      {
        severity: 'notice',
        sentence: `${guest.name} is in service, but its install was never verified.`,
        evidence: [{ label: 'state', value: guest.state }],
        remedy: 'Do the verification at the end of its install sheet.',
      },
    ]
  },
})

const inside = (estate: Estate, hosts: readonly Host[]): readonly string[] =>
  guestsInside(
    estate,
    hosts.map(({ id }) => id),
  ).map(({ id }) => id)

/**
 * A guest that is recorded as running where nothing runs, on a host that is not in service or in one that is off, at whatever
 * depth: one of the two records is behind. Common practice, no source.
 */
export const guestHostNotInService = defineRule({
  id: 'guest.host-not-in-service',
  title: 'Running on a host that is not in service',
  appliesTo: 'guest',
  again: {
    host: (estate, host) => inside(estate, [host]),
    guest: (estate, { id }) => inside(estate, estate.referring('host', 'outerGuestId', id)),
  },
  check(estate, guest) {
    const host = estate.find('host', guest.hostId)
    const why = host && isPoweredOn(guest) ? standstillOf(estate, host) : undefined
    if (!host || why === undefined) return []
    return [
      {
        severity: 'warning',
        sentence: `${guest.name} is recorded as ${guest.state} on ${host.name}, which ${why}.`,
        evidence: [
          { label: 'guest', value: guest.state },
          { label: 'host', value: why },
        ],
        remedy:
          host.state === 'in service'
            ? `Record the guest as stopped, move it to another host, or record what ${host.name} runs in as it is.`
            : 'Record the guest as stopped, move it to another host, or record the host as in service.',
      },
    ]
  },
})

/** A guest that is powered on and on no host: it takes room that nobody counts. New ones are refused. */
export const guestNoHost = defineRule({
  id: 'guest.no-host',
  title: 'Running on no host',
  appliesTo: 'guest',
  check: (_, guest) =>
    guest.kind === 'machine' && isPoweredOn(guest) && !guest.hostId
      ? [
          {
            severity: 'error',
            sentence: `${guest.name} is recorded as ${guest.state}, and on no host.`,
            evidence: [{ label: 'guest', value: guest.state }],
            remedy: 'Record the host it runs on, or record it as stopped.',
          },
        ]
      : [],
})

/** The system of a guest is out of support, or soon will be. The day is the dataset's or the administrator's. */
export const guestSupportEnds = defineRule({
  id: 'guest.support-ends',
  title: 'System out of support',
  appliesTo: 'guest',
  reads: ['> systemId'],
  check(estate, guest, policy, today) {
    const system = estate.find('system', guest.systemId)
    if (!system?.supportedUntil || guest.state === 'retired') return []
    const days = daysBetween(today, system.supportedUntil)
    if (days > policy.reminderDays) return []
    return [
      {
        severity: days < 0 ? 'warning' : 'notice',
        sentence:
          days < 0
            ? `${guest.name} runs ${system.name}, out of support since ${system.supportedUntil}.`
            : `${guest.name} runs ${system.name}; its support ends on ${system.supportedUntil}.`,
        evidence: [
          { label: 'supported until', value: system.supportedUntil },
          { label: 'from', value: system.source },
        ],
        remedy: 'Plan a newer release, or record the day to which support was extended.',
      },
    ]
  },
})

const mediumOut = (guestId: string): Command => ({ type: 'guest.update', id: guestId, changes: { mediumId: null, bootFirst: 'disk' } })

/** An install medium left in, or the boot order left on it: the machine installs itself again. Common practice, no source. */
export const guestMediumAttached = defineRule({
  id: 'guest.medium-attached',
  title: 'Install medium still attached',
  appliesTo: 'guest',
  reads: ['> mediumId', '< disk.guestId'],
  check(estate, guest) {
    if (guest.kind === 'external' || !isInService(guest)) return []
    const medium = estate.find('image', guest.mediumId)
    const hasDisk = estate.referring('disk', 'guestId', guest.id).length > 0
    // An appliance without a disk runs from its medium.
    if (!hasDisk || (!medium && guest.bootFirst === 'disk')) return []
    return [
      {
        severity: guest.bootFirst === 'disk' ? 'notice' : 'warning',
        sentence: medium
          ? `${guest.name} is in service with ${medium.name} still attached${guest.bootFirst === 'disk' ? '' : `, and boots first from ${guest.bootFirst}: it may install itself again`}.`
          : `${guest.name} is in service and still boots first from ${guest.bootFirst}.`,
        evidence: [{ label: 'boots first from', value: guest.bootFirst }],
        remedy: 'Eject the medium, and put the disk first in the boot order.',
      },
    ]
  },
  fix: (_, guest) => [mediumOut(guest.id)],
})

/** An install medium that the guest's host cannot read, or that is not connected when it starts. Common practice, no source. */
export const guestMediumOutOfReach = defineRule({
  id: 'guest.medium-out-of-reach',
  title: 'Install medium missing at power-on',
  appliesTo: 'guest',
  reads: ['> mediumId', '> mediumId > storeId', '> hostId'],
  check(estate, guest) {
    if (guest.state !== 'planned' && guest.state !== 'being installed') return []
    const medium = estate.find('image', guest.mediumId)
    if (!medium) return []
    const host = estate.find('host', guest.hostId)
    const store = estate.find('store', medium.storeId)
    const troubles = [
      ...(!store
        ? [`${medium.name} is on no store`]
        : host && !storeReach(store, host)
          ? [`${medium.name} is on ${store.name}, which ${host.name} does not reach`]
          : []),
      ...(guest.mediumConnected ? [] : ['it is not connected at power-on']),
      ...(guest.bootFirst === 'medium' ? [] : [`the guest boots first from ${guest.bootFirst}`]),
    ]
    if (troubles.length === 0) return []
    return [
      {
        severity: 'warning',
        sentence: `The installer of ${guest.name} will not start: ${troubles.join('; ')}.`,
        evidence: [
          { label: 'medium', value: medium.name },
          { label: 'store', value: store?.name ?? 'none' },
        ],
        remedy: 'Put the image on a store that the host reaches, connect it, and boot from it first.',
      },
    ]
  },
  fix: (_, guest) =>
    guest.mediumConnected && guest.bootFirst === 'medium'
      ? undefined
      : [{ type: 'guest.update', id: guest.id, changes: { mediumConnected: true, bootFirst: 'medium' } }],
})

/** Two guests that are to be kept apart and are on one host. Common practice, no source. */
export const guestNotApart = defineRule({
  id: 'guest.not-apart',
  title: 'Pair on one host',
  appliesTo: 'guest',
  reads: ['> apartFromId', '< guest.apartFromId'],
  check(estate, guest) {
    const other = estate.find('guest', guest.apartFromId)
    const host = estate.find('host', guest.hostId)
    if (!other || !host || other.hostId !== host.id || guest.state === 'retired' || other.state === 'retired') return []
    return [
      {
        severity: 'warning',
        sentence: `${guest.name} is kept apart from ${other.name}, and both are on ${host.name}: one failure takes both.`,
        evidence: [{ label: 'host', value: host.name }],
        remedy: 'Move one of the two to another host.',
      },
    ]
  },
})

/** Guests that wait for each other: none of them could be started first. */
export const guestWaitsInCircle = defineRule({
  id: 'guest.waits-in-circle',
  title: 'Guests wait for each other',
  appliesTo: 'estate',
  again: {
    dependency: () => 'all',
    guest: allWhen('hostId', 'isRouter'),
    host: allWhen('outerGuestId'),
    store: allWhen('servedById'),
    disk: allWhen('guestId', 'storeId'),
    adapter: allWhen('guestId', 'networkId'),
    address: allWhen('adapterId', 'ip'),
    subnet: allWhen('networkId', 'nameServers'),
  },
  check(estate) {
    if (estate.count('dependency') === 0) return []
    return startOrder(estate, neededGuests(estate)).circles.map((circle) => ({
      severity: 'error',
      subject: { kind: 'guest', id: circle[0]?.id ?? '' },
      sentence: `${circle.map(({ name }) => name).join(' waits for ')} waits for ${circle[0]?.name ?? ''}: none can be started first.`,
      evidence: [{ label: 'in the circle', value: circle.length, unit: 'guests' }],
      remedy: 'Remove the dependency that is not needed at start.',
    }))
  },
})

/** A snapshot that is old: it grows with every change and makes the guest slow. Common practice, no source. */
export const snapshotOld = defineRule({
  id: 'snapshot.old',
  title: 'Old snapshot',
  appliesTo: 'snapshot',
  check(estate, snapshot, policy, today) {
    const days = daysBetween(dayOf(estate, snapshot.takenAt), today)
    if (days <= policy.snapshotMaxDays) return []
    const guest = estate.find('guest', snapshot.guestId)
    return [
      {
        severity: 'warning',
        sentence: `Snapshot ${snapshot.name} of ${guest?.name ?? ''} is ${counted(days, 'day')} old; it grows with every change, and it is not a backup.`,
        evidence: [
          { label: 'age', value: days, unit: 'days' },
          { label: 'size', value: snapshot.sizeBytes, unit: 'bytes' },
        ],
        remedy: 'Remove it, or make a backup of what is worth keeping. Removing a large one takes time and space.',
      },
    ]
  },
  fix: (estate, snapshot) => [
    ...estate
      .referring('snapshot', 'parentId', snapshot.id)
      .map((child): Command => ({ type: 'snapshot.update', id: child.id, changes: { parentId: snapshot.parentId } })),
    { type: 'snapshot.remove', id: snapshot.id },
  ],
})

/** Snapshots on top of one another, deeper than the policy. Common practice, no source. */
export const snapshotDeep = defineRule({
  id: 'snapshot.deep',
  title: 'Too many snapshots in a chain',
  appliesTo: 'snapshot',
  reads: ['> guestId < snapshot.guestId'],
  check(estate, snapshot, policy) {
    // Said once, of the snapshot on top.
    if (estate.referring('snapshot', 'parentId', snapshot.id).length > 0) return []
    let depth = 1
    for (let parent = estate.find('snapshot', snapshot.parentId); parent; parent = estate.find('snapshot', parent.parentId)) depth++
    if (depth <= policy.snapshotMaxDepth) return []
    return [
      {
        severity: 'warning',
        sentence: `${estate.find('guest', snapshot.guestId)?.name ?? ''} has a chain of ${counted(depth, 'snapshot')}; the policies allow ${policy.snapshotMaxDepth}.`,
        evidence: [{ label: 'depth', value: depth }],
        remedy: 'Remove those you will not go back to, the oldest first.',
      },
    ]
  },
})
