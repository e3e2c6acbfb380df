import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { Estate, policyOf, type Guest } from '../estate/index.js'
import { storeGrowth } from '../capacity/index.js'
import { fitOn, rankHosts, demandOf } from '../placement/index.js'
import { idOf, smallEstate, testContext, TODAY } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { Findings, fixOf } from './index.js'

const [playout, news] = [idOf('playout'), idOf('news')]
const system = idOf('array')
const image = idOf('switch')
const snapshot = (id: string, name: string, takenAt: string, parentId: string | null = null): Command => ({
  type: 'snapshot.add',
  record: { id: idOf(id), guestId: playout, name, takenAt, parentId },
})
const update = (changes: Partial<Omit<Guest, 'id'>>): Command => ({ type: 'guest.update', id: playout, changes })
const addSystem = (more: object): Command => ({ type: 'system.add', record: { id: system, name: 'Old one', ...more } })
const addImage = (storeId: string): Command => ({
  type: 'image.add',
  record: { id: image, name: 'installer.iso', sizeBytes: 1e9, storeId },
})
const install: Command[] = [
  { type: 'guest.power', guestId: playout, state: 'stopped' },
  update({ state: 'being installed', mediumId: image }),
]

/** Each rule: what makes it speak, what it says, and whether its fix settles it. */
const cases: readonly (readonly [rule: string, commands: readonly Command[], words: RegExp, isFixable: boolean])[] = [
  ['guest.no-driver', [addSystem({ paravirtualDisk: 'none' }), update({ systemId: system })], /the installer sees no disk/, true],
  ['guest.no-driver', [addSystem({ paravirtualNet: 'none' }), update({ systemId: system })], /it has no network/, true],
  ['guest.board', [addSystem({ firmware: 'BIOS only' }), update({ systemId: system })], /boots under BIOS only/, true],
  ['guest.below-minimum', [addSystem({ minMemoryMiB: 16_384 }), update({ systemId: system })], /needs at least 16 GiB/, true],
  [
    'guest.over-limit',
    [{ type: 'platform.update', id: idOf('brackwater'), changes: { guestVcpuMax: 2 } }],
    /4 vCPU; Brackwater 5 gives one guest at most 2/,
    false,
  ],
  [
    'guest.host-not-in-service',
    [{ type: 'host.update', id: idOf('gannet'), changes: { state: 'in maintenance' } }],
    /recorded as running on gannet, which is in maintenance/,
    false,
  ],
  ['guest.not-verified', [update({ verifiedAt: null })], /never verified/, false],
  [
    'guest.support-ends',
    [addSystem({ supportedUntil: '2026-12-31' }), update({ systemId: system })],
    /out of support since 2026-12-31/,
    false,
  ],
  ['guest.support-ends', [addSystem({ supportedUntil: '2027-02-01' }), update({ systemId: system })], /ends on 2027-02-01/, false],
  ['guest.medium-attached', [addImage(idOf('nvme1')), update({ mediumId: image, bootFirst: 'medium' })], /may install itself again/, true],
  ['guest.medium-out-of-reach', [addImage(idOf('nvme2')), ...install, update({ bootFirst: 'medium' })], /gannet does not reach/, false],
  ['guest.medium-out-of-reach', [addImage(idOf('nvme1')), ...install], /boots first from disk/, true],
  ['guest.not-apart', [update({ hostId: idOf('gannet'), apartFromId: idOf('template') })], /one failure takes both/, false],
  ['snapshot.old', [snapshot('port', 'before', '2027-01-10T08:00:00Z')], /8 days old/, true],
  [
    'snapshot.deep',
    [
      snapshot('port', 'a', '2027-01-18T01:00:00Z'),
      snapshot('attachment', 'b', '2027-01-18T02:00:00Z', idOf('port')),
      { type: 'snapshot.add', record: { guestId: playout, name: 'c', takenAt: '2027-01-18T03:00:00Z', parentId: idOf('attachment') } },
    ],
    /chain of 3 snapshots/,
    false,
  ],
  [
    'store.full-soon',
    [{ type: 'disk.update', id: idOf('playoutDisk'), changes: { sizeBytes: 4000 * GiB, growthBytesPerMonth: 600 * GiB } }],
    /full in 46 days, about 2027-03-05/,
    false,
  ],
]

