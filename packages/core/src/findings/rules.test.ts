import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { dayAfter, Estate, type Kind } from '../estate/index.js'
import { soundNetwork } from '../testing/network-estate.js'
import { idOf, smallEstate, testContext, TODAY } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { Findings, fixOf, rules } from './index.js'

/** A command, or a change of a record that no command makes any more, but that may be there from before. */
type Step = Command | { readonly was: Kind; readonly id: string; readonly changes: object }

/** What makes a rule speak, what is just not enough for it, and what settles it where the rule itself proposes nothing. */
interface Case {
  readonly raises: readonly Step[]
  readonly under: readonly Step[]
  readonly settles?: readonly Step[]
  /** The days on which the two are looked at; today where left out. */
  readonly day?: string
  readonly underDay?: string
  readonly begin?: () => Estate
}

const [gannet, fulmar, tern] = [idOf('gannet'), idOf('fulmar'), idOf('tern')]
const [playout, news, template] = [idOf('playout'), idOf('news'), idOf('template')]
const [playoutDisk, version] = [idOf('playoutDisk'), idOf('templateVersion')]
/** Ids of what a case adds. */
const [one, two, three] = ['e1', 'e2', 'e3'].map((end) => `01890000-0000-7000-8000-0000000009${end}`) as [string, string, string]

const add = (kind: Kind, record: object) => ({ type: `${kind}.add`, record }) as unknown as Command
const put = (kind: Kind, id: string, changes: object) => ({ type: `${kind}.update`, id, changes }) as unknown as Command
const was = (kind: Kind, id: string, changes: object): Step => ({ was: kind, id, changes })
const gone = (kind: Kind, id: string) => ({ type: `${kind}.remove`, id }) as unknown as Command
const power = (guestId: string, state: 'running' | 'stopped'): Command => ({ type: 'guest.power', guestId, state })
const drive = (id: string, hostId: string, position: number, more: object) =>
  add('drive', { id, hostId, position, labelBytes: 48e10, ...more })
const port = (id: string, hostId: string, name: string, more: object = {}) => add('port', { id, hostId, name, cable: 'present', ...more })

const move: Command = {
  type: 'migration.begin',
  id: one,
  guestId: playout,
  toHostId: fulmar,
  stores: { [playoutDisk]: idOf('nvme2') },
  decideBy: '2027-01-19T20:00:00.000Z',
}
const cutOver: readonly Command[] = [
  power(playout, 'stopped'),
  { type: 'migration.copy', migrationId: one },
  { type: 'migration.cutOver', migrationId: one },
]
const verified: readonly Command[] = [move, ...cutOver, power(playout, 'running'), { type: 'migration.verify', migrationId: one }]
const physicalMove: readonly Command[] = [
  add('guest', { id: two, name: 'auk', kind: 'external', state: 'stopped', vcpu: 2, memoryMiB: 4096 }),
  add('guest', { id: three, name: 'scheduler', hostId: fulmar, vcpu: 2, memoryMiB: 4096 }),
  { type: 'migration.begin', id: one, guestId: two, becomesId: three, method: 'image and restore' },
  { type: 'migration.copy', migrationId: one },
  { type: 'migration.cutOver', migrationId: one },
  power(three, 'running'),
]
/** 100 s of copying over a port of 100 Mbit/s, that is 12.5 MB/s. */
const movedBytes = (bytes: number): readonly Command[] => [
  port(one, gannet, 'eth0', { speedMbps: 100 }),
  add('migration', { guestId: news, fromHostId: fulmar, toHostId: gannet, copySeconds: 100, movedBytes: bytes }),
]
const modules = (...sizes: readonly number[]) =>
  sizes.map((sizeMiB, index) => add('module', { id: [one, two, three][index], hostId: gannet, slot: index + 1, sizeMiB }))
const step = (state: string) => [
  add('sheet', { id: one, hostId: gannet, startedAt: '2027-01-10T08:00:00Z' }),
  add('step', { id: two, sheetId: one, step: 'first-checks', state, note: 'silent', personId: idOf('ola'), at: '2027-01-10T09:00:00Z' }),
]
const system = (more: object): readonly Command[] => [
  add('system', { id: one, name: 'Old one', ...more }),
  put('guest', playout, { systemId: one }),
]
const image = (storeId: string) => add('image', { id: one, name: 'installer.iso', sizeBytes: 1e9, storeId })
const installing: readonly Command[] = [
  power(playout, 'stopped'),
  put('guest', playout, { state: 'being installed', mediumId: one, bootFirst: 'medium' }),
]
const snapshots = (count: number): readonly Command[] =>
  [one, two, three].slice(0, count).map((id, index, all) =>
    add('snapshot', {
      id,
      guestId: playout,
      name: `s${index}`,
      takenAt: `2027-01-18T0${index}:00:00Z`,
      parentId: all[index - 1] ?? null,
    }),
  )
