import { NetworkEstate, soundNetwork } from '../testing/network-estate.js'
import { runs } from '../testing/tier.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, applyAll, type Command } from '../commands/index.js'
import { CommandError, Estate, type Records } from '../estate/index.js'
import { anyCommand } from '../testing/any-command.js'
import { generateEstate } from '../testing/generate-estate.js'
import { renamesOf } from '../testing/renames.js'
import { idOf, smallEstate, testContext, TODAY } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { compareFindings, Findings, fixOf, isFindingOn, rules, type Finding } from './index.js'

const start = smallEstate()
const after = (...commands: Command[]) => applyAll(start, commands, testContext(5)).estate
const found = (estate: Estate, ruleId: string): readonly Finding[] =>
  Findings.of(estate, TODAY)
    .list()
    .filter((finding) => finding.ruleId === ruleId)
const only = (estate: Estate, ruleId: string): Finding => {
  const list = found(estate, ruleId)
  expect(list).toHaveLength(1)
  return list[0] as Finding
}
/** Applies a finding's fix and expects the finding to be gone. */
function mend(estate: Estate, finding: Finding): Estate {
  const fix = fixOf(estate, finding)
  expect(fix).toBeDefined()
  const mended = applyAll(estate, fix ?? [], testContext(6)).estate
  expect(
    Findings.of(mended, TODAY)
      .list()
      .map((f) => f.id),
  ).not.toContain(finding.id)
  return mended
}
const withRecords = (change: (records: Records) => Partial<Records>): Estate => {
  const records = start.toRecords()
  return Estate.fromRecords({ ...records, ...change(records) })
}

