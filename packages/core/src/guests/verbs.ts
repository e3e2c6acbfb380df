import { defineVerb, newIdField } from '../commands/index.js'
import { choice, CommandError, integer, isPoweredOn, optional, recordTitle, ref, refMap } from '../estate/index.js'
import { formatBytes, formatMiB } from '../units/index.js'
import { checkMapped, checkReach } from './placing.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'guest.resize': typeof resizeGuest
    'guest.power': typeof powerGuest
    'guest.migrate': typeof migrateGuest
  }
}

const resizeGuest = defineVerb({
  doc: 'Changes a guest’s processors, memory, or the size of one of its disks. A disk only grows.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest to resize.' }),
    vcpu: optional(integer({ label: 'Processors', doc: 'New number of vCPUs.', unit: 'vCPU', min: 1, max: 1024 })),
    memoryMiB: optional(integer({ label: 'Memory', doc: 'New memory.', unit: 'MiB', min: 4, max: 2 ** 26 })),
    diskId: optional(ref('disk', { label: 'Disk', doc: 'The disk to extend.' })),
    sizeBytes: optional(integer({ label: 'Size', doc: 'The disk’s new size.', unit: 'bytes', min: 1 })),
  },
  /** @throws CommandError `not-found`, `invalid`, `not-allowed` when a disk would shrink */
  does(edit, { guestId, vcpu, memoryMiB, diskId, sizeBytes }) {
    const guest = edit.require('guest', guestId, 'guestId')
    if (!diskId !== !sizeBytes)
      throw new CommandError('invalid', 'To extend a disk, name the disk and its new size.', diskId ? 'sizeBytes' : 'diskId')
    edit.update('guest', guestId, { ...(vcpu ? { vcpu } : {}), ...(memoryMiB ? { memoryMiB } : {}) }, '')
    if (!diskId || !sizeBytes) return
    const disk = edit.require('disk', diskId, 'diskId')
    const title = recordTitle(edit.estate, 'disk', disk)
    if (disk.guestId !== guest.id) throw new CommandError('invalid', `That is ${title}, not a disk of ${guest.name}.`, 'diskId')
    if (sizeBytes < disk.sizeBytes)
      throw new CommandError(
        'not-allowed',
        `${title} has ${formatBytes(disk.sizeBytes)}; shrinking it to ${formatBytes(sizeBytes)} would cut off data. Add a smaller disk and copy instead.`,
        'sizeBytes',
      )
    edit.update('disk', diskId, { sizeBytes }, '')
  },
  words({ guestId, vcpu, memoryMiB, diskId, sizeBytes }, { nameOf }) {
    const parts = [
      ...(vcpu ? [`${vcpu} vCPU`] : []),
      ...(memoryMiB ? [formatMiB(memoryMiB)] : []),
      ...(sizeBytes ? [`${nameOf('disk', diskId)} ${formatBytes(sizeBytes)}`] : []),
    ]
    return `Resize ${nameOf('guest', guestId)} to ${parts.join(', ')}`
  },
})

const powerGuest = defineVerb({
  doc: 'Records that a guest was powered on or off.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest.' }),
    state: choice(['running', 'stopped'], { label: 'State', doc: 'What it is now.' }),
  },
  /** @throws CommandError `not-found`, `wrong-state` */
  does(edit, { guestId, state }) {
    const guest = edit.require('guest', guestId, 'guestId')
    if (guest.state === state) throw new CommandError('wrong-state', `${guest.name} is recorded as ${state} already.`, 'state')
    if (state === 'running') {
      if (guest.kind === 'machine' && !guest.hostId)
        throw new CommandError('wrong-state', `${guest.name} is on no host; place it first.`, 'guestId')
    }
    edit.update('guest', guestId, { state }, '')
  },
  words: ({ guestId, state }, { nameOf }) => `${state === 'running' ? 'Power on' : 'Power off'} ${nameOf('guest', guestId)}`,
})

const migrateGuest = defineVerb({
  doc: 'Moves a guest to another host; its disks to stores that host reaches, its adapters to networks as mapped.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest to move.' }),
    id: newIdField('migration'),
    toHostId: ref('host', { label: 'To', doc: 'The host it goes to.' }),
    stores: optional(refMap('disk', 'store', { label: 'Stores', doc: 'For each disk that has to move, its new store.' })),
    networks: optional(refMap('adapter', 'network', { label: 'Networks', doc: 'For an adapter that changes its network, the new one.' })),
    method: choice(['live', 'cold copy', 'disk-to-disk over the network', 'export and import'], {
      label: 'Method',
      doc: 'The way it is copied.',
      default: 'cold copy',
    }),
  },
  /** @throws CommandError `not-found`, `not-allowed`, `wrong-state`, `invalid` when a disk's store is out of the target's reach */
  does(edit, { guestId, id, toHostId, stores, networks, method }) {
    const guest = edit.require('guest', guestId, 'guestId')
    const host = edit.require('host', toHostId, 'toHostId')
    if (guest.kind === 'external')
      throw new CommandError(
        'not-allowed',
        `${guest.name} is an external machine; add the guest it will become, and record its migration.`,
        'guestId',
      )
    if (guest.hostId === host.id) throw new CommandError('wrong-state', `${guest.name} is on ${host.name} already.`, 'toHostId')
    if (isPoweredOn(guest) && host.state !== 'in service')
      throw new CommandError(
        'wrong-state',
        `${host.name} is ${host.state} and ${guest.name} is ${guest.state}; power it off first, or wait until the host is in service.`,
        'toHostId',
      )
    const disks = edit.estate.referring('disk', 'guestId', guest.id)
    const adapters = edit.estate.referring('adapter', 'guestId', guest.id)
    checkMapped(stores, disks, 'stores', 'disk', guest)
    checkMapped(networks, adapters, 'networks', 'adapter', guest)

    const fromHostId = guest.hostId
    edit.update('guest', guest.id, { hostId: host.id }, '')
    for (const disk of disks) {
      const storeId = stores?.[disk.id] ?? disk.storeId
      checkReach(edit, host, storeId, `disk ${disk.position} (${disk.use})`, `stores.${disk.id}`)
      edit.update('disk', disk.id, { storeId }, '')
    }
    for (const adapter of adapters) {
      const networkId = networks?.[adapter.id]
      if (!networkId || networkId === adapter.networkId) continue
      edit.update('adapter', adapter.id, { networkId }, '')
      // Its addresses belong to the network it leaves.
      for (const address of edit.estate.referring('address', 'adapterId', adapter.id)) edit.remove('address', address.id)
    }
    if (guest.state !== 'planned')
      edit.add(
        'migration',
        { ...(id ? { id } : {}), guestId: guest.id, fromHostId, toHostId: host.id, method, state: 'done', endedAt: edit.context.now },
        '',
      )
  },
  words: ({ guestId, toHostId }, { nameOf }) => `Migrate ${nameOf('guest', guestId)} to ${nameOf('host', toHostId)}`,
})

/** What is done to guests beside changing their fields. */
export const guestVerbs = {
  'guest.resize': resizeGuest,
  'guest.power': powerGuest,
  'guest.migrate': migrateGuest,
}
