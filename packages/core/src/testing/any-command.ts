import fc from 'fast-check'
import type { Command } from '../commands/index.js'
import { idOf } from './small-estate.js'

const guestIds = fc.constantFrom(idOf('playout'), idOf('news'), idOf('template'))
const hostIds = fc.constantFrom(idOf('gannet'), idOf('fulmar'), idOf('tern'))
const names = fc.stringMatching(/^[a-z][a-z0-9]{0,4}$/)

/** Commands on the small estate, sensible and not: some are refused, as in life. */
export const anyCommand: fc.Arbitrary<Command> = fc.oneof(
  fc.record({
    type: fc.constant('guest.resize' as const),
    guestId: guestIds,
    vcpu: fc.integer({ min: 1, max: 40 }),
    memoryMiB: fc.integer({ min: 64, max: 60000 }),
  }),
  fc.record({
    type: fc.constant('guest.power' as const),
    guestId: guestIds,
    state: fc.constantFrom('running' as const, 'stopped' as const),
  }),
  fc.record({ type: fc.constant('guest.clone' as const), guestId: guestIds, name: names }),
  fc.record({
    type: fc.constant('guest.migrate' as const),
    guestId: guestIds,
    toHostId: hostIds,
    method: fc.constant('cold copy' as const),
  }),
  fc.record({
    type: fc.constant('guest.migrate' as const),
    guestId: fc.constant(idOf('news')),
    toHostId: fc.constant(idOf('gannet')),
    stores: fc.constant({ [idOf('newsDisk')]: idOf('nvme1') }),
    networks: fc.constantFrom(undefined, { [idOf('newsAdapter')]: idOf('studio') }),
    method: fc.constant('live' as const),
  }),
  fc.record({
    type: fc.constant('migration.begin' as const),
    id: fc.constant(idOf('move')),
    guestId: fc.constantFrom(idOf('playout'), idOf('news')),
    toHostId: hostIds,
    stores: fc.constantFrom({ [idOf('playoutDisk')]: idOf('nvme2') }, { [idOf('newsDisk')]: idOf('nvme1') }),
    method: fc.constantFrom('live' as const, 'cold copy' as const),
    soakDays: fc.constantFrom(null, 0),
    decideBy: fc.constantFrom(null, '2027-01-10T00:00:00.000Z'),
  }),
  ...(['copy', 'cutOver', 'verify', 'close'] as const).map((verb) =>
    fc.record({ type: fc.constant(`migration.${verb}` as const), migrationId: fc.constant(idOf('move')) }),
  ),
  ...(['rollBack', 'cancel'] as const).map((verb) =>
    fc.record({
      type: fc.constant(`migration.${verb}` as const),
      migrationId: fc.constant(idOf('move')),
      reason: fc.constant('It was meant otherwise.'),
    }),
  ),
  fc.record({
    type: fc.constant('guest.update' as const),
    id: guestIds,
    changes: fc.record({ name: names, isRouter: fc.boolean(), clonedFromId: fc.constantFrom(null, idOf('template')) }),
  }),
  fc.record({ type: fc.constant('guest.remove' as const), id: guestIds, withReferring: fc.boolean() }),
  fc.record({
    type: fc.constant('host.update' as const),
    id: hostIds,
    changes: fc.record({
      name: names,
      memoryMiB: fc.integer({ min: 4096, max: 40000 }),
      state: fc.constantFrom('in service' as const, 'in maintenance' as const),
    }),
  }),
  fc.record({ type: fc.constant('host.remove' as const), id: hostIds, withReferring: fc.boolean() }),
  fc.record({
    type: fc.constant('network.update' as const),
    id: fc.constantFrom(idOf('office'), idOf('studio')),
    changes: fc.record({ name: names }),
  }),
  fc.record({
    type: fc.constant('network.remove' as const),
    id: fc.constantFrom(idOf('office'), idOf('studio')),
    withReferring: fc.constant(true),
  }),
  fc.record({
    type: fc.constant('address.assign' as const),
    adapterId: fc.constantFrom(idOf('playoutAdapter'), idOf('newsAdapter'), idOf('templateAdapter')),
    ip: fc.constantFrom(undefined, '10.61.30.50', '10.61.30.120', '10.61.40.5', '10.99.0.1'),
    kind: fc.constantFrom('fixed' as const, 'DHCP reservation' as const),
  }),
  fc.record({
    type: fc.constant('store.update' as const),
    id: fc.constantFrom(idOf('nvme1'), idOf('nvme2')),
    changes: fc.record({ otherBytes: fc.constantFrom(null, 2 ** 30, 2 ** 40) }),
  }),
  fc.record({
    type: fc.constant('image.add' as const),
    record: fc.record({
      name: names,
      sizeBytes: fc.constantFrom(2 ** 30, 2 ** 39),
      storeId: fc.constantFrom(idOf('nvme1'), idOf('nvme2')),
    }),
  }),
  fc.record({ type: fc.constant('address.release' as const), addressId: fc.constant(idOf('playoutAddress')) }),
  fc.record({
    type: fc.constant('adapter.update' as const),
    id: fc.constantFrom(idOf('playoutAdapter'), idOf('newsAdapter')),
    changes: fc.record({
      networkId: fc.constantFrom(null, idOf('office'), idOf('studio')),
      mac: fc.constantFrom(null, '02:1a:4b:00:00:01', '02:1a:4b:00:00:88'),
    }),
  }),
  fc.record({
    type: fc.constant('pool.update' as const),
    id: fc.constant(idOf('pool')),
    changes: fc.record({ last: fc.constantFrom('10.61.30.40', '10.61.30.200') }),
  }),
  fc.record({
    type: fc.constant('disk.update' as const),
    id: fc.constantFrom(idOf('playoutDisk'), idOf('newsDisk')),
    changes: fc.record({ sizeBytes: fc.integer({ min: 1, max: 2 ** 42 }), usedBytes: fc.integer({ min: 0, max: 2 ** 41 }) }),
  }),
  fc.record({
    type: fc.constant('store.update' as const),
    id: fc.constantFrom(idOf('nvme1'), idOf('vaultStore')),
    changes: fc.record({ name: names, capacityBytes: fc.integer({ min: 2 ** 30, max: 2 ** 42 }) }),
  }),
  fc.record({
    type: fc.constant('platform.update' as const),
    id: fc.constant(idOf('brackwater')),
    changes: fc.record({ ownMemoryMiB: fc.integer({ min: 0, max: 8000 }) }),
  }),
  fc.record({
    type: fc.constant('policy.update' as const),
    id: fc.constant(idOf('policy')),
    changes: fc.record({ failoverReservePercent: fc.integer({ min: 0, max: 50 }) }),
  }),
  fc.record({
    type: fc.constant('host.update' as const),
    id: hostIds,
    changes: fc.record({
      cpuFlags: fc.constantFrom(null, 'sse sse2', 'fpu cx8 cmov fxsr mmx syscall sse sse2 cx16 lahf_lm popcnt pni sse4_1 sse4_2 ssse3'),
      circuit: fc.constantFrom(null, 'A1'),
      circuitVolts: fc.constantFrom(null, 230),
      circuitAmps: fc.constantFrom(null, 1, 2),
      drawWatts: fc.constantFrom(null, 200, 400),
      trialEndsOn: fc.constantFrom(null, '2027-01-10', '2027-01-20', '2028-01-01'),
      fingerprint: fc.constantFrom(null, 'AB:CD'),
    }),
  }),
  fc.record({
    type: fc.constant('platform.update' as const),
    id: fc.constant(idOf('marram')),
    changes: fc.record({ supportedUntil: fc.constantFrom(null, '2026-01-01', '2027-02-01'), minMemoryMiB: fc.constantFrom(1024, 9000) }),
  }),
  fc.record({
    type: fc.constant('port.add' as const),
    record: fc.record({
      hostId: hostIds,
      name: names,
      mac: fc.constantFrom(null, '02:1a:4b:00:00:01', '02:1a:4b:00:00:77'),
      medium: fc.constantFrom('copper' as const, 'wireless' as const),
      cable: fc.constantFrom('present' as const, 'missing' as const),
      role: fc.constantFrom(null, 'management' as const, 'storage' as const),
    }),
  }),
  fc.record({
    type: fc.constant('module.add' as const),
    record: fc.record({ hostId: hostIds, slot: fc.integer({ min: 1, max: 4 }), sizeMiB: fc.constantFrom(4096, 8192, 65536) }),
  }),
  fc.record({
    type: fc.constant('array.add' as const),
    record: fc.record({
      id: fc.constant(idOf('array')),
      hostId: hostIds,
      name: names,
      level: fc.constantFrom('0' as const, '1' as const, '5' as const),
    }),
  }),
  fc.record({
    type: fc.constant('drive.add' as const),
    record: fc.record({
      hostId: hostIds,
      position: fc.integer({ min: 0, max: 5 }),
      labelBytes: fc.constantFrom(500e9, 4e12),
      use: fc.constantFrom('unused' as const, 'member' as const, 'install' as const),
      arrayId: fc.constantFrom(null, idOf('array')),
    }),
  }),
  fc.record({
    type: fc.constant('store.update' as const),
    id: fc.constantFrom(idOf('nvme1'), idOf('nvme2')),
    changes: fc.record({ arrayId: fc.constantFrom(null, idOf('array')) }),
  }),
  fc.record({ type: fc.constant('array.remove' as const), id: fc.constant(idOf('array')), withReferring: fc.boolean() }),
  fc.record({
    type: fc.constant('deviation.add' as const),
    record: fc.record({
      hostId: hostIds,
      about: names,
      planned: fc.constant('1'),
      found: fc.constant('2'),
      source: fc.constant('paste'),
      seenAt: fc.constant('2027-01-18T08:00:00.000Z'),
    }),
  }),
  fc.record({
    type: fc.constant('switch.add' as const),
    record: fc.record({
      id: fc.constant(idOf('switch')),
      hostId: hostIds,
      name: names,
      taggedVlans: fc.constantFrom(null, '30', '30,40'),
      mtu: fc.constantFrom(1400, 1500),
    }),
  }),
  fc.record({
    type: fc.constant('port.update' as const),
    id: fc.constant(idOf('port')),
    changes: fc.record({
      switchId: fc.constantFrom(null, idOf('switch')),
      medium: fc.constantFrom('copper' as const, 'wireless' as const),
      cable: fc.constantFrom('present' as const, 'missing' as const),
      farVlans: fc.constantFrom(null, '30'),
      farMtu: fc.constantFrom(null, 1400),
    }),
  }),
  fc.record({
    type: fc.constant('port.add' as const),
    record: fc.record({ id: fc.constant(idOf('port')), hostId: hostIds, name: names }),
  }),
  fc.record({
    type: fc.constant('attachment.add' as const),
    record: fc.record({
      id: fc.constant(idOf('attachment')),
      hostId: hostIds,
      networkId: fc.constantFrom(idOf('office'), idOf('studio')),
      kind: fc.constantFrom('bridged' as const, 'translated' as const),
      switchId: fc.constantFrom(null, idOf('switch')),
    }),
  }),
  fc.record({
    type: fc.constant('subnet.update' as const),
    id: fc.constantFrom(idOf('officeNet'), idOf('studioNet')),
    changes: fc.record({
      gateway: fc.constantFrom(null, '10.61.30.1', '10.61.30.50', '10.61.40.2'),
      prefix: fc.constantFrom('10.61.30.0/24', '10.61.40.0/28'),
    }),
  }),
  fc.record({ type: fc.constant('subnet.split' as const), subnetId: fc.constantFrom(idOf('officeNet'), idOf('studioNet')) }),
  fc.record({
    type: fc.constant('subnet.move' as const),
    subnetId: fc.constant(idOf('officeNet')),
    prefix: fc.constantFrom('10.61.31.0/24', '10.61.30.0/24', '172.32.0.0/24'),
  }),
  fc.record({
    type: fc.constant('network.update' as const),
    id: fc.constantFrom(idOf('office'), idOf('studio')),
    changes: fc.record({
      vlanId: fc.constantFrom(null, 30, 40),
      role: fc.constantFrom('guests' as const, 'storage' as const, 'public' as const),
      mtu: fc.constantFrom(1500, 9000),
      site: fc.constantFrom(null, 'mast'),
      searchDomain: fc.constantFrom(null, 'mast.example'),
    }),
  }),
  fc.record({
    type: fc.constant('address.add' as const),
    record: fc.record({
      subnetId: fc.constantFrom(idOf('officeNet'), idOf('studioNet')),
      ip: fc.constantFrom('10.61.30.150', '10.61.30.255', '10.61.40.9'),
      kind: fc.constantFrom('reserved' as const, 'DHCP reservation' as const),
      name: fc.constantFrom(null, 'newsroom', 'printer'),
      mac: fc.constantFrom(null, '00:00:5e:00:53:01'),
    }),
  }),
  fc.record({
    type: fc.constant('address.update' as const),
    id: fc.constant(idOf('playoutAddress')),
    changes: fc.record({
      length: fc.constantFrom(null, 16),
      gateway: fc.constantFrom(null, '10.9.0.1'),
      name: fc.constantFrom(null, 'newsroom'),
    }),
  }),
  fc.record({
    type: fc.constant('lease.add' as const),
    record: fc.record({
      subnetId: fc.constant(idOf('studioNet')),
      ip: fc.constantFrom('10.61.40.2', '10.61.40.9'),
      mac: fc.constantFrom('00:00:5e:00:53:01', '02:1a:4b:00:00:01'),
      seenAt: fc.constant('2027-01-18T08:00:00.000Z'),
    }),
  }),
  fc.record({
    type: fc.constant('adapter.update' as const),
    id: fc.constant(idOf('playoutAdapter')),
    changes: fc.record({ isConnected: fc.boolean() }),
  }),
  fc.record({
    type: fc.constant('guest.update' as const),
    id: guestIds,
    changes: fc.record({ isRouter: fc.boolean(), name: fc.constantFrom('a_b', 'gannet', 'printer') }),
  }),
  fc.record({
    type: fc.constant('forward.add' as const),
    record: fc.record({
      hostId: hostIds,
      hostPort: fc.constant(8080),
      adapterId: fc.constantFrom(idOf('playoutAdapter'), idOf('newsAdapter')),
      guestPort: fc.constant(80),
    }),
  }),
  fc.record({
    type: fc.constant('route.add' as const),
    record: fc.record({
      guestId: fc.constantFrom(null, idOf('playout')),
      prefix: fc.constant('10.99.0.0/16'),
      via: fc.constantFrom('10.61.40.9', '10.61.30.9'),
    }),
  }),
  fc.record({
    type: fc.constant('filter.add' as const),
    record: fc.record({ toPrefix: fc.constant('10.61.40.0/28'), action: fc.constantFrom('allow' as const, 'deny' as const) }),
  }),
  fc.record({
    type: fc.constant('intent.add' as const),
    record: fc.record({
      fromNetworkId: fc.constantFrom(idOf('office'), idOf('studio')),
      toNetworkId: fc.constantFrom(idOf('office'), idOf('studio')),
      wanted: fc.constantFrom('must reach' as const, 'must not reach' as const),
    }),
  }),
  fc.record({
    type: fc.constant('system.add' as const),
    record: fc.record({
      id: fc.constant(idOf('system')),
      name: names,
      minMemoryMiB: fc.constantFrom(null, 512, 16_384),
      paravirtualDisk: fc.constantFrom('built in' as const, 'none' as const, 'with a driver image' as const),
      paravirtualNet: fc.constantFrom('built in' as const, 'none' as const),
      firmware: fc.constantFrom('UEFI only' as const, 'BIOS only' as const, 'not known' as const),
      supportedUntil: fc.constantFrom(null, '2026-01-01', '2027-02-01'),
    }),
  }),
  fc.record({
    type: fc.constant('system.update' as const),
    id: fc.constant(idOf('system')),
    changes: fc.record({ minMemoryMiB: fc.constantFrom(null, 65_536), supportedUntil: fc.constantFrom(null, '2026-06-01') }),
  }),
  fc.record({
    type: fc.constant('image.add' as const),
    record: fc.record({
      id: fc.constant(idOf('image')),
      name: names,
      sizeBytes: fc.constant(1e9),
      storeId: fc.constantFrom(null, idOf('nvme1'), idOf('nvme2')),
    }),
  }),
  fc.record({
    type: fc.constant('image.update' as const),
    id: fc.constant(idOf('image')),
    changes: fc.record({ name: names, storeId: fc.constantFrom(null, idOf('nvme1'), idOf('ssd4')) }),
  }),
  fc.record({
    type: fc.constant('guest.update' as const),
    id: guestIds,
    changes: fc.record({
      systemId: fc.constantFrom(null, idOf('system')),
      mediumId: fc.constantFrom(null, idOf('image')),
      bootFirst: fc.constantFrom('disk' as const, 'medium' as const),
      verifiedAt: fc.constantFrom(null, '2027-01-10T00:00:00.000Z'),
      apartFromId: fc.constantFrom(null, idOf('playout'), idOf('news')),
      firmware: fc.constantFrom('UEFI' as const, 'BIOS' as const),
      processorMode: fc.constantFrom('host' as const, 'x86-64-v3' as const),
    }),
  }),
  fc.record({
    type: fc.constant('guest.update' as const),
    id: guestIds,
    changes: fc.record({
      state: fc.constantFrom('planned' as const, 'being installed' as const, 'running' as const, 'stopped' as const, 'retired' as const),
    }),
  }),
  fc.record({
    type: fc.constant('snapshot.add' as const),
    record: fc.record({
      id: fc.constantFrom(undefined, idOf('snapshot')),
      guestId: guestIds,
      name: names,
      takenAt: fc.constantFrom('2027-01-10T00:00:00.000Z', '2027-01-18T00:00:00.000Z'),
      parentId: fc.constantFrom(null, idOf('snapshot')),
    }),
  }),
  fc.record({ type: fc.constant('snapshot.remove' as const), id: fc.constant(idOf('snapshot')), withReferring: fc.boolean() }),
  fc.record({
    type: fc.constant('dependency.add' as const),
    record: fc.record({ guestId: guestIds, needsId: guestIds, waitSeconds: fc.integer({ min: 0, max: 300 }) }),
  }),
  fc.record({
    type: fc.constant('store.update' as const),
    id: fc.constantFrom(idOf('nvme1'), idOf('vaultStore')),
    changes: fc.record({ servedById: fc.constantFrom(null, idOf('playout'), idOf('news')) }),
  }),
  fc.record({
    type: fc.constant('disk.update' as const),
    id: fc.constantFrom(idOf('playoutDisk'), idOf('newsDisk')),
    changes: fc.record({
      bus: fc.constantFrom('paravirtual' as const, 'SATA' as const, 'IDE' as const),
      growthBytesPerMonth: fc.constantFrom(null, 1e11, 1e13),
    }),
  }),
  fc.record({
    type: fc.constant('adapter.update' as const),
    id: fc.constantFrom(idOf('playoutAdapter'), idOf('newsAdapter')),
    changes: fc.record({ model: fc.constantFrom('paravirtual' as const, 'emulated' as const, 'emulated old' as const) }),
  }),
  fc.record({
    type: fc.constant('platform.update' as const),
    id: fc.constant(idOf('brackwater')),
    changes: fc.record({ guestVcpuMax: fc.constantFrom(2, 128), diskMaxBytes: fc.constantFrom(1e9, 1e14) }),
  }),
)