describe('findings', () => {
  it('a sound estate has none', () => expect(Findings.of(start, TODAY).list()).toEqual([]))

  it('every rule has an id of its own and every finding the four things', () => {
    expect(new Set(rules.map((rule) => rule.id)).size).toBe(rules.length)
    const bad = after(
      { type: 'host.update', id: idOf('gannet'), changes: { memoryMiB: 4096 } },
      { type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null, memoryMiB: 60000 } },
    )
    const list = Findings.of(bad, TODAY).list()
    expect(list.length).toBeGreaterThan(2)
    for (const finding of list) {
      expect(finding.sentence).toMatch(/\.$/)
      expect(finding.remedy).toMatch(/\.$/)
      expect(finding.evidence.length).toBeGreaterThan(0)
      expect(bad.find(finding.subject.kind, finding.subject.id)).toBeDefined()
    }
  })

  it('after a change are what a full pass finds', () =>
    fc.assert(
      fc.property(fc.array(anyCommand, { minLength: 1, maxLength: 10 }), (commands) => {
        const context = testContext(42)
        let estate = start
        let findings = Findings.of(start, TODAY)
        for (const command of commands) {
          try {
            const applied = apply(estate, command, context)
            estate = applied.estate
            findings = findings.after(estate, applied.difference)
          } catch (error) {
            if (!(error instanceof CommandError)) throw error
          }
        }
        expect(findings.list()).toEqual(Findings.of(estate, TODAY).list())
        const ids = findings.list().map(({ id }) => id)
        expect(ids).toHaveLength(new Set(ids).size)
      }),
      { numRuns: runs(100, 1000) },
    ))

  it('after a rename are what a full pass finds; only what shows a name, or may, is looked at again', () => {
    const estate = generateEstate({ hosts: 16, guests: 240, adapters: 360 })
    const before = Findings.of(estate, TODAY)
    expect(before.list().length).toBeGreaterThan(30)
    const looked: number[] = []
    for (const renamed of renamesOf(estate, 20)) {
      const after = before.after(renamed.estate, renamed.difference)
      expect([renamed.command, after.list()]).toEqual([renamed.command, Findings.of(renamed.estate, TODAY).list()])
      looked.push(after.againSince(before).before.length)
    }
    expect(looked.length).toBeGreaterThan(100)
    expect(looked.reduce((sum, one) => sum + one, 0) / looked.length).toBeLessThan(before.list().length / 3)
  })

  it('of one rule on one thing are told apart by what they are about: what is mended settles itself alone', () => {
    const old = after(
      {
        type: 'system.add',
        record: { id: idOf('system'), name: 'Old one', family: 'other', paravirtualDisk: 'none', paravirtualNet: 'none' },
      },
      { type: 'guest.update', id: idOf('playout'), changes: { systemId: idOf('system') } },
      { type: 'disk.add', record: { guestId: idOf('playout'), storeId: idOf('nvme1'), sizeBytes: GiB, use: 'data', position: 2 } },
    )
    const [before, ids] = [Findings.of(old, TODAY), found(old, 'guest.no-driver').map(({ id }) => id)]
    expect(ids).toHaveLength(3)
    expect(ids).toContain(`guest.no-driver:${idOf('playout')}:disk-driver.${idOf('playoutDisk')}`)
    const mended = apply(old, { type: 'disk.update', id: idOf('playoutDisk'), changes: { bus: 'SATA' } }, testContext(7))
    const { raised, settled } = compareFindings(before, before.after(mended.estate, mended.difference))
    expect([raised.map(({ id }) => id), settled.map(({ id }) => id)]).toEqual([
      [],
      [`guest.no-driver:${idOf('playout')}:disk-driver.${idOf('playoutDisk')}`],
    ])
    // Every rule: none says two things of one thing by one id.
    expect(new Set(before.list().map(({ id }) => id)).size).toBe(before.list().length)
  })

  it('after a guest or its disk changed while a move of it is under way, too, where the move holds room', () => {
    const begin: Command = {
      type: 'migration.begin',
      guestId: idOf('playout'),
      toHostId: idOf('fulmar'),
      stores: { [idOf('playoutDisk')]: idOf('nvme2') },
      method: 'live',
    }
    const begun = apply(start, begin, testContext(42)).estate
    const findings = Findings.of(begun, TODAY)
    const changes: readonly Command[] = [
      { type: 'guest.resize', guestId: idOf('playout'), vcpu: 1, memoryMiB: 26_801 },
      { type: 'guest.resize', guestId: idOf('playout'), vcpu: 120, memoryMiB: 26_801 },
      { type: 'disk.update', id: idOf('playoutDisk'), changes: { sizeBytes: 990 * GiB, usedBytes: 970 * GiB } },
    ]
    for (const command of changes) {
      const { estate, difference } = apply(begun, command, testContext(43))
      const after = Findings.of(estate, TODAY).list()
      expect(findings.after(estate, difference).list()).toEqual(after)
      expect(after).not.toEqual(findings.list())
    }
  })

  it('after a host came into a guest, or an adapter onto another network, where guests wait for each other by that', () => {
    const [playout, news] = [idOf('playout'), idOf('news')]
    const waiting = apply(start, { type: 'dependency.add', record: { guestId: playout, needsId: news } }, testContext(42)).estate
    const hostId = waiting.find('guest', news)?.hostId ?? ''
    const other = waiting.all('host').find(({ id }) => id !== hostId)?.id ?? ''
    const apart = apply(waiting, { type: 'guest.update', id: playout, changes: { hostId: other } }, testContext(43)).estate
    const findings = Findings.of(apart, TODAY)
    const { estate, difference } = apply(
      apart,
      { type: 'host.update', id: hostId, changes: { kind: 'nested', outerGuestId: playout } },
      testContext(44),
    )
    const all = Findings.of(estate, TODAY).list()
    expect(all.map(({ ruleId }) => ruleId)).toContain('guest.waits-in-circle')
    expect(findings.after(estate, difference).list()).toEqual(all)
  })

  it('says what a change raised and what it settled', () => {
    const worse = after({ type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null } })
    const change = compareFindings(Findings.of(start, TODAY), Findings.of(worse, TODAY))
    expect(change.raised.map((f) => f.ruleId)).toEqual(['guest.no-backup'])
    expect(compareFindings(Findings.of(worse, TODAY), Findings.of(start, TODAY)).settled.map((f) => f.ruleId)).toEqual(['guest.no-backup'])
  })

  describe('of what was there before says which way it goes, and does not call it new', () => {
    /** What a command does to the findings of a rule. */
    const ways = (from: Estate, ruleId: string, command: Command) => {
      const { estate, difference } = apply(from, command, testContext(7))
      const before = Findings.of(from, TODAY)
      const { raised, changed, settled } = compareFindings(before, before.after(estate, difference))
      const all = [
        ...raised.map((finding) => ({ finding, how: 'new' })),
        ...changed,
        ...settled.map((finding) => ({ finding, how: 'settled' })),
      ]
      return all.filter(({ finding }) => finding.ruleId === ruleId).map(({ how }) => how)
    }

    it.each([
      [8000, 'better'],
      [32_768, 'worse'],
      [1024, 'settled'],
    ])('by a figure of which more is worse: %i MiB for a guest are %s', (memoryMiB, how) => {
      const full = after({ type: 'host.update', id: idOf('gannet'), changes: { memoryMiB: 9000 } })
      expect(ways(full, 'host.memory-over-budget', { type: 'guest.resize', guestId: idOf('playout'), memoryMiB })).toEqual([how])
    })

    const growing = (gib: number): Command => ({
      type: 'disk.update',
      id: idOf('playoutDisk'),
      changes: { sizeBytes: 4000 * GiB, growthBytesPerMonth: gib * GiB },
    })
    it.each([
      [500, 'better'],
      [700, 'worse'],
      [400, 'settled'],
    ])('by one of which less is worse: a store is full sooner or later at %i GiB a month, %s', (gib, how) => {
      expect(ways(after(growing(600)), 'store.full-soon', growing(gib))).toEqual([how])
    })

    it.each([
      ['guests', 'better'],
      ['storage', 'worse'],
    ] as const)('by how severe it is, where there is no figure: a network for %s', (role, how) => {
      const net = soundNetwork()
      const changes = { role: role === 'storage' ? ('guests' as const) : ('storage' as const) }
      const from = applyAll(
        net.estate(),
        [
          { type: 'switch.update', id: net.id('sw0'), changes: { mtu: 1500 } },
          { type: 'network.update', id: net.id('storage'), changes },
        ],
        testContext(9),
      ).estate
      expect(ways(from, 'attachment.mtu', { type: 'network.update', id: net.id('storage'), changes: { role } })).toEqual([how])
    })
  })
})