const nested = (more: object) =>
  add('host', {
    id: one,
    name: 'petrel',
    kind: 'nested',
    outerGuestId: playout,
    platformId: idOf('marram'),
    coresPerSocket: 4,
    memoryMiB: 8192,
    ...more,
  })
const ends = (days: number) => dayAfter(TODAY, days)

/** On the small estate. Policies as they are at first: reminders 30 days before, stores warn at 85 %, snapshots 3 days. */
const ofMachines: Readonly<Record<string, Case>> = {
  // Kept for 14 days from the cut-over on 2027-01-18.
  'migration.leftover-due': {
    raises: verified,
    day: '2027-02-01',
    under: verified,
    underDay: '2027-01-31',
    settles: [{ type: 'migration.close', migrationId: one }],
  },
  'migration.decide-by-passed': { raises: [move], day: '2027-01-20', under: [move], underDay: '2027-01-19', settles: cutOver },
  'migration.source-runs': { raises: [...physicalMove, power(two, 'running')], under: physicalMove, settles: [power(two, 'stopped')] },
  // The platform takes 1434 MiB, a guest of 8192 takes 64 and 1 % more: 9772 in all.
  'host.memory-over-budget': {
    raises: [put('host', gannet, { memoryMiB: 9771 })],
    under: [put('host', gannet, { memoryMiB: 9772 })],
    settles: [put('guest', playout, { memoryMiB: 8191 })],
  },
  // Four general vCPUs share a core, and there are eight.
  'host.vcpu-over-ceiling': {
    raises: [put('guest', playout, { vcpu: 33 })],
    under: [put('guest', playout, { vcpu: 32 })],
    settles: [put('guest', playout, { latency: 'lab' })],
  },
  // fulmar has 32768 − 1434 − 4201 = 27133 MiB left; 26802 take 64 and 1 % more, 27135.
  'host.lost-means-guests-lost': {
    raises: [put('host', gannet, { memoryMiB: 65_536 }), put('guest', playout, { memoryMiB: 26_802 })],
    under: [put('host', gannet, { memoryMiB: 65_536 }), put('guest', playout, { memoryMiB: 26_800 })],
    settles: [power(playout, 'stopped')],
  },
  // Eight cores of two threads.
  'guest.larger-than-any-host': {
    raises: [put('guest', playout, { vcpu: 17 })],
    under: [put('guest', playout, { vcpu: 16 })],
    settles: [put('host', fulmar, { coresPerSocket: 9 })],
  },
  'guest.more-vcpus-than-host': {
    raises: [put('guest', playout, { vcpu: 17 })],
    under: [put('guest', playout, { vcpu: 16 })],
    settles: [put('host', gannet, { coresPerSocket: 9 })],
  },
  // 85 % of 1000 GiB, of which the template takes 4.
  'store.over-capacity': {
    raises: [put('disk', playoutDisk, { sizeBytes: 900 * GiB, usedBytes: 846 * GiB })],
    under: [put('disk', playoutDisk, { sizeBytes: 900 * GiB, usedBytes: 846 * GiB - 1 })],
    settles: [put('store', idOf('nvme1'), { capacityBytes: 1001 * GiB })],
  },
  // 40 GiB of the template and 960.
  'store.thin-promise': {
    raises: [put('disk', playoutDisk, { sizeBytes: 960 * GiB + 1 })],
    under: [put('disk', playoutDisk, { sizeBytes: 960 * GiB })],
    settles: [put('store', idOf('nvme1'), { capacityBytes: 1001 * GiB })],
  },
  // 916 GiB free; a month has 30.44 days: 465 GiB a month fill them in 59.96 days, 464 in 60.09.
  'store.full-soon': {
    raises: [put('disk', playoutDisk, { sizeBytes: 4000 * GiB, growthBytesPerMonth: 465 * GiB })],
    under: [put('disk', playoutDisk, { sizeBytes: 4000 * GiB, growthBytesPerMonth: 464 * GiB })],
    settles: [put('store', idOf('nvme1'), { capacityBytes: 1003 * GiB })],
  },
  'adapter.duplicate-mac': {
    raises: [was('adapter', idOf('newsAdapter'), { mac: '02:1a:4b:00:00:01' })],
    under: [was('adapter', idOf('newsAdapter'), { mac: '02:1a:4b:00:00:04' })],
  },
  'adapter.network-not-on-host': {
    raises: [was('guest', playout, { hostId: tern })],
    under: [was('guest', playout, { hostId: fulmar })],
  },
  'guest.crossed-adapters': {
    raises: [was('adapter', idOf('playoutAdapter'), { networkId: idOf('office') })],
    under: [add('adapter', { guestId: playout, position: 2, networkId: idOf('office') })],
  },
  'guest.backup-on-its-host': {
    raises: [put('store', idOf('vaultStore'), { hostId: gannet })],
    under: [put('store', idOf('vaultStore'), { hostId: null })],
    settles: [put('store', idOf('vaultStore'), { hostId: tern })],
  },
  'guest.no-backup': {
    raises: [put('guest', playout, { backupStoreId: null })],
    under: [put('guest', playout, { backupStoreId: null }), power(playout, 'stopped')],
    settles: [put('guest', playout, { backupStoreId: idOf('vaultStore') })],
  },
  'guest.not-generalised': {
    raises: [was('guest', playout, { identity: 'copied', identityFromId: template })],
    under: [was('guest', playout, { identity: 'removed', identityFromId: template })],
    settles: [was('guest', playout, { identity: 'its own' })],
  },
  'guest.shared-identity': {
    raises: [
      was('guest', playout, { identity: 'copied', identityKey: news }),
      was('adapter', idOf('newsAdapter'), { networkId: idOf('studio') }),
    ],
    under: [was('guest', playout, { identity: 'copied', identityKey: news })],
    settles: [power(playout, 'stopped')],
  },
  'guest.old-version': {
    raises: [was('guest', playout, { clonedFromId: template, clonedVersion: '12' }), was('template', version, { withdrawnOn: TODAY })],
    under: [was('guest', playout, { clonedFromId: template, clonedVersion: '12' })],
    settles: [was('guest', playout, { state: 'retired' })],
  },
  // Patched at least every 90 days.
  'template.not-patched': {
    raises: [was('template', version, { patchedOn: ends(-91) })],
    under: [was('template', version, { patchedOn: ends(-90) })],
    settles: [was('template', version, { patchedOn: TODAY })],
  },
  'template.not-generalised': {
    raises: [was('template', version, { hostKeysRemoved: 'no' })],
    under: [was('template', version, { hostKeysRemoved: 'yes' })],
    settles: [was('template', version, { withdrawnOn: TODAY })],
  },
  'template.not-at-rest': {
    raises: [was('guest', template, { state: 'running' })],
    under: [was('guest', template, { state: 'stopped' })],
    settles: [was('guest', template, { state: 'stopped' })],
  },
  // A copy takes the 4 GiB that the template does.
  'template.store-full': {
    raises: [put('disk', playoutDisk, { sizeBytes: 1000 * GiB, usedBytes: 992 * GiB + 1 })],
    under: [put('disk', playoutDisk, { sizeBytes: 1000 * GiB, usedBytes: 992 * GiB })],
    settles: [put('store', idOf('nvme1'), { capacityBytes: 1001 * GiB })],
  },
  'host.not-supported': {
    raises: [put('host', gannet, { cpuFlags: 'sse2' })],
    under: [put('host', gannet, { cpuFlags: null })],
    settles: [put('host', gannet, { cpuFlags: null })],
  },
  'host.memory-modules': {
    raises: modules(8192, 16_384, 8192),
    under: modules(16_384, 16_384),
    settles: [put('module', two, { sizeMiB: 8192 }), put('host', gannet, { memoryMiB: 24_576 })],
  },
  'host.one-management-uplink': {
    raises: [port(one, gannet, 'eno1', { role: 'management' })],
    under: [port(one, gannet, 'eno1', { role: 'management' }), port(two, gannet, 'eno2', { role: 'management' })],
    settles: [port(two, gannet, 'eno2', { role: 'management' })],
  },
  'host.licence-ends': {
    raises: [put('host', gannet, { trialEndsOn: ends(30) })],
    under: [put('host', gannet, { trialEndsOn: ends(31) })],
    settles: [put('host', gannet, { trialEndsOn: null })],
  },
  'host.warranty-ends': {
    raises: [put('host', gannet, { warrantyEndsOn: ends(30) })],
    under: [put('host', gannet, { warrantyEndsOn: ends(31) })],
    settles: [put('host', gannet, { warrantyEndsOn: ends(400) })],
  },
  'host.platform-support-ends': {
    raises: [put('platform', idOf('marram'), { supportedUntil: ends(30) })],
    under: [put('platform', idOf('marram'), { supportedUntil: ends(31) })],
    settles: [put('host', tern, { platformId: idOf('brackwater') })],
  },
  'host.fingerprint-missing': {
    raises: [put('host', tern, { fingerprint: null })],
    under: [put('host', tern, { fingerprint: null, state: 'in maintenance' })],
    settles: [put('host', tern, { fingerprint: 'AB:CD' })],
  },
  // 80 % of 230 V × 6 A is 1104 W.
  'circuit.over-load': {
    raises: [put('host', gannet, { circuit: 'A1', drawWatts: 1105, circuitVolts: 230, circuitAmps: 6 })],
    under: [put('host', gannet, { circuit: 'A1', drawWatts: 1104, circuitVolts: 230, circuitAmps: 6 })],
    settles: [put('host', gannet, { circuitAmps: 10 })],
  },
  'port.cannot-carry': {
    raises: [port(one, gannet, 'eno1', { role: 'storage', cable: 'missing' })],
    under: [port(one, gannet, 'eno1', { role: 'storage' })],
    settles: [put('port', one, { cable: 'present' })],
  },
  'port.duplicate-mac': {
    raises: [port(one, gannet, 'eno1', { mac: '02:aa:00:00:00:01' }), port(two, tern, 'eno1', { mac: '02:aa:00:00:00:01' })],
    under: [port(one, gannet, 'eno1', { mac: '02:aa:00:00:00:01' }), port(two, tern, 'eno1', { mac: '02:aa:00:00:00:02' })],
    settles: [put('port', two, { mac: null })],
  },
  'port.faster-than-recorded': {
    raises: movedBytes(1.25e9 + 100),
    under: movedBytes(1.25e9),
    settles: [put('port', one, { speedMbps: 1000 })],
  },
  'array.unsound': {
    raises: [add('array', { id: one, hostId: gannet, name: 'bulk', level: '1' }), drive(two, gannet, 1, { use: 'member', arrayId: one })],
    under: [
      add('array', { id: one, hostId: gannet, name: 'bulk', level: '1' }),
      ...[two, three].map((id, index) => drive(id, gannet, index + 1, { use: 'member', arrayId: one })),
    ],
    settles: [drive(three, gannet, 2, { use: 'member', arrayId: one })],
  },
  'host.not-as-planned': {
    raises: [
      add('deviation', {
        hostId: gannet,
        about: 'memory',
        planned: '32 GiB',
        found: '16 GiB',
        source: 'collector',
        seenAt: '2027-01-17T08:00:00Z',
      }),
    ],
    under: [],
  },
  'sheet.step-failed': { raises: step('failed'), under: step('done'), settles: [gone('step', two)] },
  'guest.no-driver': { raises: system({ paravirtualDisk: 'none' }), under: system({}) },
  'guest.board': { raises: system({ firmware: 'BIOS only' }), under: system({ firmware: 'UEFI or BIOS' }) },
  'guest.below-minimum': { raises: system({ minMemoryMiB: 8193 }), under: system({ minMemoryMiB: 8192 }) },
  'guest.over-limit': {
    raises: [put('platform', idOf('brackwater'), { guestVcpuMax: 3 })],
    under: [put('platform', idOf('brackwater'), { guestVcpuMax: 4 })],
    settles: [put('guest', playout, { vcpu: 3 })],
  },
  'guest.host-not-in-service': {
    raises: [put('host', gannet, { state: 'in maintenance' })],
    under: [power(playout, 'stopped'), put('host', gannet, { state: 'in maintenance' })],
    settles: [put('host', gannet, { state: 'in service' })],
  },
  'guest.no-host': {
    raises: [was('guest', playout, { hostId: null })],
    under: [was('guest', playout, { hostId: null, state: 'stopped' })],
    settles: [was('guest', playout, { hostId: gannet })],
  },
  'guest.not-verified': {
    raises: [put('guest', playout, { verifiedAt: null })],
    under: [put('guest', playout, { verifiedAt: null }), power(playout, 'stopped')],
    settles: [put('guest', playout, { verifiedAt: '2027-01-18T08:00:00.000Z' })],
  },
  'guest.support-ends': {
    raises: system({ supportedUntil: ends(30) }),
    under: system({ supportedUntil: ends(31) }),
    settles: [put('system', one, { supportedUntil: ends(400) })],
  },
  'guest.medium-attached': {
    raises: [image(idOf('nvme1')), put('guest', playout, { mediumId: one })],
    under: [image(idOf('nvme1')), ...installing],
  },
  'guest.medium-out-of-reach': {
    raises: [image(idOf('nvme2')), ...installing],
    under: [image(idOf('nvme1')), ...installing],
    settles: [put('image', one, { storeId: idOf('nvme1') })],
  },
  'guest.not-apart': {
    raises: [put('guest', playout, { apartFromId: template })],
    under: [put('guest', playout, { apartFromId: news })],
    settles: [put('guest', playout, { apartFromId: null })],
  },
  'guest.waits-in-circle': {
    raises: [
      add('dependency', { id: one, guestId: playout, needsId: news }),
      add('dependency', { id: two, guestId: news, needsId: playout }),
    ],
    under: [add('dependency', { id: one, guestId: playout, needsId: news })],
    settles: [gone('dependency', two)],
  },
  'snapshot.old': {
    raises: [add('snapshot', { id: one, guestId: playout, name: 'before', takenAt: '2027-01-14T08:00:00Z' })],
    under: [add('snapshot', { id: one, guestId: playout, name: 'before', takenAt: '2027-01-15T08:00:00Z' })],
  },
  'snapshot.deep': { raises: snapshots(3), under: snapshots(2), settles: [gone('snapshot', three)] },
  'host.more-than-its-guest': {
    raises: [nested({ memoryMiB: 8193 })],
    under: [nested({})],
    settles: [put('host', one, { memoryMiB: 8192 })],
  },
  'attachment.macs-dropped': {
    raises: [
      nested({}),
      add('attachment', { id: two, hostId: one, networkId: idOf('office') }),
      add('guest', { id: three, name: 'trial', hostId: one, state: 'running', vcpu: 1, memoryMiB: 512 }),
      add('adapter', { guestId: three, networkId: idOf('office') }),
      was('attachment', 'office@gannet', { foreignMacs: 'dropped' }),
    ],
    under: [
      nested({}),
      add('attachment', { id: two, hostId: one, networkId: idOf('office') }),
      add('guest', { id: three, name: 'trial', hostId: one, state: 'running', vcpu: 1, memoryMiB: 512 }),
      add('adapter', { guestId: three, networkId: idOf('studio') }),
      was('attachment', 'office@gannet', { foreignMacs: 'dropped' }),
    ],
    settles: [put('attachment', two, { kind: 'translated' })],
  },
  'disk.other-host': {
    raises: [was('disk', playoutDisk, { storeId: idOf('nvme2') })],
    under: [was('disk', playoutDisk, { storeId: idOf('nvme1') })],
    settles: [was('guest', playout, { hostId: fulmar })],
  },
  'disk.no-store': {
    raises: [was('disk', playoutDisk, { storeId: null })],
    under: [was('guest', playout, { hostId: null }), was('disk', playoutDisk, { storeId: null })],
    settles: [put('disk', playoutDisk, { storeId: idOf('nvme1') })],
  },
  'disk.over-size': {
    raises: [was('disk', playoutDisk, { usedBytes: 200 * GiB + 1 })],
    under: [was('disk', playoutDisk, { usedBytes: 200 * GiB })],
    settles: [put('disk', playoutDisk, { usedBytes: 200 * GiB })],
  },
  'drive.duplicate-serial': {
    raises: [drive(one, gannet, 1, { serial: 'K-1' }), drive(two, fulmar, 1, { serial: 'K-2' }), was('drive', two, { serial: 'K-1' })],
    under: [drive(one, gannet, 1, { serial: 'K-1' }), drive(two, fulmar, 1, { serial: 'K-2' })],
    settles: [put('drive', two, { serial: 'K-2' })],
  },
}

