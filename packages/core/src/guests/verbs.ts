import { defineVerb, newIdField, type EstateEdit } from '../commands/index.js'
import {
  adaptersOf,
  choice,
  CommandError,
  derivedId,
  type Guest,
  type Host,
  integer,
  isPoweredOn,
  optional,
  recordTitle,
  ref,
  refMap,
  storeReach,
  text,
  textMap,
} from '../estate/index.js'
import { generateMac, preferredSubnetFor } from '../networks/index.js'
import { formatBytes, formatMiB } from '../units/index.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'guest.resize': typeof resizeGuest
    'guest.power': typeof powerGuest
    'guest.clone': typeof cloneGuest
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
      if (guest.kind === 'template')
        throw new CommandError('wrong-state', `${guest.name} is a template and stays powered off; clone it to run it.`, 'guestId')
      if (guest.kind === 'machine' && !guest.hostId)
        throw new CommandError('wrong-state', `${guest.name} is on no host; place it first.`, 'guestId')
    }
    edit.update('guest', guestId, { state }, '')
  },
  words: ({ guestId, state }, { nameOf }) => `${state === 'running' ? 'Power on' : 'Power off'} ${nameOf('guest', guestId)}`,
})

const cloneGuest = defineVerb({
  doc: 'Copies a guest or template: new name, ids and MACs, no addresses; the copy records its original.',
  fields: {
    guestId: ref('guest', { label: 'Original', doc: 'The guest or template to copy.' }),
    id: newIdField('guest'),
    name: text({ label: 'Name', doc: 'The copy’s name.', shape: 'name' }),
    hostId: optional(ref('host', { label: 'Host', doc: 'Where the copy goes; the original’s host when left out.' })),
    stores: optional(refMap('disk', 'store', { label: 'Stores', doc: 'For a disk of the original, the store of its copy.' })),
    ids: optional(
      textMap('disk or adapter', {
        label: 'Ids',
        doc: 'For a disk or adapter of the original, the id of its copy; follows from the copy’s id when left out.',
        shape: 'id',
      }),
    ),
    macs: optional(
      textMap('adapter', { label: 'MACs', doc: 'For an adapter of the original, the MAC of its copy; made when left out.', shape: 'mac' }),
    ),
    addresses: optional(
      textMap('adapter', {
        label: 'Addresses',
        doc: 'For an adapter of the original, the fixed address of its copy; none when left out.',
        shape: 'ip',
      }),
    ),
  },
  /** @throws CommandError `not-found`, `not-allowed`, `invalid` when a disk's store is out of the host's reach */
  does(edit, { guestId, id, name, hostId, stores, ids, macs, addresses }) {
    const original = edit.require('guest', guestId, 'guestId')
    if (original.kind === 'external')
      throw new CommandError('not-allowed', `${original.name} is an external machine; migrate it into a guest first.`, 'guestId')
    const host = edit.require('host', hostId ?? original.hostId ?? '', 'hostId')
    const clone = edit.copy(
      'guest',
      original,
      {
        ...(id ? { id } : {}),
        name,
        kind: 'machine',
        hostId: host.id,
        state: 'stopped',
        clonedFromId: original.id,
        backupStoreId: null,
        verifiedAt: null,
        mediumId: null,
        bootFirst: 'disk',
        apartFromId: null,
      },
      '',
    )
    const idFor = (of: string) => ids?.[of] ?? derivedId(clone.id, of)
    const disks = edit.estate.referring('disk', 'guestId', original.id)
    const adapters = edit.estate.referring('adapter', 'guestId', original.id)
    checkMapped(stores, disks, 'stores', 'disk', original)
    checkMapped(ids, [...disks, ...adapters], 'ids', 'disk or adapter', original)
    checkMapped(macs, adapters, 'macs', 'adapter', original)
    checkMapped(addresses, adapters, 'addresses', 'adapter', original)
    for (const disk of disks) {
      const storeId = stores?.[disk.id] ?? disk.storeId
      checkReach(edit, host, storeId, `disk ${disk.position} (${disk.use})`, `stores.${disk.id}`)
      edit.copy('disk', disk, { id: idFor(disk.id), guestId: clone.id, storeId }, '')
    }
    for (const adapter of adapters) {
      const copyId = idFor(adapter.id)
      edit.copy('adapter', adapter, { id: copyId, guestId: clone.id, mac: macs?.[adapter.id] ?? newMac(edit, host, copyId) }, '')
      const ip = addresses?.[adapter.id]
      if (!ip) continue
      const path = `addresses.${adapter.id}`
      const subnet = preferredSubnetFor(edit.estate, adapter.networkId, ip)
      if (!subnet)
        throw new CommandError(
          'invalid',
          `Adapter ${adapter.position} of ${original.name} is on no network with a subnet, so ${ip} is in none; add one, or leave the address out.`,
          path,
        )
      edit.add('address', { id: derivedId(copyId, ip), subnetId: subnet.id, ip, kind: 'fixed', adapterId: copyId }, path)
    }
  },
  words: ({ guestId, name }, { nameOf }) => `Clone ${nameOf('guest', guestId)} as ${name}`,
  fixed(input, made) {
    const { id, guestId, ids } = input
    if (!id) return input
    const macs = adaptersOf(made, guestId).flatMap((adapter) => {
      const mac = made.find('adapter', ids?.[adapter.id] ?? derivedId(id, adapter.id))?.mac
      return mac ? [[adapter.id, mac] as const] : []
    })
    return { ...input, macs: Object.fromEntries(macs) }
  },
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
  'guest.clone': cloneGuest,
  'guest.migrate': migrateGuest,
}

function checkMapped(
  map: Readonly<Record<string, string>> | null,
  records: readonly { id: string }[],
  path: string,
  what: string,
  guest: Guest,
): void {
  const stray = Object.keys(map ?? {}).find((id) => !records.some((record) => record.id === id))
  if (stray) throw new CommandError('invalid', `${stray} is no ${what} of ${guest.name}.`, `${path}.${stray}`)
}

function checkReach(edit: EstateEdit, host: Host, storeId: string | null, what: string, path: string): void {
  const store = edit.require('store', storeId ?? '', path)
  if (!storeReach(store, host))
    throw new CommandError(
      'invalid',
      `${host.name} does not reach store ${store.name}, where ${what} lies. Choose a store of ${host.name} for it.`,
      path,
    )
}

/** A MAC for a new adapter on a host, under its platform's prefix. */
function newMac(edit: EstateEdit, host: Host, adapterId: string): string {
  const platform = edit.require('platform', host.platformId, 'hostId')
  return generateMac(platform.macPrefix, adapterId, (mac) => edit.estate.byKey('adapter', { mac }).length > 0)
}
