import fc from 'fast-check'
import type { Command } from '../estate/index.js'
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
    type: fc.constant('guest.update' as const),
    id: guestIds,
    changes: fc.record({ name: names, isGeneralised: fc.boolean(), clonedFromId: fc.constantFrom(null, idOf('template')) }),
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
  fc.record({ type: fc.constant('address.release' as const), addressId: fc.constant(idOf('playoutAddress')) }),
  fc.record({
    type: fc.constant('adapter.update' as const),
    id: fc.constantFrom(idOf('playoutAdapter'), idOf('newsAdapter')),
    changes: fc.record({ networkId: fc.constantFrom(null, idOf('office'), idOf('studio')) }),
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
)