const net = soundNetwork()
const id = (name: string) => net.id(name)
const reserved = (ip: string, more: object = {}) =>
  add('address', { id: one, subnetId: id('office/subnet'), ip, kind: 'reserved', ...more })
const lease = (ip: string, more: object = {}) =>
  add('lease', { id: one, subnetId: id('office/subnet'), ip, mac: '00:00:5e:00:53:01', seenAt: '2027-01-18T08:00:00Z', ...more })
const forward = add('forward', { id: one, hostId: id('gannet'), hostPort: 8080, adapterId: id('desk#1'), guestPort: 80 })
const toOutside = add('intent', { id: one, fromNetworkId: id('lab'), toKind: 'outside' })
const wayBack = add('route', { prefix: '10.3.0.0/24', via: '10.1.0.254' })

/** On an estate of three networks, in which nothing of them is wrong. */
const ofNetworks: Readonly<Record<string, Case>> = {
  'address.duplicate': {
    raises: [reserved('10.1.0.10'), was('address', one, { ip: '10.1.0.9' })],
    under: [reserved('10.1.0.10')],
  },
  'address.outside-subnet': {
    raises: [was('address', id('desk#1.ip'), { ip: '10.1.1.0' })],
    under: [was('address', id('desk#1.ip'), { ip: '10.1.0.99' })],
  },
  'address.in-dhcp-pool': {
    raises: [put('address', id('desk#1.ip'), { ip: '10.1.0.199' })],
    under: [put('address', id('desk#1.ip'), { ip: '10.1.0.200' })],
  },
  'subnet.overlap': {
    raises: [add('subnet', { id: one, networkId: id('lab'), prefix: '10.1.0.128/25' })],
    under: [add('subnet', { id: one, networkId: id('lab'), prefix: '10.1.1.0/25' })],
    settles: [gone('subnet', one)],
  },
  'subnet.gateway': {
    raises: [put('subnet', id('office/subnet'), { gateway: '10.1.0.255' })],
    under: [put('subnet', id('office/subnet'), { gateway: '10.1.0.253' })],
  },
  'pool.unsound': {
    raises: [add('pool', { subnetId: id('lab/subnet'), first: '10.3.0.1', last: '10.3.0.8' })],
    under: [add('pool', { subnetId: id('lab/subnet'), first: '10.3.0.2', last: '10.3.0.8' })],
  },
  // RFC 1918: 172.16.0.0/12 ends with 172.31.255.255.
  'subnet.not-of-its-role': {
    raises: [add('subnet', { id: one, networkId: id('lab'), prefix: '172.32.0.0/24' })],
    under: [add('subnet', { id: one, networkId: id('lab'), prefix: '172.31.255.0/24' })],
    settles: [gone('subnet', one)],
  },
  'network.duplicate-vlan': {
    raises: [add('network', { id: one, name: 'other', vlanId: 10 })],
    under: [add('network', { id: one, name: 'other', vlanId: 11 })],
    settles: [put('network', one, { vlanId: null })],
  },
  'guest.name-not-for-dns': {
    raises: [put('guest', id('desk'), { name: 'the_desk' })],
    under: [put('guest', id('desk'), { name: 'the-desk' })],
  },
  'host.name-not-for-dns': {
    raises: [put('host', id('gannet'), { name: 'desk' })],
    under: [put('host', id('gannet'), { name: 'desk-1' })],
    settles: [put('guest', id('desk'), { name: 'table' })],
  },
  'address.duplicate-name': {
    raises: [reserved('10.1.0.30', { name: 'desk' })],
    under: [reserved('10.1.0.30', { name: 'desk-1' })],
    settles: [gone('address', one)],
  },
  'address.reservation-without-mac': {
    raises: [reserved('10.1.0.30', { kind: 'DHCP reservation', name: 'phone' })],
    under: [reserved('10.1.0.30', { kind: 'DHCP reservation', name: 'phone', mac: '00:00:5e:00:53:01' })],
    settles: [put('address', one, { mac: '00:00:5e:00:53:01' })],
  },
  'lease.against-plan': { raises: [lease('10.1.0.99')], under: [lease('10.1.0.100')] },
  'attachment.not-carried': {
    raises: [put('switch', id('sw0'), { taggedVlans: '10,20' })],
    under: [put('switch', id('sw0'), { taggedVlans: '10,20-30' })],
  },
  'attachment.mtu': { raises: [put('switch', id('sw0'), { mtu: 8999 })], under: [put('switch', id('sw0'), { mtu: 9000 })] },
  'attachment.one-uplink': {
    raises: [put('port', id('eno2'), { switchId: null })],
    under: [put('port', id('eno2'), { switchId: id('sw0') })],
    settles: [put('port', id('eno2'), { switchId: id('sw0') })],
  },
  'subnet.gateway-forwards-nothing': {
    raises: [put('guest', id('gate'), { isRouter: false })],
    under: [put('guest', id('gate'), { isRouter: true })],
  },
  'forward.leads-nowhere': {
    raises: [
      put('attachment', id('office@gannet'), { kind: 'translated' }),
      forward,
      put('attachment', id('office@gannet'), { kind: 'bridged' }),
    ],
    under: [put('attachment', id('office@gannet'), { kind: 'translated' }), forward],
    settles: [gone('forward', one)],
  },
  'route.unreachable': {
    raises: [add('route', { id: one, guestId: id('desk'), prefix: '10.7.0.0/16', via: '10.1.1.1' })],
    under: [add('route', { id: one, guestId: id('desk'), prefix: '10.7.0.0/16', via: '10.1.0.254' })],
    settles: [put('route', one, { via: '10.1.0.254' })],
  },
  'address.not-for-machines': {
    raises: [put('address', id('desk#1.ip'), { ip: '10.1.0.255' })],
    under: [put('address', id('desk#1.ip'), { ip: '10.1.0.253' })],
  },
  'address.set-differently': {
    raises: [put('address', id('desk#1.ip'), { length: 23 })],
    under: [put('address', id('desk#1.ip'), { length: 24 })],
  },
  'adapter.not-connected': {
    raises: [put('adapter', id('desk#1'), { isConnected: false })],
    under: [put('adapter', id('desk#1'), { isConnected: false }), power(id('desk'), 'stopped')],
  },
  'intent.not-met': { raises: [toOutside], under: [toOutside, wayBack] },
}

