import { generateMac } from '../../networks/index.js'
import { storeReach } from '../../hosts/store-reach.js'
import { formatBytes } from '../../units/index.js'
import { CommandError } from '../command-error.js'
import { recordTitle } from '../describe.js'
import type { Draft } from '../draft.js'
import type { Guest, Host } from '../kinds/index.js'
import { isPoweredOn } from '../lifecycle.js'
import type { VerbCommand } from './command.js'

/** @throws CommandError `not-found`, `invalid`, `not-allowed` when a disk would shrink */
export function resizeGuest(draft: Draft, { guestId, vcpu, memoryMiB, diskId, sizeBytes }: VerbCommand<'guest.resize'>): void {
  const guest = draft.require('guest', guestId, 'guestId')
  if (!diskId !== !sizeBytes)
    throw new CommandError('invalid', 'To extend a disk, name the disk and its new size.', diskId ? 'sizeBytes' : 'diskId')
  draft.update('guest', guestId, { ...(vcpu ? { vcpu } : {}), ...(memoryMiB ? { memoryMiB } : {}) }, '')
  if (!diskId || !sizeBytes) return
  const disk = draft.require('disk', diskId, 'diskId')
  const title = recordTitle(draft.estate, 'disk', disk)
  if (disk.guestId !== guest.id) throw new CommandError('invalid', `That is ${title}, not a disk of ${guest.name}.`, 'diskId')
  if (sizeBytes < disk.sizeBytes)
    throw new CommandError(
      'not-allowed',
      `${title} has ${formatBytes(disk.sizeBytes)}; shrinking it to ${formatBytes(sizeBytes)} would cut off data. Add a smaller disk and copy instead.`,
      'sizeBytes',
    )
  draft.update('disk', diskId, { sizeBytes }, '')
}

/** @throws CommandError `not-found`, `wrong-state` */
export function powerGuest(draft: Draft, { guestId, state }: VerbCommand<'guest.power'>): void {
  const guest = draft.require('guest', guestId, 'guestId')
  if (guest.state === state) throw new CommandError('wrong-state', `${guest.name} is recorded as ${state} already.`, 'state')
  if (state === 'running') {
    if (guest.kind === 'template')
      throw new CommandError('wrong-state', `${guest.name} is a template and stays powered off; clone it to run it.`, 'guestId')
    const host = draft.estate.find('host', guest.hostId)
    if (guest.kind === 'machine' && !host) throw new CommandError('wrong-state', `${guest.name} is on no host; place it first.`, 'guestId')
    if (host && host.state !== 'in service')
      throw new CommandError('wrong-state', `${host.name} is ${host.state}; nothing runs on it now.`, 'guestId')
  }
  draft.update('guest', guestId, { state }, '')
}

/** @throws CommandError `not-found`, `not-allowed`, `invalid` when a disk's store is out of the host's reach */
export function cloneGuest(draft: Draft, { guestId, id, name, hostId, stores }: VerbCommand<'guest.clone'>): void {
  const original = draft.require('guest', guestId, 'guestId')
  if (original.kind === 'external')
    throw new CommandError('not-allowed', `${original.name} is an external machine; it has to be taken over into a guest first.`, 'guestId')
  const host = draft.require('host', hostId ?? original.hostId ?? '', 'hostId')
  const { id: _, ...copied } = original
  const clone = draft.add(
    'guest',
    {
      ...copied,
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
  const disks = draft.estate.referring('disk', 'guestId', original.id)
  checkMapped(stores, disks, 'stores', original)
  for (const { id: diskId, ...disk } of disks) {
    const storeId = stores?.[diskId] ?? disk.storeId
    checkReach(draft, host, storeId, `disk ${disk.position} (${disk.use})`, `stores.${diskId}`)
    draft.add('disk', { ...disk, guestId: clone.id, storeId }, '')
  }
  for (const { id: _adapterId, mac: _mac, ...adapter } of draft.estate.referring('adapter', 'guestId', original.id)) {
    const adapterId = draft.context.newId()
    draft.add('adapter', { ...adapter, id: adapterId, guestId: clone.id, mac: newMac(draft, host, adapterId) }, '')
  }
}

/** @throws CommandError `not-found`, `not-allowed`, `wrong-state`, `invalid` when a disk's store is out of the target's reach */
export function migrateGuest(draft: Draft, { guestId, toHostId, stores, networks, method }: VerbCommand<'guest.migrate'>): void {
  const guest = draft.require('guest', guestId, 'guestId')
  const host = draft.require('host', toHostId, 'toHostId')
  if (guest.kind === 'external')
    throw new CommandError(
      'not-allowed',
      `${guest.name} is an external machine; compose the guest it becomes, and record its migration beside it.`,
      'guestId',
    )
  if (guest.hostId === host.id) throw new CommandError('wrong-state', `${guest.name} is on ${host.name} already.`, 'toHostId')
  if (isPoweredOn(guest) && host.state !== 'in service')
    throw new CommandError(
      'wrong-state',
      `${host.name} is ${host.state} and ${guest.name} is ${guest.state}; power it off first, or wait until the host is in service.`,
      'toHostId',
    )
  const disks = draft.estate.referring('disk', 'guestId', guest.id)
  const adapters = draft.estate.referring('adapter', 'guestId', guest.id)
  checkMapped(stores, disks, 'stores', guest)
  checkMapped(networks, adapters, 'networks', guest)

  const fromHostId = guest.hostId
  draft.update('guest', guest.id, { hostId: host.id }, '')
  for (const disk of disks) {
    const storeId = stores?.[disk.id] ?? disk.storeId
    checkReach(draft, host, storeId, `disk ${disk.position} (${disk.use})`, `stores.${disk.id}`)
    draft.update('disk', disk.id, { storeId }, '')
  }
  for (const adapter of adapters) {
    const networkId = networks?.[adapter.id]
    if (!networkId || networkId === adapter.networkId) continue
    draft.update('adapter', adapter.id, { networkId }, '')
    // Its addresses belong to the network it leaves.
    for (const address of draft.estate.referring('address', 'adapterId', adapter.id)) draft.remove('address', address.id)
  }
  if (guest.state !== 'planned')
    draft.add(
      'migration',
      { guestId: guest.id, fromHostId, toHostId: host.id, method: method ?? 'cold copy', state: 'done', endedAt: draft.context.now },
      '',
    )
}

function checkMapped(
  map: Readonly<Record<string, string>> | null | undefined,
  records: readonly { id: string }[],
  path: string,
  guest: Guest,
): void {
  const stray = Object.keys(map ?? {}).find((id) => !records.some((record) => record.id === id))
  if (stray)
    throw new CommandError('invalid', `${stray} is no ${path === 'stores' ? 'disk' : 'adapter'} of ${guest.name}.`, `${path}.${stray}`)
}

function checkReach(draft: Draft, host: Host, storeId: string | null, what: string, path: string): void {
  const store = draft.require('store', storeId ?? '', path)
  if (!storeReach(store, host))
    throw new CommandError(
      'invalid',
      `${host.name} does not reach store ${store.name}, where ${what} lies. Choose a store of ${host.name} for it.`,
      path,
    )
}

/** A MAC for a new adapter on a host, under its platform's prefix. */
function newMac(draft: Draft, host: Host, adapterId: string): string {
  const platform = draft.require('platform', host.platformId, 'hostId')
  return generateMac(platform.macPrefix, adapterId, (mac) => draft.estate.byKey('adapter', { mac }).length > 0)
}