describe('what takes long in a large estate', () => {
  const large = generateEstate({ hosts: 25, guests: 1000, adapters: 1200 })
  const before = Findings.of(large, TODAY)
  const resized = (index: number, memoryMiB: number) =>
    apply(large, { type: 'guest.resize', guestId: large.all('guest')[index]?.id ?? '', memoryMiB }, testContext(9))

  it('is as it was after a change, says so, and is there once it is asked for', () => {
    const { estate, difference } = resized(3, 300_000)
    const at = before.after(estate, difference)
    const whole = Findings.of(estate, TODAY)
    const isLate = ({ ruleId }: Finding) => ruleId === 'host.lost-means-guests-lost'
    const others = (list: readonly Finding[]) => list.filter((finding) => !isLate(finding))
    expect(at.pending.map(({ id }) => id)).toEqual(['host.lost-means-guests-lost'])
    expect(at.list().filter(isLate)).toEqual(before.list().filter(isLate))
    expect(others(at.list())).toEqual(others(whole.list()))
    expect(whole.list().filter(isLate)).not.toEqual(before.list().filter(isLate))
    expect(at.settled().list()).toEqual(whole.list())
    expect(at.settled().pending).toEqual([])
    const told = compareFindings(before, at)
    expect(told.raised.some(isLate)).toBe(false)
    expect(told.pending).toEqual(at.pending)
    expect(compareFindings(before, at.settled())).toEqual(compareFindings(before, whole))
  })

  it('stays pending over later changes, until the estate is small again', () => {
    const { estate, difference } = resized(3, 300_000)
    const policy: Command = { type: 'policy.update', id: estate.all('policy')[0]?.id ?? '', changes: { storeWarnPercent: 80 } }
    const strict = apply(estate, policy, testContext(10))
    const pending = before.after(estate, difference)
    expect(pending.after(strict.estate, strict.difference).pending).toEqual([])
    const note = apply(estate, { type: 'host.update', id: estate.all('host')[0]?.id ?? '', changes: { note: 'x' } }, testContext(11))
    const again = pending.after(note.estate, note.difference)
    expect(again.pending).toEqual(pending.pending)
    expect(again.settled().list()).toEqual(Findings.of(note.estate, TODAY).list())
    const guest = note.estate.all('guest').at(-1)
    const parts = (['disk', 'adapter'] as const).flatMap((kind) => note.estate.referring(kind, 'guestId', guest?.id ?? ''))
    const addresses = parts.flatMap(({ id }) => note.estate.referring('address', 'adapterId', id))
    const gone = [...addresses, ...parts, ...(guest ? [guest] : [])]
    const removed = Object.fromEntries(gone.map((record) => [record.id, { kind: note.estate.kindOf(record.id) ?? 'guest', record }]))
    const one = { estate: note.estate.with({ added: {}, updated: {}, removed }), difference: { added: {}, updated: {}, removed } }
    const small = again.after(one.estate, one.difference)
    expect(small.pending).toEqual([])
    expect(small.list()).toEqual(Findings.of(one.estate, TODAY).list())
  })
})

