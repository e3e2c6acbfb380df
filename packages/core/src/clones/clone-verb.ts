import { defineVerb, newIdField, type EstateEdit } from '../commands/index.js'
import {
  adaptersOf,
  bool,
  choice,
  CommandError,
  derivedId,
  disksOf,
  integer,
  optional,
  ref,
  refMap,
  tags,
  text,
  textMap,
  type Adapter,
  type Address,
  type Guest,
  type Host,
} from '../estate/index.js'
import { checkMapped, checkReach } from '../guests/index.js'
import { generateMac, preferredSubnetFor } from '../networks/index.js'
import { formatBytes } from '../units/index.js'
import { identityOfCopy, templateOf } from './identity.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'guest.clone': typeof cloneGuest
  }
}

export const cloneGuest = defineVerb({
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
    reservations: optional(
      textMap('adapter', {
        label: 'Reservations',
        doc: 'For an adapter of the original, the address that DHCP keeps for its copy; none when left out.',
        shape: 'ip',
      }),
    ),
    networks: optional(
      refMap('adapter', 'network', { label: 'Networks', doc: 'For an adapter of the original, another network for its copy.' }),
    ),
    vcpu: optional(integer({ label: 'Processors', doc: 'Another number of vCPUs.', unit: 'vCPU', min: 1, max: 1024 })),
    memoryMiB: optional(integer({ label: 'Memory', doc: 'Another size of memory.', unit: 'MiB', min: 4, max: 2 ** 26 })),
    systemDiskBytes: optional(integer({ label: 'System disk', doc: 'A larger size of the first disk.', unit: 'bytes', min: 1 })),
    provisioning: optional(choice(['thin', 'thick'], { label: 'Provisioning', doc: 'Another provisioning of its disks.' })),
    purpose: optional(text({ label: 'Purpose', doc: 'What the copy does.', max: 60 })),
    group: optional(text({ label: 'Group', doc: 'Another group.', max: 60 })),
    tags: optional(tags({ label: 'Tags', doc: 'Other tags.' })),
    isIsolated: bool({
      label: 'Isolated first boot',
      doc: 'Whether its adapters are disconnected until it has an identity of its own.',
      default: false,
    }),
  },
  /** @throws CommandError `not-found`, `not-allowed`, `invalid` when a disk's store is out of the host's reach */
  does(edit, input) {
    const { guestId, id, name, hostId, stores, ids, macs, addresses, reservations, networks } = input
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
        ...identityOfCopy(edit.estate, original),
        clonedVersion: templateOf(edit.estate, original.id)?.version ?? null,
        ...givenOf(original, input),
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
    checkMapped(reservations, adapters, 'reservations', 'adapter', original)
    checkMapped(networks, adapters, 'networks', 'adapter', original)
    const [first] = disksOf(edit.estate, original.id)
    for (const disk of disks) {
      const storeId = stores?.[disk.id] ?? disk.storeId
      checkReach(edit, host, storeId, `disk ${disk.position} (${disk.use})`, `stores.${disk.id}`)
      const sizeBytes = disk.id === first?.id ? (input.systemDiskBytes ?? disk.sizeBytes) : disk.sizeBytes
      if (sizeBytes < disk.sizeBytes)
        throw new CommandError(
          'not-allowed',
          `The first disk of ${original.name} has ${formatBytes(disk.sizeBytes)}; its copy cannot have ${formatBytes(sizeBytes)}.`,
          'systemDiskBytes',
        )
      const provisioning = input.provisioning ?? disk.provisioning
      edit.copy('disk', disk, { id: idFor(disk.id), guestId: clone.id, storeId, sizeBytes, provisioning }, '')
    }
    for (const adapter of adapters) {
      const copyId = idFor(adapter.id)
      const networkId = networks?.[adapter.id] ?? adapter.networkId
      const mac = macs?.[adapter.id] ?? newMac(edit, host, copyId)
      const isConnected = adapter.isConnected && !input.isIsolated
      edit.copy('adapter', adapter, { id: copyId, guestId: clone.id, mac, networkId, isConnected }, '')
      for (const [kind, map, path] of [
        ['fixed', addresses, 'addresses'],
        ['DHCP reservation', reservations, 'reservations'],
      ] as const) {
        const ip = map?.[adapter.id]
        if (ip) giveAddress(edit, original, { ...adapter, id: copyId, networkId }, kind, ip, `${path}.${adapter.id}`)
      }
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

/** What a copy is given in place of what its original has. */
function givenOf(original: Guest, input: Given): Partial<Guest> {
  const { vcpu, memoryMiB, purpose, group, tags: words } = input
  return {
    // Its sockets divide its processors, as they do those of the original.
    ...(vcpu === null ? {} : { vcpu, ...(vcpu % original.sockets === 0 ? {} : { sockets: 1 }) }),
    ...(memoryMiB === null
      ? {}
      : { memoryMiB, ...(original.memoryMinMiB === null ? {} : { memoryMinMiB: Math.min(original.memoryMinMiB, memoryMiB) }) }),
    ...(purpose === null ? {} : { purpose }),
    ...(group === null ? {} : { group }),
    ...(words === null ? {} : { tags: words }),
  }
}
interface Given {
  readonly vcpu: number | null
  readonly memoryMiB: number | null
  readonly purpose: string | null
  readonly group: string | null
  readonly tags: readonly string[] | null
}

/** @throws CommandError `invalid` where its network has no subnet */
function giveAddress(edit: EstateEdit, original: Guest, adapter: Adapter, kind: Address['kind'], ip: string, path: string): void {
  const subnet = preferredSubnetFor(edit.estate, adapter.networkId, ip)
  if (!subnet)
    throw new CommandError(
      'invalid',
      `Adapter ${adapter.position} of ${original.name} is on no network with a subnet, so ${ip} is in none; add one, or leave the address out.`,
      path,
    )
  edit.add('address', { id: derivedId(adapter.id, ip), subnetId: subnet.id, ip, kind, adapterId: adapter.id }, path)
}

/** A MAC for a new adapter on a host, under its platform's prefix. */
function newMac(edit: EstateEdit, host: Host, adapterId: string): string {
  const platform = edit.require('platform', host.platformId, 'hostId')
  return generateMac(platform.macPrefix, adapterId, (mac) => edit.estate.byKey('adapter', { mac }).length > 0)
}