// What lists of commands may not cause any more may be there from before.
const recorded = (kind: 'disk' | 'drive' | 'guest', id: string, changes: object) => {
  const records = smallEstateWithDrives.toRecords()
  return Estate.fromRecords({ ...records, [kind]: records[kind].map((record) => (record.id === id ? { ...record, ...changes } : record)) })
}
const drive = (host: string): Command => ({
  type: 'drive.add',
  record: { id: idOf(host === 'gannet' ? 'port' : 'switch'), hostId: idOf(host), position: 1, labelBytes: 480e9, serial: `K-${host}` },
})
const smallEstateWithDrives = applyAll(smallEstate(), [drive('gannet'), drive('fulmar')], testContext(9)).estate

describe('a nested host and the guest it runs in', () => {
  const inner = (changes: object): Command => ({
    type: 'host.add',
    record: {
      id: idOf('array'),
      name: 'petrel',
      kind: 'nested',
      outerGuestId: playout,
      platformId: idOf('marram'),
      coresPerSocket: 4,
      memoryMiB: 8192,
      ...changes,
    },
  })
  const found = (estate: Estate) =>
    Findings.of(estate, TODAY)
      .list()
      .filter(({ ruleId }) => ruleId === 'host.more-than-its-guest')
      .map(({ subject, sentence }) => [subject.kind, sentence])
  it('may be as large as the guest, and is found on both where it is larger', () => {
    expect(found(applyAll(smallEstate(), [inner({})], testContext(20)).estate)).toEqual([])
    const larger = applyAll(smallEstate(), [inner({ coresPerSocket: 6, memoryMiB: 9216 })], testContext(20)).estate
    expect(found(larger)).toEqual([
      ['guest', 'playout-1 has 4 vCPU, 8 GiB; petrel, which runs in it, is recorded with 6 cores, 9 GiB.'],
      ['host', 'petrel is recorded with 6 cores, 9 GiB; playout-1, in which it runs, has 4 vCPU, 8 GiB.'],
    ])
  })
  it('runs nothing while the guest is off, or its host is not in service, and its guests are found when that changes', () => {
    const nested = applyAll(
      smallEstate(),
      [
        inner({}),
        {
          type: 'guest.add',
          record: { id: idOf('port'), name: 'trial', hostId: idOf('array'), state: 'running', vcpu: 1, memoryMiB: 512 },
        },
      ],
      testContext(20),
    ).estate
    const off = (change: Command) => {
      const { estate, difference } = applyAll(nested, [change], testContext(21))
      const found = Findings.of(nested, TODAY).after(estate, difference).list()
      expect(found).toEqual(Findings.of(estate, TODAY).list())
      return found.find(({ ruleId, subject }) => ruleId === 'guest.host-not-in-service' && subject.id === idOf('port'))?.sentence
    }
    expect(off({ type: 'guest.update', id: playout, changes: { note: 'as it was' } })).toBeUndefined()
    expect(off({ type: 'guest.power', guestId: playout, state: 'stopped' })).toBe(
      'trial is recorded as running on petrel, which is nested in playout-1, which is stopped.',
    )
    expect(off({ type: 'host.update', id: smallEstate().find('guest', playout)?.hostId ?? '', changes: { state: 'retired' } })).toBe(
      'trial is recorded as running on petrel, which is nested in playout-1 on gannet, which is retired.',
    )
  })
  it('has no more in stores than its guest has in disks, and is looked at again when either changes', () => {
    const before = applyAll(smallEstate(), [inner({})], testContext(20)).estate
    const list = Findings.of(before, TODAY)
    const add: Command = {
      type: 'store.add',
      record: { name: 'petrel-disk', hostId: idOf('array'), capacityBytes: 5000 * GiB },
    }
    const { estate, difference } = applyAll(before, [add], testContext(21))
    expect(found(estate)).toHaveLength(2)
    expect(list.after(estate, difference).list()).toEqual(Findings.of(estate, TODAY).list())
    const grown = applyAll(estate, [{ type: 'guest.update', id: playout, changes: { memoryMiB: 4096 } }], testContext(22))
    expect(Findings.of(estate, TODAY).after(grown.estate, grown.difference).list()).toEqual(Findings.of(grown.estate, TODAY).list())
  })
})