describe('rules', () => {
  it('memory over budget: into the reserve is a warning, beyond it an error', () => {
    const tight = after({ type: 'host.update', id: idOf('gannet'), changes: { memoryMiB: 11000, failoverReserveMiB: 4000 } })
    // 11000 usable − 1434 own − 4000 reserve − (8192 + 64 + 82) committed = −2772.
    expect(only(tight, 'host.memory-over-budget')).toMatchObject({ severity: 'warning', subject: { id: idOf('gannet') } })
    expect(only(tight, 'host.memory-over-budget').evidence).toContainEqual({ label: 'over', value: 2772, unit: 'MiB', shown: '2772 MiB' })
    const short = after({ type: 'host.update', id: idOf('gannet'), changes: { memoryMiB: 9000 } })
    expect(only(short, 'host.memory-over-budget').severity).toBe('error')
  })

  it('vCPU over the ceiling counts a steady guest’s vCPU as a core', () => {
    expect(found(after({ type: 'guest.resize', guestId: idOf('playout'), vcpu: 32 }), 'host.vcpu-over-ceiling')).toEqual([])
    const steady = after({ type: 'guest.update', id: idOf('playout'), changes: { vcpu: 9, latency: 'steady' } })
    expect(only(steady, 'host.vcpu-over-ceiling').evidence).toContainEqual({ label: 'load', value: 9, unit: 'cores' })
  })

  it('a guest larger than any host names both shortfalls', () => {
    const finding = only(after({ type: 'guest.resize', guestId: idOf('news'), vcpu: 64, memoryMiB: 65536 }), 'guest.larger-than-any-host')
    expect(finding.sentence).toContain('64 GiB of memory')
    expect(finding.sentence).toContain('16 logical CPUs')
  })

  it('a guest with more vCPUs than its host has logical CPUs is an error; over one socket a notice', () => {
    const estate = after(
      { type: 'host.update', id: idOf('gannet'), changes: { sockets: 2 } },
      { type: 'guest.resize', guestId: idOf('playout'), vcpu: 10 },
    )
    expect(only(estate, 'guest.more-vcpus-than-host').severity).toBe('notice')
    expect(only(after({ type: 'guest.resize', guestId: idOf('playout'), vcpu: 17 }), 'guest.more-vcpus-than-host').severity).toBe('error')
  })

  it('a store is warned about from 85 % and an error from 95 %', () => {
    const fill = (gib: number) =>
      after({ type: 'disk.update', id: idOf('newsDisk'), changes: { sizeBytes: 1000 * GiB, usedBytes: gib * GiB } })
    expect(found(fill(849), 'store.over-capacity')).toEqual([])
    expect(only(fill(850), 'store.over-capacity').severity).toBe('warning')
    expect(only(fill(950), 'store.over-capacity').severity).toBe('error')
  })

  it('thin disks that promise more than the store holds', () => {
    const estate = after({ type: 'disk.update', id: idOf('playoutDisk'), changes: { sizeBytes: 1160 * GiB } })
    // 1160 + 40 GiB promised on 1000 GiB: exposure = (1200 − 84) − (1000 − 84) = 200 GiB.
    expect(only(estate, 'store.thin-promise').evidence).toContainEqual({
      label: 'exposure',
      value: 200 * GiB,
      unit: 'bytes',
      shown: '200 GiB',
    })
  })

  it('a duplicate address names both and moves the younger', () => {
    const estate = withRecords((records) => ({
      address: [
        ...records.address,
        {
          id: '01890000-0000-7000-8000-ffffffffffff',
          subnetId: idOf('studioNet'),
          ip: '10.61.40.2',
          kind: 'fixed',
          adapterId: idOf('newsAdapter'),
          hostId: null,
          name: null,
          mac: null,
          length: null,
          gateway: null,
          note: '',
        },
      ],
    }))
    const finding = only(estate, 'address.duplicate')
    expect(finding).toMatchObject({ severity: 'error', subject: { id: '01890000-0000-7000-8000-ffffffffffff' } })
    expect(mend(estate, finding).find('address', '01890000-0000-7000-8000-ffffffffffff')?.ip).toBe('10.61.40.3')
  })

  it('an address outside its subnet is counted where it lies, or moved', () => {
    const estate = after(
      { type: 'subnet.add', record: { networkId: idOf('studio'), prefix: '10.61.41.0/24' } },
      { type: 'address.update', id: idOf('playoutAddress'), changes: { ip: '10.61.41.7' } },
    )
    const mended = mend(estate, only(estate, 'address.outside-subnet'))
    expect(mended.find('address', idOf('playoutAddress'))?.ip).toBe('10.61.41.7')
    const astray = after({ type: 'address.update', id: idOf('playoutAddress'), changes: { ip: '10.99.0.7' } })
    expect(mend(astray, only(astray, 'address.outside-subnet')).find('address', idOf('playoutAddress'))?.ip).toBe('10.61.40.2')
  })

  it('a fixed address in a pool moves out of it; a reservation may stay', () => {
    const estate = after({ type: 'address.assign', adapterId: idOf('newsAdapter'), ip: '10.61.30.50' })
    const finding = only(estate, 'address.in-dhcp-pool')
    expect(finding.sentence).toContain('10.61.30.2 to 10.61.30.99')
    expect(mend(estate, finding).find('address', finding.subject.id)?.ip).toBe('10.61.30.100')
    expect(
      found(
        after({ type: 'address.assign', adapterId: idOf('newsAdapter'), ip: '10.61.30.50', kind: 'DHCP reservation' }),
        'address.in-dhcp-pool',
      ),
    ).toEqual([])
  })

  it('a MAC used twice, by another adapter or by a host’s management port', () => {
    const twice = withRecords((records) => ({
      adapter: records.adapter.map((a) => (a.id === idOf('newsAdapter') ? { ...a, mac: '02:1a:4b:00:00:01' } : a)),
    }))
    mend(twice, only(twice, 'adapter.duplicate-mac'))
    const host = after({ type: 'host.update', id: idOf('gannet'), changes: { managementMac: '02:1a:4b:00:00:02' } })
    expect(only(host, 'adapter.duplicate-mac').sentence).toContain('management port of gannet')
    mend(host, only(host, 'adapter.duplicate-mac'))
  })

  it('a host lost means guests lost: memory, processors and networks of the others decide', () => {
    const big = after({ type: 'guest.resize', guestId: idOf('playout'), memoryMiB: 28000 })
    expect(found(big, 'host.lost-means-guests-lost').map((f) => f.subject.id)).toContain(idOf('gannet'))
    const attachment = start.byKey('attachment', { hostId: idOf('fulmar'), networkId: idOf('studio') })[0]
    const cut = after({ type: 'attachment.remove', id: attachment?.id ?? '' })
    expect(only(cut, 'host.lost-means-guests-lost').sentence).toBe('If gannet fails, 1 guest has no room elsewhere: playout-1.')
  })

  it('a network that the host does not carry, with the attachment as its fix', () => {
    const attachment = start.byKey('attachment', { hostId: idOf('fulmar'), networkId: idOf('office') })[0]
    const estate = after({ type: 'attachment.remove', id: attachment?.id ?? '' })
    mend(estate, only(estate, 'adapter.network-not-on-host'))
  })

  it('a router with its adapters the wrong way round is told from one wrong address', () => {
    const second = '01890000-0000-7000-8000-00000000aaaa'
    const router: Command[] = [
      {
        type: 'adapter.add',
        record: { id: second, guestId: idOf('playout'), position: 2, networkId: idOf('studio'), mac: '02:1a:4b:00:00:09' },
      },
      { type: 'adapter.update', id: idOf('playoutAdapter'), changes: { networkId: idOf('office') } },
    ]
    const one = after(...router)
    expect(only(one, 'guest.crossed-adapters').sentence).toContain('belongs to studio')
    const crossed = after(...router, { type: 'address.assign', adapterId: second, subnetId: idOf('officeNet') })
    const finding = only(crossed, 'guest.crossed-adapters')
    expect(finding.sentence).toContain('are swapped')
    mend(crossed, finding)
  })

  it('a backup on the host it protects: also one that a guest serves, and one on a host around it', () => {
    const store: Command = { type: 'store.update', id: idOf('vaultStore'), changes: { hostId: null, servedById: idOf('news') } }
    const move: Command[] = [
      { type: 'guest.update', id: idOf('news'), changes: { hostId: idOf('gannet') } },
      { type: 'disk.update', id: idOf('newsDisk'), changes: { storeId: idOf('nvme1') } },
    ]
    const found = (...commands: Command[]) =>
      Findings.of(after(...commands), TODAY)
        .list()
        .filter(({ ruleId, subject }) => ruleId === 'guest.backup-on-its-host' && subject.id === idOf('playout'))
    expect(found(store)).toEqual([])
    expect(found(store, ...move)[0]?.sentence).toBe(
      'playout-1 and newsroom, which serves its backup store vault-store, both run on gannet.',
    )
    // It is shown on all that it is about: the guest, the host, the store, and who serves that.
    const [both] = found(store, ...move)
    for (const name of ['playout', 'gannet', 'vaultStore', 'news', 'fulmar'] as const)
      expect([name, both !== undefined && isFindingOn(both, [idOf(name)])]).toEqual([name, name !== 'fulmar'])
    // playout-1 on a host nested in a guest of fulmar, its backups in fulmar itself.
    const nested: Command[] = [
      { type: 'host.update', id: idOf('gannet'), changes: { kind: 'nested', outerGuestId: idOf('news') } },
      { type: 'store.update', id: idOf('vaultStore'), changes: { hostId: idOf('fulmar') } },
    ]
    expect(found(...nested)[0]?.sentence).toContain('runs on fulmar')
    // Whichever record changes last, the rule looks again.
    const before = after(store)
    const list = Findings.of(before, TODAY)
    const { estate, difference } = applyAll(before, move, testContext(12))
    expect(
      list
        .after(estate, difference)
        .list()
        .map(({ ruleId }) => ruleId),
    ).toContain('guest.backup-on-its-host')
  })

  it('a backup in the same host, a clone with its original’s identity', () => {
    expect(
      only(after({ type: 'store.update', id: idOf('vaultStore'), changes: { hostId: idOf('gannet') } }), 'guest.backup-on-its-host').subject
        .id,
    ).toBe(idOf('playout'))
    const raw = after(
      { type: 'template.update', id: idOf('templateVersion'), changes: { hostKeysRemoved: 'no' } },
      { type: 'guest.clone', guestId: idOf('template'), name: 'copy' },
    )
    expect(only(raw, 'guest.not-generalised').sentence).toContain('copied from tpl-server')
  })
})