const cases = new Map<string, Case>([
  ...Object.entries(ofMachines),
  ...Object.entries(ofNetworks).map(([rule, of]) => [rule, { begin: () => net.estate(), ...of }] as const),
])

const context = { ...testContext(31), personId: idOf('ola'), openChecks: () => [] }

/** The estate after some steps. */
function after(before: Estate, steps: readonly Step[]): Estate {
  return steps.reduce((estate, step) => {
    if ('type' in step) return applyAll(estate, [step], context).estate
    const records = estate.toRecords()
    // An attachment of the small estate has no id of its own that tests know.
    const known = step.id === 'office@gannet' ? estate.byKey('attachment', { hostId: gannet, networkId: idOf('office') })[0]?.id : step.id
    expect(records[step.was].some((record) => record.id === known)).toBe(true)
    return Estate.fromRecords({
      ...records,
      [step.was]: records[step.was].map((record) => (record.id === known ? { ...record, ...step.changes } : record)),
    })
  }, before)
}
const foundOn = (estate: Estate, rule: string, day: string) =>
  Findings.of(estate, day)
    .list()
    .filter(({ ruleId }) => ruleId === rule)

describe('every rule', () => {
  it('has a case here, and every case a rule', () => expect([...cases.keys()].toSorted()).toEqual(rules.map((rule) => rule.id).toSorted()))

  it.each([...cases])(
    '%s: is raised, is not just under it, and is settled',
    (rule, { raises, under, settles, day = TODAY, underDay = TODAY, begin = smallEstate }) => {
      expect(foundOn(begin(), rule, TODAY)).toEqual([])
      expect(foundOn(after(begin(), under), rule, underDay)).toEqual([])
      const estate = after(begin(), raises)
      const [finding, ...others] = foundOn(estate, rule, day)
      // A nested host and its guest are two sides of one thing.
      expect(others.filter(({ evidence }) => JSON.stringify(evidence) !== JSON.stringify(finding?.evidence))).toEqual([])
      expect(finding?.evidence.length).toBeGreaterThan(0)
      expect(finding?.remedy.length).toBeGreaterThan(10)
      const fix = finding && fixOf(estate, finding)
      expect(fix === undefined).toBe(settles !== undefined)
      expect(foundOn(after(estate, fix ?? settles ?? []), rule, day)).toEqual([])
    },
  )
})