describe('records at odds that are there already', () => {
  const said = (estate: Estate, ruleId: string) =>
    Findings.of(estate, TODAY)
      .list()
      .filter((finding) => finding.ruleId === ruleId)
      .map(({ sentence }) => sentence)
  const strayed = recorded('disk', idOf('playoutDisk'), { storeId: idOf('nvme2') })

  it('a disk in another host than its guest', () => {
    expect(said(smallEstateWithDrives, 'disk.other-host')).toEqual([])
    expect(said(strayed, 'disk.other-host')).toEqual(['Disk 1 of playout-1 is on nvme-2, a store in fulmar, while the guest is on gannet.'])
  })
  it('what is at odds already can be edited beside it, and mended', () => {
    const noted = applyAll(strayed, [update({ note: 'looked at' })], testContext(10)).estate
    const mended = applyAll(noted, [{ type: 'disk.update', id: idOf('playoutDisk'), changes: { storeId: idOf('nvme1') } }], testContext(11))
    expect(Findings.of(noted, TODAY).after(mended.estate, mended.difference).list()).toEqual(Findings.of(mended.estate, TODAY).list())
    expect(said(mended.estate, 'disk.other-host')).toEqual([])
  })
  it('a disk that holds more than its size', () => {
    const over = recorded('disk', idOf('playoutDisk'), { sizeBytes: 10 * GiB, usedBytes: 11 * GiB })
    expect(said(over, 'disk.over-size')).toEqual(['Disk 1 of playout-1 is recorded as holding more than its size.'])
    expect(said(recorded('disk', idOf('playoutDisk'), { sizeBytes: GiB, usedBytes: GiB }), 'disk.over-size')).toEqual([])
  })
  it('a disk on no store, of a guest that is on a host', () => {
    const nowhere = recorded('disk', idOf('playoutDisk'), { storeId: null })
    expect(said(nowhere, 'disk.no-store')).toEqual(['Disk 1 of playout-1 is on no store: the room it takes is counted nowhere.'])
    expect(said(smallEstate(), 'disk.no-store')).toEqual([])
  })
  it('a guest that runs on no host', () => {
    expect(said(recorded('guest', playout, { hostId: null }), 'guest.no-host')).toEqual([
      'playout-1 is recorded as running, and on no host.',
    ])
    expect(said(recorded('guest', playout, { hostId: null, state: 'stopped' }), 'guest.no-host')).toEqual([])
  })
  it('two drives with one serial, said once', () =>
    expect(said(recorded('drive', idOf('switch'), { serial: 'K-gannet' }), 'drive.duplicate-serial')).toHaveLength(1))
})

describe('rules about guests', () => {
  const before = Findings.of(smallEstate(), TODAY)

  it.each(cases)('%s', (ruleId, commands, words, isFixable) => {
    expect(before.list().filter((finding) => finding.ruleId === ruleId)).toEqual([])
    const { estate, difference } = applyAll(smallEstate(), commands, testContext())
    const found = Findings.of(estate, TODAY)
      .list()
      .filter((finding) => finding.ruleId === ruleId)
    expect(found.map(({ sentence }) => sentence).join(' ')).toMatch(words)
    // After the change alone the same is found as by looking at everything.
    expect(before.after(estate, difference).list()).toEqual(Findings.of(estate, TODAY).list())
    const [finding] = found
    const fix = finding && fixOf(estate, finding)
    expect(fix !== undefined).toBe(isFixable)
    if (!fix) return
    const mended = applyAll(estate, fix, testContext(3)).estate
    expect(
      Findings.of(mended, TODAY)
        .list()
        .filter((one) => one.ruleId === ruleId),
    ).toEqual([])
  })
})