it('guests that a nested host bridges are not heard where the outer host drops their MACs', () => {
  const net = new NetworkEstate()
  net
    .net('lab', '10.7.0.0/24')
    .host('outer', 'lab')
    .guest('box', 'outer', [{ net: 'lab', ip: '10.7.0.2' }])
  net.host('nested', 'lab', { kind: 'nested', outerGuestId: net.id('box') }).guest('inside', 'nested', [{ net: 'lab', ip: '10.7.0.30' }])
  const estate = net.estate()
  const outer = estate.all('attachment').find(({ hostId }) => hostId === net.id('outer'))
  const strict = applyAll(
    estate,
    [{ type: 'attachment.update', id: outer?.id ?? '', changes: { foreignMacs: 'dropped' } }],
    testContext(),
  ).estate
  const said = (of: Estate) => found(of, 'attachment.macs-dropped').map(({ sentence }) => sentence)
  expect(said(estate)).toEqual([])
  expect(said(strict)).toEqual([
    'nested bridges lab, and outer drops frames that box sends with other MACs: inside cannot be heard outside it.',
  ])
  // Looked at again, it is what a full pass finds: the attachment, the guest that leaves, the adapter that is unplugged.
  const adapter = strict.referring('adapter', 'guestId', net.id('inside'))[0]
  const changes: readonly Command[] = [
    { type: 'attachment.update', id: outer?.id ?? '', changes: { foreignMacs: 'passed' } },
    { type: 'guest.update', id: net.id('inside'), changes: { hostId: net.id('outer') } },
    { type: 'adapter.update', id: adapter?.id ?? '', changes: { networkId: null } },
  ]
  for (const command of changes) {
    const { estate: next, difference } = apply(strict, command, testContext(44))
    expect(Findings.of(strict, TODAY).after(next, difference).list()).toEqual(Findings.of(next, TODAY).list())
    expect(said(next)).toEqual([])
  }
})

