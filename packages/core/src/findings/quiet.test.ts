import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { idOf, smallEstate, testContext, TODAY } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { Findings, fixOf, rules } from './index.js'

const after = (...commands: Command[]) => applyAll(smallEstate(), commands, testContext(51)).estate
const findings = (...commands: Command[]) =>
  Findings.of(after(...commands), TODAY)
    .list()
    .map((finding) => finding.ruleId)

// A rule that cries wolf is soon not read: what is right at its very edge stays quiet.
describe('rules stay quiet at their edge', () => {
  it.each<[string, Command[]]>([
    // 32768 − 1434 own = 31334; 30960 + 64 + 310 = 31334: the last MiB.
    [
      'memory to the last MiB',
      [
        { type: 'guest.update', id: idOf('news'), changes: { state: 'stopped' } },
        { type: 'guest.resize', guestId: idOf('news'), memoryMiB: 30960 },
      ],
    ],
    [
      'core load equal to the cores',
      [{ type: 'guest.update', id: idOf('news'), changes: { vcpu: 8, latency: 'steady', state: 'stopped' } }],
    ],
    ['as many vCPUs as logical CPUs', [{ type: 'guest.resize', guestId: idOf('news'), vcpu: 16 }]],
    ['a promise of exactly the capacity', [{ type: 'disk.update', id: idOf('newsDisk'), changes: { sizeBytes: 1000 * GiB } }]],
    ['an address just outside the pool', [{ type: 'address.assign', adapterId: idOf('newsAdapter'), ip: '10.61.30.100', kind: 'fixed' }]],
    [
      'a reservation inside the pool',
      [{ type: 'address.assign', adapterId: idOf('newsAdapter'), ip: '10.61.30.50', kind: 'DHCP reservation' }],
    ],
    [
      'the same address on a network of its own is told apart by its subnet only when it is the same',
      [{ type: 'address.assign', adapterId: idOf('newsAdapter'), ip: '10.61.30.200', kind: 'fixed' }],
    ],
    ['a stopped guest without a backup', [{ type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null, state: 'stopped' } }]],
    ['a template without a backup', [{ type: 'guest.update', id: idOf('template'), changes: { backupStoreId: null } }]],
    ['a clone of a generalised template', [{ type: 'guest.clone', guestId: idOf('template'), name: 'copy' }]],
    ['backups on another host', [{ type: 'guest.update', id: idOf('news'), changes: { backupStoreId: idOf('vaultStore') } }]],
    ['an adapter that is not plugged in', [{ type: 'adapter.update', id: idOf('newsAdapter'), changes: { networkId: null } }]],
    ['a retired host’s empty memory', [{ type: 'host.update', id: idOf('tern'), changes: { state: 'retired', memoryMiB: 600 } }]],
  ])('%s', (_, commands) => expect(findings(...commands)).toEqual([]))
})

describe('severities', () => {
  it('an address given twice is an error on one network and a warning on two', () => {
    const twice = (networkId: string): Command[] => [
      { type: 'subnet.add', record: { id: idOf('estate').replace('8000', '9000'), networkId, prefix: '10.61.0.0/16' } },
      {
        type: 'address.assign',
        adapterId: idOf('newsAdapter'),
        subnetId: idOf('estate').replace('8000', '9000'),
        ip: '10.61.40.2',
        kind: 'fixed',
      },
    ]
    const severity = (networkId: string) =>
      Findings.of(after(...twice(networkId)), TODAY)
        .list()
        .find((finding) => finding.ruleId === 'address.duplicate')?.severity
    expect([severity(idOf('studio')), severity(idOf('office'))]).toEqual(['error', 'warning'])
  })
  it('come errors first, in an order that does not change', () => {
    const estate = after(
      { type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null } },
      { type: 'address.assign', adapterId: idOf('newsAdapter'), ip: '10.61.30.7', kind: 'fixed' },
      { type: 'disk.update', id: idOf('newsDisk'), changes: { sizeBytes: 1001 * GiB } },
    )
    expect(
      Findings.of(estate, TODAY)
        .list()
        .map((finding) => finding.severity),
    ).toEqual(['error', 'warning', 'notice'])
  })
})

describe('a fix', () => {
  it('is offered by at least three rules, and asked of a finding that is gone gives nothing', () => {
    expect(rules.filter((rule) => rule.fix).length).toBeGreaterThanOrEqual(3)
    expect(fixOf(smallEstate(), { ruleId: 'address.in-dhcp-pool', subject: { kind: 'address', id: 'gone' } })).toBeUndefined()
    expect(fixOf(smallEstate(), { ruleId: 'no.rule', subject: { kind: 'guest', id: idOf('news') } })).toBeUndefined()
  })
  it('is not made up where none is left: a full subnet', () => {
    const fill = Array.from({ length: 12 }, (): Command => ({
      type: 'address.assign',
      hostId: idOf('gannet'),
      subnetId: idOf('studioNet'),
      kind: 'fixed',
    }))
    const estate = after(...fill, { type: 'pool.add', record: { subnetId: idOf('studioNet'), first: '10.61.40.2', last: '10.61.40.2' } })
    const finding = Findings.of(estate, TODAY)
      .list()
      .find((one) => one.ruleId === 'address.in-dhcp-pool')
    expect(finding?.isFixable).toBe(true)
    expect(finding && fixOf(estate, finding)).toBeUndefined()
  })
})