describe('how long a store lasts', () => {
  it('a disk stops growing at its size', () => {
    const grow = (growth: number, sizeBytes = 200 * GiB): Command => ({
      type: 'disk.update',
      id: idOf('playoutDisk'),
      changes: { growthBytesPerMonth: growth, sizeBytes },
    })
    const days = (...commands: Command[]) => {
      const { estate } = applyAll(smallEstate(), commands, testContext())
      const store = estate.find('store', idOf('nvme1'))
      return store && storeGrowth(estate, store).daysToFull
    }
    // 916 GiB are free, and the disk has room for 120 more: it never fills the store.
    expect(days(grow(100 * GiB))).toBeUndefined()
    // With room enough: 916 GiB at 100 a month of 30.436875 days.
    expect(days(grow(100 * GiB, 4000 * GiB))).toBeCloseTo(278.8, 1)
    expect(days()).toBeUndefined()
  })
})

describe('where a guest could go', () => {
  it('says pair, backup, image and processor level, and what would be left', () => {
    const { estate } = applyAll(
      smallEstate(),
      [
        addImage(idOf('nvme2')),
        update({ apartFromId: news, mediumId: image, processorMode: 'x86-64-v3' }),
        { type: 'store.update', id: idOf('vaultStore'), changes: { kind: 'backup', servedById: playout } },
        { type: 'host.update', id: idOf('tern'), changes: { cpuFlags: 'fpu cx8 cmov fxsr mmx syscall sse sse2' } },
      ],
      testContext(),
    )
    const guest = estate.find('guest', playout)
    if (!guest) throw new Error('no guest')
    const fits = rankHosts(estate, demandOf(estate, guest))
    const said = (host: string) =>
      fits
        .find(({ hostId }) => hostId === idOf(host))
        ?.lines.map(({ sentence }) => sentence)
        .join(' · ') ?? ''
    expect(said('fulmar')).toMatch(/Pair: newsroom is on fulmar too/)
    expect(said('fulmar')).toMatch(/it keeps the backups of 1 guest of fulmar/)
    expect(said('fulmar')).toMatch(/installer\.iso on nvme-2 is reached/)
    expect(said('gannet')).toMatch(/Pair: newsroom is on another host/)
    expect(said('tern')).toMatch(/tern lacks .* for x86-64-v3/)
    expect(said('tern')).toMatch(/its backup store vault-store is in tern itself/)
    expect(fits.at(-1)?.hostId).toBe(idOf('tern'))
    const host = estate.find('host', idOf('fulmar'))
    expect(host && fitOn(estate, host, demandOf(estate, guest)).left.memoryMiB).toBeLessThan(host?.memoryMiB ?? 0)
    expect(policyOf(estate).sizeHeadroomPercent).toBe(25)
  })
})

describe('a guest’s life', () => {
  const go = (...states: Guest['state'][]) =>
    applyAll(
      smallEstate(),
      states.map((state) => update({ state })),
      testContext(),
    ).estate
  it.each([[['stopped', 'retired', 'stopped', 'running']], [['stopped', 'being installed', 'running']]] as const)(
    '%s is allowed',
    (states) => expect(go(...states).find('guest', playout)?.state).toBe(states.at(-1)),
  )
  it.each([
    [['planned'], 'it can only be stopped, not planned'],
    [['retired'], 'it can only be stopped, not retired'],
    [['stopped', 'retired', 'running'], 'it can only be stopped, not running'],
  ] as const)('%s is refused', (states, words) => expect(() => go(...states)).toThrow(words))
  it('a retired guest takes no memory of its host', () => {
    const estate = go('stopped', 'retired')
    const host = estate.find('host', idOf('gannet'))
    const guest = estate.find('guest', news)
    if (!host || !guest) throw new Error('no host')
    expect(fitOn(estate, host, demandOf(estate, guest)).left.memoryMiB).toBeGreaterThan(
      fitOn(smallEstate(), host, demandOf(estate, guest)).left.memoryMiB,
    )
  })
})