it('of several with the same address, MAC or VLAN the same one is told, in whatever order they are read', () => {
  const id = (kind: string, n: number) => `0189000${kind}-0000-7000-8000-00000000000${n}`
  const extra = (n: number): Command[] => [
    { type: 'network.add', record: { id: id('a', n), name: `twin-${n}`, vlanId: 77 } },
    { type: 'subnet.add', record: { id: id('b', n), networkId: id('a', n), prefix: '10.77.0.0/24' } },
    { type: 'address.add', record: { id: id('c', n), subnetId: id('b', n), ip: '10.77.0.9', kind: 'reserved', name: `device-${n}` } },
    { type: 'pool.add', record: { id: id('d', n), subnetId: idOf('officeNet'), first: `10.61.30.15${n}`, last: '10.61.30.160' } },
  ]
  const { estate } = applyAll(smallEstate(), [3, 1, 2].flatMap(extra), testContext(70))
  const told = (one: Estate) =>
    Findings.of(one, TODAY)
      .list()
      .map(({ id, sentence }) => `${id} ${sentence}`)
      .toSorted()
  const records = estate.toRecords()
  const reversed = Object.fromEntries(Object.entries(records).map(([kind, list]) => [kind, list.toReversed()])) as unknown as Records
  expect(told(estate).filter((line) => line.includes('device-1') || line.includes('twin-1')).length).toBeGreaterThan(3)
  expect(told(Estate.fromRecords(reversed))).toEqual(told(estate))
})
